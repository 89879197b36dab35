package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import warden.core.CheckCatalogue;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.audit.Check;
import warden.core.audit.CheckCard;
import warden.core.audit.Comparison;
import warden.core.audit.EarlierReport;
import warden.core.audit.Gate;
import warden.core.audit.Judgement;
import warden.core.audit.Severity;
import warden.core.cloud.Clouds;
import warden.core.content.PublishedFolder;
import warden.core.document.Words;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.gather.content.FolderReader;
import warden.gather.pipeline.PipelineVariables;
import warden.report.AuditJson;
import warden.report.AuditScreen;
import warden.report.AuditText;
import warden.report.FirstSiteFile;

/** Asks every question of the catalogue and reports what is wrong. */
@Command(
        name = "audit",
        addMethodSubcommands = false,
        description = "Report what is wrong with the surveyed set-up, worst first.")
final class AuditCommand implements Callable<Integer> {
    @Mixin
    private OutputOptions options = new OutputOptions();

    @Mixin
    private SurveyOptions input = new SurveyOptions();

    @Option(
            names = "--site",
            paramLabel = "NAME",
            description = "Only this site: its name, one of its hosts, or the first part of it where only one has it")
    private @Nullable String site;

    @Option(
            names = "--gate",
            paramLabel = "critical|high|medium|low|never",
            description =
                    "End with exit code 1 when a finding is at least that bad, and with 5 when a question could not be"
                            + " answered whose answer may be. Default: the site file's, else high")
    private @Nullable String gate;

    @Option(names = "--allow-unknown", description = "Let questions pass that could not be answered")
    private boolean allowUnknown;

    @Option(names = "--strict", description = "End with exit code 5 when anything is unknown")
    private boolean strict;

    @Option(
            names = "--since",
            paramLabel = "REPORT.json",
            description = "Let the gate count only findings that this earlier JSON report does not have")
    private @Nullable String since;

    @Option(names = "--show", paramLabel = "N", description = "Show one finding in full, by its number in this run")
    private @Nullable Integer show;

    @Option(names = "--only", paramLabel = "CHECK|AREA", description = "Only this check or area; may repeat")
    private List<String> only = new ArrayList<>();

    @Option(
            names = "--pipeline",
            paramLabel = "FILE",
            description = "A pipeline file to audit too, or a script that one runs; may repeat")
    private List<String> pipelines = new ArrayList<>();

    @Option(
            names = "--publish",
            paramLabel = "DIR",
            description = "A folder that is about to be published, to audit too")
    private @Nullable String publish;

    @Option(
            names = "--report",
            paramLabel = "FORMAT=FILE",
            description = "Write a report too: json, sarif, junit, markdown or html; may repeat")
    private List<String> reports = new ArrayList<>();

    @Option(
            names = "--first-site-file",
            paramLabel = "FILE",
            description = "Write a first site file from what the survey shows, to be corrected by hand, and end")
    private @Nullable Path firstSiteFile;

    @Option(names = "--full", description = "On a terminal: the whole audit, not its first screen")
    private boolean full;

    @Option(
            names = "--set",
            paramLabel = "NAME=VALUE",
            description = "What a variable of the pipelines stands for; may repeat")
    private List<String> set = new ArrayList<>();

    private final World world;

    AuditCommand(World world) {
        this.world = world;
    }

