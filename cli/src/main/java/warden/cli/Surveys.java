package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
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

/** Surveys and site files, by the names that a command line gives. */
final class Surveys {
    /** Where the site file is looked for when none is named. */
    static final String DEFAULT_SITE_FILE = "warden.yaml";

    private Surveys() {}

    /** Reads surveys, and finds the sites. */
    static Clouds open(List<String> files, SiteFile siteFile, Instant at, World world, OutputOptions output) {
        Map<String, Survey> surveys = new LinkedHashMap<>();
        for (String name : files) {
            Survey survey = isMissing(name) ? neverTaken(name) : read(name, world);
            String account = survey.header().account();
            Survey other = surveys.putIfAbsent(account, survey);
            if (other != null) {
                throw new InputException(
                        ExitCode.WRONG_INPUT,
                        name + ": this is of account " + DisplayText.name(account) + ", as is "
                                + other.header().file() + "; give one survey of each account");
            }
        }
        return open(List.copyOf(surveys.values()), siteFile, at, output);
    }

    /** Finds the sites of surveys that were read. */
    static Clouds open(List<Survey> surveys, SiteFile siteFile, Instant at, OutputOptions output) {
        Clouds clouds = Providers.open(surveys, siteFile, Optional.of(at));
        output.guard(clouds);
        long missing = surveys.stream()
                .filter(survey -> isMissing(survey.header().file()))
                .count();
        if (missing > 0) {
            output.say("gentle-warden: " + missing + " of " + surveys.size()
                    + " accounts are not surveyed yet, and nothing is known of them; survey --resume goes on");
        }
        clouds.all().forEach(cloud -> cloud.oddities().forEach(odd -> output.say("gentle-warden: " + odd)));
        return clouds;
    }

    /** Returns the names of the files that are read: surveys, those of a folder in alphabetical order. */
    static List<String> files(List<String> names) {
        List<String> files = new ArrayList<>();
        for (String name : names) {
            if (isFolder(name)) {
                files.addAll(inFolder(name));
            } else {
                files.add(name);
            }
        }
        return files;
    }

    /** Returns the site file that is read; absent where none is named, and none lies here. */
    static Optional<String> siteFileName(@Nullable String named) {
        return Optional.ofNullable(named)
                .or(() -> Files.isRegularFile(Path.of(DEFAULT_SITE_FILE))
                        ? Optional.of(DEFAULT_SITE_FILE)
                        : Optional.empty());
    }

    /** Stands at the end of the name of a survey that its folder lists, and that is not there. */
    private static final String NEVER_TAKEN = ".ndjson (not taken)";

    private static boolean isMissing(String name) {
        return name.endsWith(NEVER_TAKEN);
    }

    /** An account of which nothing was read is not one that has nothing. */
    private static Survey neverTaken(String name) {
        String account = String.valueOf(Path.of(name).getFileName()).replace(NEVER_TAKEN, "");
        return new Survey.Collector(Providers.named("aws").orElseThrow().aspects())
                .toSurvey(new SurveyHeader(name, "aws", account, "", ""));
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
                    .collect(Collectors.toCollection(ArrayList::new));
            AccountsFolder.missing(Path.of(name))
                    .forEach(account -> files.add(
                            Path.of(name).resolve(account + NEVER_TAKEN).toString()));
            files.sort(null);
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
    static void sayAge(List<SurveyedAccount> accounts, Instant at, OutputOptions output) {
        for (SurveyedAccount account : accounts) {
            SurveyHeader header = account.survey().header();
            Age.of(header, at)
                    .filter(Age::isStale)
                    .ifPresent(age -> output.say(
                            "gentle-warden: " + DisplayText.name(header.file()) + " was surveyed " + age.spelled()));
        }
    }

    private static Survey read(String name, World world) {
        try {
            return SurveyFiles.read(name, world.standardInput());
        } catch (SurveyException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    /** Reads what the owner says about the sites; nothing where no file is named and none lies here. */
    static SiteFile siteFile(@Nullable String named) {
        try {
            Optional<String> name = siteFileName(named);
            SiteFile file =
                    name.isPresent() ? SiteFileReader.read(name.get(), CheckCatalogue.words()) : SiteFile.empty();
            return file.naming(CheckCatalogue::idOf);
        } catch (SiteFileException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }
}
