package warden.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Option;
import warden.gather.pipeline.PipelineVariables;

/** The pipelines that tell what publishing needs. */
final class NeedOptions {
    @Option(
            names = "--pipeline",
            paramLabel = "FILE",
            description = "A pipeline file that tells what is needed, or a script that one runs; may repeat")
    private List<String> pipelines = new ArrayList<>();

    @Option(
            names = "--set",
            paramLabel = "NAME=VALUE",
            description = "What a variable of the pipelines stands for; may repeat")
    private List<String> set = new ArrayList<>();

    /** Returns the files that were named, in their order. */
    List<String> pipelines() {
        return List.copyOf(pipelines);
    }

    /** Returns what the variables stand for; ends the command where an option is no assignment. */
    PipelineVariables variables() {
        return Variables.of(set);
    }
}
