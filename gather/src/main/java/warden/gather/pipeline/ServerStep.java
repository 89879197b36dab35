package warden.gather.pipeline;

import java.util.Optional;
import java.util.function.Function;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;

/**
 * A step of a build server.
 *
 * @param name the step's
 * @param arguments finds what an argument stands for by its name; absent where it is not given
 * @param bindings its other arguments as the file spells them: which credentials are bound to which variables
 * @param here what is in force for the step
 * @param inside what is in force within its block
 * @param line where it stands, counted from 1
 * @param spelled its line
 */
public record ServerStep(
        String name,
        Function<String, Optional<PipelineValue>> arguments,
        String bindings,
        JobContext here,
        JobContext inside,
        int line,
        String spelled) {
    /** Returns an argument; absent when it is not given. */
    public Optional<PipelineValue> find(String argument) {
        return arguments.apply(argument);
    }

    /** Returns an argument; an empty text when it is not given. */
    public PipelineValue value(String argument) {
        return find(argument).orElse(PipelineValue.of(""));
    }

    /** Adds what the step does. */
    public void add(Operation operation) {
        here.add(operation, line, spelled);
    }
}
