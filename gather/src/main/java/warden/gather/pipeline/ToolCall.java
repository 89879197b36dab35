package warden.gather.pipeline;

import java.util.Optional;
import java.util.function.UnaryOperator;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.Operation;

/**
 * A call of a provider's tool in a script.
 *
 * @param job what is in force for the commands that follow: who signs in stays so for them
 * @param here what is in force for this one
 * @param line where it stands, counted from 1
 * @param spelled as the script writes it
 * @param seen an operation as the script's machine sees it, where the tool runs in a container
 */
public record ToolCall(JobContext job, JobContext here, int line, String spelled, UnaryOperator<Operation> seen) {
    static ToolCall of(ShellCommand command, JobContext job, JobContext here) {
        return new ToolCall(job, here, command.line(), command.spelled(), UnaryOperator.identity());
    }

    /** Returns the same call out of a container. */
    ToolCall outOf(ContainerRun run) {
        return new ToolCall(job, here, line, spelled, run::onHost);
    }

    /**
     * Adds a step.
     *
     * @param use by what it works; absent where the file does not tell
     * @param provider the word by which surveys name the provider whose tools it works with; empty where any may be behind them
     */
    public void add(Operation operation, Optional<CredentialUse> use, String provider) {
        here.add(seen.apply(operation), line, spelled, use, provider);
    }
}
