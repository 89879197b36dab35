package warden.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import warden.core.cloud.Clouds;
import warden.core.survey.Survey;
import warden.core.survey.SurveyedAccount;

/** The options that say what a command works on: surveys, and what their owner says about the sites. */
final class SurveyOptions {
    private static final String DEFAULT_SURVEY = "survey.ndjson";

    private List<String> surveys = new ArrayList<>();
    private @Nullable String siteFile;
    private final AsOf asOf = new AsOf();

    /** Declares them. */
    void declare(Options line) {
        line.texts(
                "-s --survey",
                "FILE",
                "Survey to work on, or a folder of surveys; may repeat; - is standard input; .gz is understood."
                        + " Default: " + DEFAULT_SURVEY,
                value -> surveys = value);
        line.text(
                "-c --site-file",
                "FILE",
                "What the owner says about the sites. Default: " + "warden.yaml" + ", if present",
                value -> siteFile = value);
        asOf.declare(line);
    }

    /** Returns the instant as of which to judge. */
    Instant at(Clock clock) {
        return asOf.at(clock);
    }

    /** Reads the surveys and the site file, and finds the sites. */
    Clouds clouds(World world, OutputOptions output) {
        return Surveys.open(surveyFiles(), Surveys.siteFile(siteFile), at(world.clock()), world, output);
    }

    /** Finds the sites of a survey that was made just now. */
    Clouds clouds(Survey survey, World world, OutputOptions output) {
        return Surveys.open(List.of(survey), Surveys.siteFile(siteFile), at(world.clock()), output);
    }

    /** True when a survey was named. */
    boolean isSurveyNamed() {
        return !surveys.isEmpty();
    }

    /** Returns the site file as its owner wrote it. */
    SiteFileText siteFileText() {
        return SiteFileText.read(siteFile);
    }

    /** Returns the names of the files that are read: surveys, those of a folder in alphabetical order, and the site file. */
    List<String> files() {
        List<String> files = new ArrayList<>(surveyFiles());
        Surveys.siteFileName(siteFile).ifPresent(files::add);
        return files;
    }

    /** True when a survey was named, or one lies where it is looked for. */
    boolean hasSurvey() {
        return !surveys.isEmpty() || Files.exists(Path.of(DEFAULT_SURVEY));
    }

    private List<String> surveyFiles() {
        return Surveys.files(surveys.isEmpty() ? List.of(DEFAULT_SURVEY) : surveys);
    }

    /** Says where surveys are old: what was read long ago says little about today. */
    void sayAge(List<SurveyedAccount> accounts, World world, OutputOptions output) {
        Surveys.sayAge(accounts, at(world.clock()), output);
    }
}
