package warden.cli;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;
import warden.core.CheckCatalogue;
import warden.core.audit.Area;
import warden.core.audit.Severity;

/** The words that a shell completes after an option: identifiers of checks, formats, severities; sites, which a survey has to tell. */
final class Completions {
    private Completions() {}

    /** Tells the commands which values their options take. */
    static void applyTo(CommandLine program) {
        List<String> checks =
                CheckCatalogue.all().stream().map(check -> check.card().id()).toList();
        List<String> only = new ArrayList<>(checks);
        Arrays.stream(Area.values()).map(Area::word).forEach(only::add);
        List<String> gates = new ArrayList<>(
                Arrays.stream(Severity.values()).map(Severity::word).toList());
        gates.add("never");
        Map<String, List<String>> values = Map.of(
                "--only", only,
                "--gate", gates,
                "--report",
                        Arrays.stream(ReportFile.Format.values())
                                .map(format -> format.name() + "=")
                                .toList());
        program.getSubcommands().values().forEach(command -> {
            CommandSpec spec = command.getCommandSpec();
            for (OptionSpec option : List.copyOf(spec.options())) {
                List<String> known = values.get(option.longestName());
                if (known != null) {
                    HelpLayout.change(spec, option, each -> each.completionCandidates(known));
                }
            }
        });
        CommandSpec checksSpec = program.getSubcommands().get("checks").getCommandSpec();
        for (PositionalParamSpec id : List.copyOf(checksSpec.positionalParameters())) {
            checksSpec.remove(id);
            checksSpec.addPositional(id.toBuilder().completionCandidates(checks).build());
        }
    }
}
