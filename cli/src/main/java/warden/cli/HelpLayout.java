package warden.cli;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import picocli.CommandLine;
import picocli.CommandLine.Help;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.UsageMessageSpec;

/** Lays out what {@code COMMAND --help} shows: options in groups, examples, and nothing that the command does not use. */
final class HelpLayout {
    private static final String REST = "Others";
    /** The groups in the order in which they are shown; an option stands in the first that names it. */
    private static final Map<String, Set<String>> GROUPS = new LinkedHashMap<>();

    static {
        GROUPS.put(
                "What to look at",
                Set.of(
                        "--survey",
                        "--site-file",
                        "--site",
                        "--only",
                        "--pipeline",
                        "--set",
                        "--publish",
                        "--at",
                        "--all",
                        "--method",
                        "--questions",
                        "--credential",
                        "--activity",
                        "--table",
                        "--from",
                        "--to",
                        "--partitioned-by",
                        "--rehearsal",
                        "--host",
                        "--folder",
                        "--profile",
                        "--region",
                        "--endpoint",
                        "--objects",
                        "--object-details"));
        GROUPS.put("What counts", Set.of("--gate", "--allow-unknown", "--strict", "--since", "--expect"));
        GROUPS.put(
                "What comes out",
                Set.of(
                        "--format",
                        "--output",
                        "--report",
                        "--full",
                        "--show",
                        "--first-site-file",
                        "--policy-out",
                        "--explain",
                        "--color",
                        "--quiet",
                        "--verbose",
                        "--script",
                        "--permissions",
                        "--activity-query",
                        "--markdown",
                        "--save",
                        "--force"));
    }

    private static final Map<String, List<String>> EXAMPLES = Map.of(
            "demo", List.of("gentle-warden demo"),
            "survey",
                    List.of(
                            "gentle-warden survey --profile auditor",
                            "gentle-warden survey --host www.heronferry.example -o www.ndjson"),
            "audit",
                    List.of(
                            "gentle-warden audit",
                            "gentle-warden audit --show 1",
                            "gentle-warden audit --gate critical --report html=warden.html"),
            "trace",
                    List.of(
                            "gentle-warden trace https://www.heronferry.example/",
                            "gentle-warden trace https://www.heronferry.example/ --expect 200"),
            "reach", List.of("gentle-warden reach --site www.heronferry.example"),
            "trim",
                    List.of(
                            "gentle-warden trim --credential www-publisher --policy-out policies",
                            "gentle-warden trim --pipeline publish.yml",
                            "gentle-warden trim --activity-query --table logs.cloudtrail > query.sql"),
            "mend",
                    List.of(
                            "gentle-warden mend -o mended",
                            "gentle-warden mend --site www.heronferry.example -o mended"),
            "checks", List.of("gentle-warden checks open-around-cdn"),
            "stand-in", List.of("gentle-warden stand-in --survey survey.ndjson --port 8443"),
            "completion", List.of("gentle-warden completion > ~/.gentle-warden-completion"));

    /** What is the same in every command, and does nothing in these. */
    private static final Map<String, Set<String>> UNUSED =
            Map.of("survey", Set.of("--format", "--color"), "stand-in", Set.of("--format", "--color"));

    private HelpLayout() {}

    /** Lays out the help of the program's commands. */
    static void applyTo(CommandLine program) {
        program.getSubcommands().forEach((name, command) -> {
            CommandSpec spec = command.getCommandSpec();
            hide(spec, UNUSED.getOrDefault(name, Set.of()));
            if (command.getCommand() instanceof OutputOptions.WritesFolder) {
                change(spec, spec.findOption("--output"), each -> each.paramLabel("DIR")
                        .description("Write the documents and scripts there, into a folder that is missing or empty"));
            }
            spec.usageMessage()
                    .footerHeading("%nExamples:%n")
                    .footer(EXAMPLES.getOrDefault(name, List.of()).stream()
                            .map(example -> "  " + example)
                            .toArray(String[]::new));
            command.getHelpSectionMap().put(UsageMessageSpec.SECTION_KEY_OPTION_LIST, HelpLayout::options);
        });
    }

    private static void hide(CommandSpec spec, Set<String> names) {
        for (OptionSpec option : List.copyOf(spec.options())) {
            if (names.contains(option.longestName())) {
                change(spec, option, each -> each.hidden(true));
            }
        }
    }

    /** Changes an option of a command that is made already. */
    static void change(CommandSpec spec, OptionSpec option, UnaryOperator<OptionSpec.Builder> how) {
        spec.remove(option);
        spec.addOption(how.apply(option.toBuilder()).build());
    }

    private static String options(Help help) {
        Map<String, List<OptionSpec>> groups = new LinkedHashMap<>();
        GROUPS.keySet().forEach(group -> groups.put(group, new ArrayList<>()));
        groups.put(REST, new ArrayList<>());
        help.commandSpec().options().stream()
                .filter(option -> !option.hidden())
                .sorted(Comparator.comparing(OptionSpec::longestName))
                .forEach(option -> groups.get(group(option)).add(option));
        StringBuilder out = new StringBuilder();
        groups.forEach((group, options) -> {
            if (!options.isEmpty()) {
                Help.Layout layout = help.createDefaultLayout();
                layout.addAllOptions(options, help.parameterLabelRenderer());
                out.append(System.lineSeparator())
                        .append(group)
                        .append(':')
                        .append(System.lineSeparator())
                        .append(layout);
            }
        });
        return out.toString();
    }

    private static String group(OptionSpec option) {
        return GROUPS.entrySet().stream()
                .filter(group -> group.getValue().contains(option.longestName()))
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse(REST);
    }
}
