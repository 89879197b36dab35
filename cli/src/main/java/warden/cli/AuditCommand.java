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
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
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
final class AuditCommand implements ProgramCommand {
    private final OutputOptions options = new OutputOptions();
    private final SurveyOptions input = new SurveyOptions();
    private @Nullable String site;
    private @Nullable String gate;
    private boolean allowUnknown;
    private boolean strict;
    private @Nullable String since;
    private @Nullable Integer show;
    private List<String> only = new ArrayList<>();
    private List<String> pipelines = new ArrayList<>();
    private @Nullable String publish;
    private List<String> reports = new ArrayList<>();
    private @Nullable Path firstSiteFile;
    private boolean full;
    private List<String> set = new ArrayList<>();
    private final World world;

    AuditCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe("Report what is wrong with the surveyed set-up, worst first.");
        options.declare(line);
        input.declare(line);
        line.text(
                "--site",
                "NAME",
                "Only this site: its name, one of its hosts, or the first part of it where only one has it",
                value -> site = value);
        line.text(
                "--gate",
                "critical|high|medium|low|never",
                "End with exit code 1 when a finding is at least that bad, and with 5 when a question could not be"
                        + " answered whose answer may be. Default: the site file's, else high",
                value -> gate = value);
        line.flag("--allow-unknown", "Let questions pass that could not be answered", value -> allowUnknown = value);
        line.flag("--strict", "End with exit code 5 when anything is unknown", value -> strict = value);
        line.text(
                "--since",
                "REPORT.json",
                "Let the gate count only findings that this earlier JSON report does not have",
                value -> since = value);
        line.number("--show", "N", "Show one finding in full, by its number in this run", value -> show = value);
        line.texts("--only", "CHECK|AREA", "Only this check or area; may repeat", value -> only = value);
        line.texts(
                "--pipeline",
                "FILE",
                "A pipeline file to audit too, or a script that one runs; may repeat",
                value -> pipelines = value);
        line.text("--publish", "DIR", "A folder that is about to be published, to audit too", value -> publish = value);
        line.texts(
                "--report",
                "FORMAT=FILE",
                "Write a report too: json, sarif, junit, markdown or html; may repeat",
                value -> reports = value);
        line.path(
                "--first-site-file",
                "FILE",
                "Write a first site file from what the survey shows, to be corrected by hand, and end",
                value -> firstSiteFile = value);
        line.flag("--full", "On a terminal: the whole audit, not its first screen", value -> full = value);
        line.texts(
                "--set", "NAME=VALUE", "What a variable of the pipelines stands for; may repeat", value -> set = value);
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
