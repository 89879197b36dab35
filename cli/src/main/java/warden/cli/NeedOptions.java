package warden.cli;

import java.util.ArrayList;
import java.util.List;
import warden.gather.pipeline.PipelineVariables;

/** The pipelines that tell what publishing needs. */
final class NeedOptions {
    private List<String> pipelines = new ArrayList<>();
    private List<String> set = new ArrayList<>();

    /** Declares them. */
    void declare(Options line) {
        line.texts(
                "--pipeline",
                "FILE",
                "A pipeline file that tells what is needed, or a script that one runs; may repeat",
                value -> pipelines = value);
        line.texts(
                "--set", "NAME=VALUE", "What a variable of the pipelines stands for; may repeat", value -> set = value);
    }

    /** Returns the files that were named, in their order. */
    List<String> pipelines() {
        return List.copyOf(pipelines);
    }

    /** Returns what the variables stand for; ends the command where an option is no assignment. */
    PipelineVariables variables() {
        return Variables.of(set);
    }
}
