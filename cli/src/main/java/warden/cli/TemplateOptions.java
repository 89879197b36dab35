package warden.cli;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.gather.aws.template.TemplateException;
import warden.gather.aws.template.Templates;
import warden.gather.survey.SurveyFiles;

/** The options that say of which descriptions a survey is made. */
final class TemplateOptions {
    private static final String STANDARD_INPUT = "-";

    private List<String> templates = new ArrayList<>();
    private List<String> parameters = new ArrayList<>();
    private @Nullable String beside;
    private @Nullable String account;

    /** Declares them. */
    void declare(Options line) {
        line.texts(
                "--template",
                "FILE",
                "Work on a template, a plan (show -json), a state or a folder of sources instead of a live account; may repeat;"
                        + " - is standard input",
                value -> templates = value);
        line.texts(
                "--parameters",
                "FILE",
                "With --template: the values of its parameters; may repeat",
                value -> parameters = value);
        line.text(
                "--beside",
                "SURVEY",
                "With --template: the account's survey, which tells what the template does not manage",
                value -> beside = value);
        line.text("--account", "NUMBER", "With --template: the account's number", value -> account = value);
    }

    boolean isGiven() {
        if (templates.isEmpty() && (!parameters.isEmpty() || beside != null || account != null)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "--parameters, --beside and --account go with --template FILE");
        }
        return !templates.isEmpty();
    }

    /** True where a description comes by standard input, which can be read once only. */
    boolean isFromStandardInput() {
        return templates.contains(STANDARD_INPUT);
    }

    /** Takes the number of an account where none was given. */
    void takeAccount(String number) {
        account = account == null && beside == null ? number : account;
    }

    /** Takes descriptions that a survey names. */
    void take(Collection<String> names) {
        templates.addAll(names);
    }

    /** Returns the files that are read. */
    List<String> files() {
        List<String> files = new ArrayList<>(templates);
        files.addAll(parameters);
        Optional.ofNullable(beside).ifPresent(files::add);
        return files.stream()
                .filter(name -> name.equals(STANDARD_INPUT) || !SourceFolders.isFolder(name))
                .toList();
    }

    /** Makes the survey. */
    Templates.Made make(World world, Optional<String> region, String takenAt) {
        return make(world, region, takenAt, Map.of());
    }

    /**
     * Makes the survey of descriptions that are not written yet.
     *
     * @param instead texts that take the place of files', by the names that readings give them
     */
    Templates.Made make(World world, Optional<String> region, String takenAt, Map<String, String> instead) {
        if (account != null && !account.matches("[0-9]{12}")) {
            throw new InputException(ExitCode.WRONG_COMMAND, "--account takes twelve digits, not \"" + account + "\"");
        }
        List<Templates.Source> sources = new ArrayList<>();
        for (String name : templates) {
            boolean isFolder = !name.equals(STANDARD_INPUT) && SourceFolders.isFolder(name);
            sources.add(new Templates.Source(
                    name, isFolder ? "" : instead.containsKey(name) ? instead.get(name) : text(name, world), isFolder));
        }
        List<Templates.Source> values = new ArrayList<>();
        for (String name : parameters) {
            values.add(new Templates.Source(name, text(name, world), false));
        }
        try {
            return Templates.make(
                    sources,
                    new Templates.Given(
                            Optional.ofNullable(account),
                            region,
                            values,
                            beside(world),
                            TemplateOptions::neighbour,
                            new SourceFolders(instead)),
                    takenAt);
        } catch (TemplateException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    private Optional<Survey> beside(World world) {
        try {
            return beside == null ? Optional.empty() : Optional.of(SurveyFiles.read(beside, world.standardInput()));
        } catch (SurveyException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    private static String text(String name, World world) {
        try {
            if (name.equals(STANDARD_INPUT)) {
                InputStream in = world.standardInput();
                return new String(in.readAllBytes(), StandardCharsets.UTF_8);
            }
            Path file = Path.of(name);
            if (!Files.isRegularFile(file)) {
                throw new InputException(ExitCode.WRONG_INPUT, name + ": there is no such file");
            }
            return Files.readString(file);
        } catch (CharacterCodingException notText) {
            throw new InputException(ExitCode.WRONG_INPUT, name + ": this is not UTF-8 text");
        } catch (IOException | InvalidPathException unreadable) {
            throw new InputException(ExitCode.WRONG_INPUT, name + ": cannot be read (" + unreadable.getMessage() + ")");
        }
    }

    /** Reads a template that another names; only one that lies in its folder, or below. */
    private static Optional<String> neighbour(String of, String name) {
        try {
            Path folder = Optional.ofNullable(Path.of(of).toAbsolutePath().getParent())
                    .orElseThrow();
            Path file = folder.resolve(name).normalize();
            return file.startsWith(folder) && Files.isRegularFile(file)
                    ? Optional.of(Files.readString(file))
                    : Optional.empty();
        } catch (IOException | InvalidPathException unreadable) {
            return Optional.empty();
        }
    }
}
