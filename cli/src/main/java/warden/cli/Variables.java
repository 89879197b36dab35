package warden.cli;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import warden.core.document.DisplayText;
import warden.core.document.Words;
import warden.gather.pipeline.PipelineVariables;

/** What {@code --set NAME=VALUE} tells. */
final class Variables {
    private static final Pattern ASSIGNMENT = Pattern.compile("([A-Za-z_][A-Za-z0-9_.-]*)=(.*)", Pattern.DOTALL);

    private Variables() {}

    /** Reads the options; ends the command when one is no assignment, or a name is told twice. */
    static PipelineVariables of(List<String> options) {
        Map<String, String> told = new LinkedHashMap<>();
        for (String option : options) {
            Matcher matcher = ASSIGNMENT.matcher(option);
            if (!matcher.matches()) {
                throw new InputException(
                        ExitCode.WRONG_COMMAND,
                        "--set takes NAME=VALUE, such as --set BUCKET=www.heronferry.example, not \"" + option + "\"");
            }
            String other = told.put(matcher.group(1), matcher.group(2));
            if (other != null && !other.equals(matcher.group(2))) {
                throw new InputException(
                        ExitCode.WRONG_COMMAND, "--set tells two values of " + matcher.group(1) + "; leave one out");
            }
        }
        return new PipelineVariables(told);
    }

    /** Ends the command when a name was told that no pipeline uses: what rests on the right one would stay unknown. */
    static void demandUse(PipelineVariables variables) {
        variables.unused().stream().findFirst().ifPresent(name -> {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--set: no pipeline has a variable " + DisplayText.name(name) + " that it does not set itself"
                            + Words.perhaps(name, shortNames(variables))
                                    .orElse(
                                            variables.open().isEmpty()
                                                    ? ""
                                                    : "; not set are "
                                                            + DisplayText.name(String.join(", ", variables.open()))));
        });
    }

    private static List<String> shortNames(PipelineVariables variables) {
        return variables.open().stream()
                .flatMap(name -> Stream.of(name, name.substring(name.lastIndexOf('.') + 1)))
                .toList();
    }
}
