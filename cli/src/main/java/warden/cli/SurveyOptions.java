package warden.cli;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import warden.core.CheckCatalogue;
import warden.core.Providers;
import warden.core.cloud.Clouds;
import warden.core.document.DisplayText;
import warden.core.site.SiteFile;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyedAccount;
import warden.gather.site.SiteFileException;
import warden.gather.site.SiteFileReader;
import warden.gather.survey.SurveyFiles;
import warden.report.Age;

/** The options that say what a command works on: surveys, and what their owner says about the sites. */
final class SurveyOptions {
    private static final String DEFAULT_SURVEY = "survey.ndjson";
    private static final String DEFAULT_SITE_FILE = "warden.yaml";

    @Option(
            names = {"-s", "--survey"},
            paramLabel = "FILE",
            description =
                    "Survey to work on, or a folder of surveys; may repeat; - is standard input; .gz is understood."
                            + " Default: " + DEFAULT_SURVEY)
    private List<String> surveys = new ArrayList<>();

    @Option(
            names = {"-c", "--site-file"},
            paramLabel = "FILE",
            description = "What the owner says about the sites. Default: " + DEFAULT_SITE_FILE + ", if present")
    private @Nullable String siteFile;

    @Mixin
    private AsOf asOf = new AsOf();

    /** Returns the instant as of which to judge. */
    Instant at(Clock clock) {
        return asOf.at(clock);
    }

    /** Reads the surveys and the site file, and finds the sites. */
    Clouds clouds(World world, OutputOptions output) {
        InputStream standardInput = world.standardInput();
        SiteFile file = siteFile();
        Map<String, Survey> surveys = new LinkedHashMap<>();
        for (String name : surveyFiles()) {
            Survey survey = read(name, standardInput);
            String account = survey.header().account();
            Survey other = surveys.putIfAbsent(account, survey);
            if (other != null) {
                throw new InputException(
                        ExitCode.WRONG_INPUT,
                        name + ": this is of account " + DisplayText.name(account) + ", as is "
                                + other.header().file() + "; give one survey of each account");
            }
        }
        Clouds clouds = Providers.open(List.copyOf(surveys.values()), file, Optional.of(at(world.clock())));
        output.guard(clouds);
        clouds.all().forEach(cloud -> cloud.oddities().forEach(odd -> output.say("gentle-warden: " + odd)));
        return clouds;
    }

    /** Returns the names of the files that are read: surveys, those of a folder in alphabetical order, and the site file. */
    List<String> files() {
        List<String> files = new ArrayList<>(surveyFiles());
        if (siteFile != null) {
            files.add(siteFile);
        } else if (Files.isRegularFile(Path.of(DEFAULT_SITE_FILE))) {
            files.add(DEFAULT_SITE_FILE);
        }
        return files;
    }

    /** True when a survey was named, or one lies where it is looked for. */
    boolean hasSurvey() {
        return !surveys.isEmpty() || Files.exists(Path.of(DEFAULT_SURVEY));
    }

    private List<String> surveyFiles() {
        List<String> files = new ArrayList<>();
        for (String name : surveys.isEmpty() ? List.of(DEFAULT_SURVEY) : surveys) {
            if (isFolder(name)) {
                files.addAll(inFolder(name));
            } else {
                files.add(name);
            }
        }
        return files;
    }

    private static boolean isFolder(String name) {
        try {
            return !name.equals("-") && Files.isDirectory(Path.of(name));
        } catch (InvalidPathException noPath) {
            return false;
        }
    }

    private static List<String> inFolder(String name) {
        try (Stream<Path> entries = Files.list(Path.of(name))) {
            List<String> files = entries.filter(Files::isRegularFile)
                    .map(Path::toString)
                    .filter(file -> file.endsWith(".ndjson") || file.endsWith(".ndjson.gz"))
                    .sorted()
                    .toList();
            if (files.isEmpty()) {
                throw new InputException(
                        ExitCode.WRONG_INPUT,
                        name + ": this folder holds no survey; surveys end in .ndjson or .ndjson.gz");
            }
            return files;
        } catch (IOException unreadable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT, name + ": this folder cannot be read (" + TargetFile.why(unreadable) + ")");
        }
    }

    /** Says where surveys are old: what was read long ago says little about today. */
    void sayAge(List<SurveyedAccount> accounts, World world, OutputOptions output) {
        Instant at = at(world.clock());
        for (SurveyedAccount account : accounts) {
            SurveyHeader header = account.survey().header();
            Age.of(header, at)
                    .filter(Age::isStale)
                    .ifPresent(age -> output.say(
                            "gentle-warden: " + DisplayText.name(header.file()) + " was surveyed " + age.spelled()));
        }
    }

    private static Survey read(String name, InputStream standardInput) {
        try {
            return SurveyFiles.read(name, standardInput);
        } catch (SurveyException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    private SiteFile siteFile() {
        try {
            SiteFile file = siteFile != null
                    ? SiteFileReader.read(siteFile, CheckCatalogue.words())
                    : Files.isRegularFile(Path.of(DEFAULT_SITE_FILE))
                            ? SiteFileReader.read(DEFAULT_SITE_FILE, CheckCatalogue.words())
                            : SiteFile.empty();
            return file.naming(CheckCatalogue::idOf);
        } catch (SiteFileException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }
}
