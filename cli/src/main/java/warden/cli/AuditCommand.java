package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import warden.core.check.Area;
import warden.core.check.Audit;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.checks.CheckCatalogue;
import warden.core.content.PublishedFolder;
import warden.core.document.Words;
import warden.core.pipeline.Deployments;
import warden.core.site.Estate;
import warden.core.site.PublisherFinder;
import warden.core.site.Publishers;
import warden.gather.content.FolderReader;
import warden.report.AuditJson;
import warden.report.AuditText;
import warden.report.FirstSiteFile;

/** Asks every question of the catalogue and reports what is wrong. */
@Command(name = "audit", description = "Report what is wrong with the surveyed set-up, worst first.")
final class AuditCommand implements Callable<Integer> {
    @Mixin
    private CommonOptions options = new CommonOptions();

    @Option(names = "--site", paramLabel = "NAME", description = "Only this site: its name, or one of its hosts")
    private @Nullable String site;

    @Option(
            names = "--gate",
            paramLabel = "critical|high|medium|low|never",
            description =
                    "End with exit code 1 when a finding is at least that bad. Default: the site file's, else high")
    private @Nullable String gate;

    @Option(names = "--strict", description = "End with exit code 5 when something is unknown")
    private boolean strict;

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

    @Option(
            names = "--full",
            description = "As text: show every finding, unknown and site, however many there are alike")
    private boolean full;

    private final World world;

    AuditCommand(World world) {
        this.world = world;
    }

    @Override
    public Integer call() {
        Predicate<CheckCard> wanted = wanted();
        Optional<String> asked = Optional.ofNullable(gate);
        asked.ifPresent(AuditCommand::limit);
        List<ReportFile> files = reports.stream().map(ReportFile::parse).toList();
        try (Stages stages = options.stages(world.isTerminal())) {
            Estate estate = options.estate(world);
            if (firstSiteFile != null) {
                return writeFirstSiteFile(estate, firstSiteFile);
            }
            return report(estate, wanted, asked, files, stages).number();
        }
    }

    /** Audits and writes the report. */
    private ExitCode report(
            Estate estate, Predicate<CheckCard> wanted, Optional<String> asked, List<ReportFile> files, Stages stages) {
        Optional<PublishedFolder> folder = Optional.ofNullable(publish).map(AuditCommand::folder);
        Audit audit = audit(estate, options.at(world.clock()), wanted, pipelines, folder, stages);
        if (site != null) {
            boolean known = estate.sites().stream()
                    .anyMatch(each -> each.name().equals(site) || each.hosts().contains(site));
            if (!known) {
                throw new InputException(
                        ExitCode.WRONG_COMMAND,
                        "--site: the survey shows no site \"" + site + "\"; known are "
                                + estate.sites().stream()
                                        .map(each -> each.name())
                                        .collect(Collectors.joining(", ")));
            }
            audit = audit.onlySite(site);
        }
        Optional<Severity> limit = limit(asked.or(() -> estate.file().gate()).orElse("high"));
        for (ReportFile file : files) {
            stages.at("writing " + file.file());
            file.write(audit, limit, options);
        }
        stages.close();
        options.write(
                switch (options.format()) {
                    case json -> AuditJson.of(audit);
                    case text -> AuditText.of(audit, options.style(world.isTerminal(), world.noColor()), full);
                });
        boolean found = limit.isPresent()
                && audit.findings().stream()
                        .anyMatch(finding -> finding.severity().isAtLeast(limit.get()));
        return ExitCode.of(found, strict && !audit.unknowns().isEmpty());
    }

    private int writeFirstSiteFile(Estate estate, Path file) {
        if (Files.exists(file)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    file + ": is there already and is not written over; name another file with --first-site-file");
        }
        TargetFile.write(
                file, options.text(FirstSiteFile.of(estate, new PublisherFinder(estate).find())), "--first-site-file");
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

    static Audit audit(Estate estate, Instant at, Predicate<CheckCard> wanted) {
        return audit(estate, at, wanted, List.of(), Optional.empty(), new Stages(text -> {}, false));
    }

    /**
     * Audits.
     *
     * @param files pipeline files, beside those that the surveys hold
     * @param stages is told how far it is
     */
    static Audit audit(
            Estate estate,
            Instant at,
            Predicate<CheckCard> wanted,
            List<String> files,
            Optional<PublishedFolder> folder,
            Stages stages) {
        stages.at("finding who publishes");
        Publishers publishers = new PublisherFinder(estate).findAll();
        Deployments deployments = new Deployments(estate, publishers.known(), PipelineFiles.read(files, estate));
        Setup setup = new Setup(estate, at, publishers, deployments, folder);
        List<Check> checks = CheckCatalogue.all();
        stages.at("checking", checks.size());
        return Audit.of(setup, checks, wanted, check -> stages.step());
    }

    /** Returns the severity that a gate names; absent for "never". */
    private static Optional<Severity> limit(String word) {
        if (word.equals("never")) {
            return Optional.empty();
        }
        Optional<Severity> severity = Severity.named(word);
        if (severity.isEmpty()) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "--gate takes critical, high, medium, low or never, not \"" + word + "\"");
        }
        return severity;
    }

    private Predicate<CheckCard> wanted() {
        Set<String> known =
                CheckCatalogue.all().stream().map(check -> check.card().id()).collect(Collectors.toSet());
        for (Area area : Area.values()) {
            known.add(area.word());
        }
        for (String name : only) {
            if (!known.contains(name)) {
                throw new InputException(
                        ExitCode.WRONG_COMMAND,
                        "--only: there is no check or area \"" + name + "\""
                                + Words.nearest(name, known)
                                        .map(near -> "; perhaps " + near + " was meant")
                                        .orElse("; \"gentle-warden checks\" lists them"));
            }
        }
        return card -> only.isEmpty()
                || only.contains(card.id())
                || only.contains(card.area().word());
    }
}
