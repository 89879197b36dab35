package warden.cli;

import java.io.InputStream;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;
import warden.core.account.Account;
import warden.core.checks.CheckCatalogue;
import warden.core.document.Shown;
import warden.core.secret.OutputGate;
import warden.core.site.Estate;
import warden.core.site.SharedSecrets;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.StatedSite;
import warden.core.survey.Need;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.gather.site.SiteFileException;
import warden.gather.site.SiteFileReader;
import warden.gather.survey.SurveyFiles;
import warden.report.Style;

/** The options that mean the same in every command that works on a survey. */
final class CommonOptions {
    private static final String DEFAULT_SURVEY = "survey.ndjson";
    private static final String DEFAULT_SITE_FILE = "warden.yaml";

    enum Format {
        text,
        json
    }

    enum Color {
        auto,
        always,
        never
    }

    @Spec(Spec.Target.MIXEE)
    private @Nullable CommandSpec spec;

    @Option(
            names = {"-s", "--survey"},
            paramLabel = "FILE",
            description =
                    "Survey to work on; may repeat; - is standard input; .gz is understood. Default: " + DEFAULT_SURVEY)
    private List<String> surveys = new ArrayList<>();

    @Option(
            names = {"-c", "--site-file"},
            paramLabel = "FILE",
            description = "What the owner says about the sites. Default: " + DEFAULT_SITE_FILE + ", if present")
    private @Nullable String siteFile;

    @Option(names = "--format", paramLabel = "text|json", description = "Format of standard output. Default: text")
    private Format format = Format.text;

    @Option(
            names = {"-o", "--output"},
            paramLabel = "FILE",
            description = "Write there instead of standard output")
    private @Nullable Path output;

    @Option(
            names = "--at",
            paramLabel = "INSTANT",
            description =
                    "Judge ages and expiries as of then: a date, or an instant such as 2026-11-24T08:00:00Z. Default: now")
    private @Nullable String at;

    @Option(names = "--color", paramLabel = "auto|always|never", description = "Colours. Default: auto")
    private Color color = Color.auto;

    @Option(
            names = {"-q", "--quiet"},
            description = "Say less on standard error")
    private boolean quiet;

    @Option(
            names = {"-v", "--verbose"},
            description = "Say more on standard error, stack traces included")
    private boolean verbose;

    /** Knows, as soon as the surveys are read, which of their values are not to be said. */
    private OutputGate gate = OutputGate.byForm();

    Format format() {
        return format;
    }

    boolean isVerbose() {
        return verbose;
    }

    /** Says something about the run on standard error, unless told to be quiet. */
    void say(String message) {
        if (!quiet) {
            err().println(Shown.clean(gate.masked(message)));
        }
    }

    /** Says, where the result has no place for it, which users and roles are missing from it. */
    void sayUnread(List<Need> unread) {
        if (!unread.isEmpty()) {
            say("gentle-warden: users and roles are missing from this, since they were not read: "
                    + Need.spelled(unread) + " (" + unread.get(0).permission() + ")");
        }
    }

    /** Puts text on standard error as it is, without a line end, unless told to be quiet. */
    void draw(String text) {
        if (!quiet) {
            err().print(text);
            err().flush();
        }
    }

    /** Begins to show what is being done, if it lasts and there is a terminal to show it on. */
    Stages stages(boolean isTerminal) {
        Stages stages = new Stages(this::draw, isTerminal && !quiet);
        stages.at("reading the survey");
        return stages;
    }

    private PrintWriter err() {
        return spec().commandLine().getErr();
    }

    private CommandSpec spec() {
        if (spec == null) {
            throw new IllegalStateException("options are used by a command");
        }
        return spec;
    }

