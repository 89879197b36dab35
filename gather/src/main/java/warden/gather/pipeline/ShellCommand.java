package warden.gather.pipeline;

import java.util.List;
import java.util.Map;
import warden.core.pipeline.PipelineValue;

/**
 * One simple command of a shell script, its variables put in.
 *
 * @param line where it begins, counted from 1
 * @param spelled as the script writes it, on one line
 * @param assignments what is set for it, or by it when it has no words
 * @param words the command's name and arguments, without redirections
 */
record ShellCommand(int line, String spelled, Map<String, PipelineValue> assignments, List<PipelineValue> words) {
    ShellCommand {
        assignments = Map.copyOf(assignments);
        words = List.copyOf(words);
    }
}
