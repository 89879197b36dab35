package warden.cli;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.CheckCatalogue;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.audit.Check;
import warden.core.cloud.Clouds;
import warden.core.document.DisplayText;
import warden.core.document.Placeholders;
import warden.core.drift.Drift;
import warden.core.drift.DriftFinder;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyedAccount;
import warden.gather.pipeline.PipelineVariables;
import warden.report.DriftJson;
import warden.report.DriftMarkdown;
import warden.report.DriftText;

/** Says what changed in meaning between two surveys. */
final class DriftCommand implements ProgramCommand, OutputOptions.WritesMarkdown {
    private final OutputOptions options = new OutputOptions();
    private String old = "";
    private String now = "";
    private @Nullable String siteFile;
    private @Nullable String oldSiteFile;
    private final AsOf asOf = new AsOf();
    private boolean worseOnly;
    private boolean strict;
    private final World world;

    DriftCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe(
                "Say what changed in meaning between two surveys: who can do what, what visitors get, credentials, names, findings.",
                "Ends with 0 when nothing changed in meaning, and with 1 when something did. --format takes markdown too, for a pull request.");
        options.declare(line);
        line.argument(0, "1", "OLD", "A survey as it was, or a folder of surveys", value -> old = value);
        line.argument(1, "1", "NEW", "A survey as it is, or as it is planned, or a folder", value -> now = value);
        line.text(
                "-c --site-file",
                "FILE",
                "What the owner says about the sites. Default: warden.yaml, if present",
                value -> siteFile = value);
        line.text(
                "--old-site-file",
                "FILE",
                "What the owner said about the sites of OLD. Default: the same",
                value -> oldSiteFile = value);
        asOf.declare(line);
        line.flag(
                "--worse-only",
                "Leave out what got better or narrower, and end with 1 only when something got worse",
                value -> worseOnly = value);
        line.flag(
                "--strict",
                "End with exit code 5 when nothing changed, and something could not be compared",
                value -> strict = value);
    }

    @Override
    public Integer call() {
        List<String> oldFiles = Surveys.files(List.of(old));
        List<String> newFiles = Surveys.files(List.of(now));
        List<String> inputs = new ArrayList<>(oldFiles);
        inputs.addAll(newFiles);
        Surveys.siteFileName(siteFile).ifPresent(inputs::add);
        Optional.ofNullable(oldSiteFile).ifPresent(inputs::add);
        options.keepFrom(inputs);
        if (old.equals("-") && now.equals("-")) {
            throw new InputException(ExitCode.WRONG_COMMAND, "only one of OLD and NEW can be standard input");
        }
        Instant at = asOf.at(world.clock());
        Drift drift;
        Audit before;
        Audit after;
        try (Stages stages = options.stages(world.isTerminal())) {
            Clouds then = Surveys.open(
                    oldFiles, Surveys.siteFile(oldSiteFile == null ? siteFile : oldSiteFile), at, world, options);
            Clouds today = Surveys.open(newFiles, Surveys.siteFile(siteFile), at, world, options);
            options.guard(then, today);
            demandSame(then, today);
            before = audit(then, at, stages);
            after = audit(today, at, stages);
            stages.at("comparing");
            drift = DriftFinder.between(before, after);
        }
        boolean worse = drift.isWorse();
        Drift shown = worseOnly ? drift.worseOnly() : drift;
        List<SurveyHeader> oldHeaders = headers(before);
        List<SurveyHeader> newHeaders = headers(after);
        options.write(
                options.isMarkdown()
                        ? DriftMarkdown.of(shown, after.context().clouds(), oldHeaders, newHeaders, worse)
                        : switch (options.format()) {
                            case json -> DriftJson.of(shown, oldHeaders, newHeaders, worse);
                            case text ->
                                DriftText.of(
                                        shown,
                                        after.context().clouds(),
                                        oldHeaders,
                                        newHeaders,
                                        worse,
                                        options.style(world));
                        });
        if (!shown.isEmpty()) {
            return ExitCode.FOUND.number();
        }
        return strict && !shown.incomparable().isEmpty() ? ExitCode.UNKNOWN.number() : ExitCode.DONE.number();
    }

    private static List<SurveyHeader> headers(Audit audit) {
        return audit.context().accounts().stream()
                .map(account -> account.survey().header())
                .toList();
    }

    /** Two states of one thing are compared; what was never surveyed together has nothing to do with one another. */
    private static void demandSame(Clouds then, Clouds today) {
        Set<String> before = accounts(then);
        Set<String> after = accounts(today);
        boolean isOpen = Stream.concat(before.stream(), after.stream()).anyMatch(Placeholders::isIn);
        boolean sameProviders = providers(then).equals(providers(today));
        if (!sameProviders || (!before.equals(after) && !(isOpen && before.size() == after.size()))) {
            throw new InputException(
                    ExitCode.WRONG_INPUT,
                    "OLD is of " + DisplayText.name(String.join(", ", before)) + " and NEW of "
                            + DisplayText.name(String.join(", ", after))
                            + "; drift compares two states of the same accounts");
        }
    }

    private static Set<String> accounts(Clouds clouds) {
        Set<String> accounts = new TreeSet<>();
        for (SurveyedAccount account : clouds.accounts()) {
            String number = account.survey().header().account();
            accounts.add(account.survey().header().provider() + " " + (number.isEmpty() ? "{unknown}" : number));
        }
        return accounts;
    }

    private static Set<String> providers(Clouds clouds) {
        Set<String> providers = new TreeSet<>();
        clouds.accounts()
                .forEach(account -> providers.add(account.survey().header().provider()));
        return providers;
    }

    private static Audit audit(Clouds clouds, Instant at, Stages stages) {
        AuditContext context = new AuditContext(
                clouds, at, PipelineFiles.read(List.of(), clouds, PipelineVariables.none()), Optional.empty());
        List<Check> checks = CheckCatalogue.asked();
        stages.at("checking", checks.size());
        return Audit.of(context, checks, card -> true, check -> stages.step());
    }
}