    @Override
    public Integer call() {
        Predicate<CheckCard> wanted = CheckNames.wanted(only);
        Optional<String> asked = Optional.ofNullable(gate);
        asked.ifPresent(AuditCommand::limit);
        if (strict && allowUnknown) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "--strict and --allow-unknown contradict each other; leave one out");
        }
        if (show != null && show < 1) {
            throw new InputException(ExitCode.WRONG_COMMAND, "--show takes the number of a finding, from 1 on");
        }
        PipelineVariables variables = Variables.of(set);
        List<ReportFile> files = reports.stream().map(ReportFile::parse).toList();
        outputs(files).keepFrom(inputs());
        Optional<EarlierReport> earlier = Optional.ofNullable(since).map(AuditCommand::earlier);
        try (Stages stages = options.stages(world.isTerminal())) {
            Clouds clouds = input.clouds(world, options);
            if (firstSiteFile != null) {
                return writeFirstSiteFile(clouds, firstSiteFile);
            }
            return report(clouds, wanted, asked, files, earlier, variables, stages)
                    .number();
        }
    }

    private Outputs outputs(List<ReportFile> files) {
        Outputs outputs = new Outputs();
        Optional.ofNullable(options.output()).ifPresent(file -> outputs.and("--output", file));
        files.forEach(report -> outputs.and("--report", report.file()));
        Optional.ofNullable(firstSiteFile).ifPresent(file -> outputs.and("--first-site-file", file));
        return outputs;
    }

    private List<String> inputs() {
        List<String> inputs = new ArrayList<>(input.files());
        inputs.addAll(pipelines);
        Optional.ofNullable(since).ifPresent(inputs::add);
        Optional.ofNullable(publish).ifPresent(inputs::add);
        return inputs;
    }

    private static EarlierReport earlier(String file) {
        try {
            return EarlierReport.parse(file, Files.readString(Path.of(file)));
        } catch (EarlierReport.UnusableReportException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        } catch (IOException | InvalidPathException unreadable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT,
                    file + ": this report cannot be read; --since takes the JSON report of an earlier audit");
        }
    }

    /** Audits and writes the report. */
    private ExitCode report(
            Clouds clouds,
            Predicate<CheckCard> wanted,
            Optional<String> asked,
            List<ReportFile> files,
            Optional<EarlierReport> earlier,
            PipelineVariables variables,
            Stages stages) {
        Optional<PublishedFolder> folder = Optional.ofNullable(publish).map(AuditCommand::folder);
        List<Site> sites = site == null ? clouds.sites() : SiteNames.demand(clouds, site);
        Audit audit = audit(clouds, input.at(world.clock()), wanted, pipelines, variables, folder, stages);
        if (site != null) {
            audit = audit.onlySites(sites);
        }
        Judgement judgement =
                judgement(audit, asked.or(() -> clouds.file().gate()).orElse("high"), earlier);
        for (ReportFile file : files) {
            stages.at("writing " + file.file());
            file.write(audit, judgement, options);
        }
        stages.close();
        options.write(shown(audit, judgement));
        return ExitCode.of(judgement);
    }

    private Judgement judgement(Audit audit, String limit, Optional<EarlierReport> earlier) {
        Gate.Unknowns unknowns =
                strict ? Gate.Unknowns.NONE_ALLOWED : allowUnknown ? Gate.Unknowns.ALLOWED : Gate.Unknowns.AT_THE_LIMIT;
        try {
            Optional<Comparison> comparison =
                    earlier.isPresent() ? Optional.of(earlier.get().with(audit)) : Optional.empty();
            return new Gate(limit(limit), unknowns).judge(audit, comparison);
        } catch (EarlierReport.UnusableReportException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    private String shown(Audit audit, Judgement judgement) {
        if (show != null && show > audit.findings().size()) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--show: this audit has " + audit.findings().size()
                            + " findings; their numbers stand at the beginning of their lines");
        }
        boolean json = options.format() == OutputOptions.Format.json;
        if (json && show != null) {
            throw new InputException(ExitCode.WRONG_COMMAND, "--show is for text; the JSON has every finding in full");
        }
        if (json) {
            input.sayAge(audit.context().accounts(), world, options);
            return AuditJson.of(audit, judgement);
        }
        if (show != null) {
            return AuditText.finding(audit, show, options.style(world));
        }
        return options.isOnTerminal(world) && !full
                ? AuditScreen.of(audit, judgement, options.style(world), Optional.empty(), 0)
                : AuditText.of(audit, judgement, options.style(world));
    }

    private int writeFirstSiteFile(Clouds clouds, Path file) {
        if (Files.exists(file)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    file + ": is there already and is not written over; name another file with --first-site-file");
        }
        TargetFile.write(file, options.text(FirstSiteFile.of(clouds, publishers(clouds))), "--first-site-file");
        options.say("Wrote " + file + ": correct what was found to what is meant, then run the audit with it.");
        return ExitCode.DONE.number();
    }

    private static PublishedFolder folder(String name) {
        try {
            return FolderReader.read(name);
        } catch (IOException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    static Audit audit(Clouds clouds, Instant at, Predicate<CheckCard> wanted) {
        return audit(
                clouds,
                at,
                wanted,
                List.of(),
                PipelineVariables.none(),
                Optional.empty(),
                new Stages(text -> {}, false));
    }

    /**
     * Audits.
     *
     * @param files pipeline files, beside those that the surveys hold
     * @param variables what the pipelines' variables stand for
     * @param stages is told how far it is
     */
    static Audit audit(
            Clouds clouds,
            Instant at,
            Predicate<CheckCard> wanted,
            List<String> files,
            PipelineVariables variables,
            Optional<PublishedFolder> folder,
            Stages stages) {
        stages.at("finding who publishes");
        AuditContext context = new AuditContext(clouds, at, PipelineFiles.read(files, clouds, variables), folder);
        List<Check> checks = CheckCatalogue.asked();
        stages.at("checking", checks.size());
        return Audit.of(context, checks, wanted, check -> stages.step());
    }

    private static List<Publisher> publishers(Clouds clouds) {
        return clouds.all().stream()
                .<Publisher>flatMap(cloud -> cloud.publishing(List.of()).publishers().stream())
                .toList();
    }

    /** Returns the severity that a gate names; absent for "never". */
    static Optional<Severity> limit(String word) {
        if (word.equals("never")) {
            return Optional.empty();
        }
        Optional<Severity> severity = Severity.named(word);
        if (severity.isEmpty()) {
            List<String> known = new ArrayList<>(
                    Arrays.stream(Severity.values()).map(Severity::word).toList());
            known.add("never");
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--gate takes critical, high, medium, low or never, not \"" + word + "\""
                            + Words.perhaps(word, known).orElse(""));
        }
        return severity;
    }
}