    /** Returns the instant as of which to judge. */
    Instant at(Clock clock) {
        if (at == null) {
            return clock.instant().truncatedTo(ChronoUnit.SECONDS);
        }
        try {
            return at.indexOf('T') > 0
                    ? OffsetDateTime.parse(at).toInstant()
                    : LocalDate.parse(at).atStartOfDay().toInstant(ZoneOffset.UTC);
        } catch (DateTimeException strange) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--at takes a date such as 2026-11-24 or an instant such as 2026-11-24T08:00:00Z, not \"" + at
                            + "\"");
        }
    }

    /** Returns whether, and how, to colour standard output. */
    Style style(boolean isTerminal, boolean noColor) {
        return new Style(
                switch (color) {
                    case always -> true;
                    case never -> false;
                    case auto -> isTerminal && !noColor && output == null;
                });
    }

    /** Returns the survey that was named; absent when none was. */
    Optional<String> onlySurvey() {
        if (surveys.size() > 1) {
            throw new InputException(ExitCode.WRONG_COMMAND, "--survey may stand only once here");
        }
        return surveys.stream().findFirst();
    }

    /** Reads the surveys and the site file, and finds the sites. */
    Estate estate(World world) {
        InputStream standardInput = world.standardInput();
        SiteFile file = siteFile();
        List<String> names = surveys.isEmpty() ? List.of(DEFAULT_SURVEY) : surveys;
        Map<String, Account> accounts = new LinkedHashMap<>();
        for (String name : names) {
            Account account = account(read(name, standardInput));
            Account other = accounts.putIfAbsent(account.number(), account);
            if (other != null) {
                throw new InputException(
                        ExitCode.WRONG_INPUT,
                        name + ": this is of account " + Shown.name(account.number()) + ", as is "
                                + other.survey().header().file() + "; give one survey of each account");
            }
        }
        Estate estate = new Estate(List.copyOf(accounts.values()), file, Optional.of(at(world.clock())));
        guard(estate);
        sayMissingBuckets(estate);
        return estate;
    }

    /** Keeps back what these surveys hold that is not to be said. */
    void guard(Estate estate) {
        gate = new OutputGate(SharedSecrets.of(estate));
    }

    private static Survey read(String name, InputStream standardInput) {
        try {
            return SurveyFiles.read(name, standardInput);
        } catch (SurveyException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    /** A bucket that is stated and is nowhere is most likely misspelt; the site is then judged without it. */
    private void sayMissingBuckets(Estate estate) {
        boolean allListed = estate.accounts().stream()
                .allMatch(account -> account.listedBuckets().found().isPresent());
        for (StatedSite site : estate.file().sites()) {
            site.bucket()
                    .filter(bucket -> allListed && estate.ownerOf(bucket).isEmpty())
                    .ifPresent(bucket -> say("gentle-warden: the site file's bucket \"" + Shown.name(bucket)
                            + "\" of the site \"" + Shown.name(site.name())
                            + "\" is in none of the surveyed accounts; the site is judged without it"));
        }
    }

    static Account account(Survey survey) {
        if (!survey.header().provider().equals("aws")) {
            throw new InputException(
                    ExitCode.WRONG_INPUT,
                    survey.header().file() + ":1: surveys of the provider "
                            + survey.header().provider() + " can be read, but not yet audited; use a survey of aws");
        }
        return new Account(survey);
    }

    private SiteFile siteFile() {
        Set<String> checks =
                CheckCatalogue.all().stream().map(check -> check.card().id()).collect(Collectors.toSet());
        try {
            if (siteFile != null) {
                return SiteFileReader.read(siteFile, checks);
            }
            return Files.isRegularFile(Path.of(DEFAULT_SITE_FILE))
                    ? SiteFileReader.read(DEFAULT_SITE_FILE, checks)
                    : SiteFile.empty();
        } catch (SiteFileException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    /** Writes the result: to standard output, or whole or not at all to the file that was named. */
    void write(String text) {
        String shown = format == Format.json ? json(text) : text(text);
        if (output == null) {
            PrintWriter out = spec().commandLine().getOut();
            out.print(shown);
            out.flush();
            return;
        }
        TargetFile.write(output, shown, "--output");
    }

    /** Returns what may be said of a text for people, be it plain, Markdown, HTML or XML. */
    String text(String text) {
        return Shown.lines(gate.masked(text), color != Color.never);
    }

    /** Returns what may be said of a JSON document, or of one line of JSON. */
    String json(String document) {
        return Shown.json(gate.masked(document));
    }

    /** Returns the file that the result goes to; null for standard output. */
    @Nullable
    Path output() {
        return output;
    }
}
