package warden.cli;

import java.io.IOException;
import java.io.OutputStream;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import warden.core.survey.SurveyException;
import warden.gather.live.UnfinishedSurvey;
import warden.gather.survey.WholeFile;

/**
 * The file that a survey is written to. It grows beside its target and takes the target's place when it is whole, so that a survey which is
 * interrupted leaves an earlier one as it was. What is no regular file, such as a pipe, is written to as it stands.
 */
final class GrowingFile {
    private final Path named;
    private final Path target;
    private final Path growing;

    private GrowingFile(Path named, Path target, Path growing) {
        this.named = named;
        this.target = target;
        this.growing = growing;
    }

    /** Returns the file for a target, whose symbolic links are followed. */
    static GrowingFile at(Path named) {
        try {
            Path target = WholeFile.followed(named);
            boolean isPassedThrough = Files.exists(target) && !Files.isRegularFile(target);
            if (Files.isDirectory(target)) {
                throw cannotBeWritten(named, "it is a folder");
            }
            if (Files.exists(target) && !Files.isWritable(target)) {
                throw cannotBeWritten(named, "it is not permitted");
            }
            return new GrowingFile(named, target, isPassedThrough ? target : besides(target));
        } catch (IOException circle) {
            throw cannotBeWritten(named, TargetFile.why(circle));
        }
    }

    /** Returns where a survey grows until it is whole. */
    static Path besides(Path target) {
        return target.resolveSibling(target.getFileName() + ".part");
    }

    /** Returns the file that holds what there is while the survey is under way. */
    Path growing() {
        return growing;
    }

    /** True when there is a survey to go on with: one that was interrupted, or a whole one. */
    boolean begun() {
        return hasContent(growing) || hasContent(target);
    }

    /** True for a regular file that is not empty. */
    static boolean hasContent(Path file) {
        try {
            return Files.isRegularFile(file) && Files.size(file) > 0;
        } catch (IOException unreadable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT, file + ": cannot be read (" + TargetFile.why(unreadable) + ")");
        }
    }

    /** Makes ready to go on: with what was interrupted, else with a copy of the whole survey. */
    UnfinishedSurvey reopened() {
        boolean isCopy = !hasContent(growing);
        try {
            if (isCopy) {
                begin();
                try (OutputStream out = Files.newOutputStream(growing)) {
                    Files.copy(target, out);
                }
            }
            return UnfinishedSurvey.reopen(growing);
        } catch (SurveyException unusable) {
            String said = String.valueOf(unusable.getMessage());
            if (isCopy) {
                drop();
                said = said.replace(growing.toString(), named.toString());
            }
            throw new InputException(ExitCode.WRONG_INPUT, said);
        } catch (IOException unreadable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT, growing + ": cannot be read (" + TargetFile.why(unreadable) + ")");
        }
    }

    /** Opens it, at its end or empty. */
    Writer open(boolean append) {
        try {
            if (!append) {
                begin();
            }
            return Files.newBufferedWriter(
                    growing,
                    StandardCharsets.UTF_8,
                    StandardOpenOption.WRITE,
                    append ? StandardOpenOption.APPEND : StandardOpenOption.TRUNCATE_EXISTING);
        } catch (IOException refused) {
            throw cannotBeWritten(named, "is the folder there, and may you write to it?");
        }
    }

    private void begin() throws IOException {
        if (!growing.equals(target)) {
            Files.deleteIfExists(growing);
            WholeFile.begin(growing, target);
        }
    }

    /** Puts it in the target's place. */
    void finish() throws IOException {
        if (!growing.equals(target)) {
            WholeFile.finish(growing, target);
        }
    }

    /** Leaves nothing behind where nothing was read. */
    void dropIfEmpty() {
        if (Files.isRegularFile(growing) && !growing.equals(target) && !hasContent(growing)) {
            drop();
        }
    }

    private void drop() {
        try {
            Files.deleteIfExists(growing);
        } catch (IOException stays) {
            // It does no harm, and the next survey says that it is there.
        }
    }

    private static InputException cannotBeWritten(Path file, String why) {
        return new InputException(
                ExitCode.WRONG_COMMAND, file + ": cannot be written (" + why + "); name another file with --output");
    }
}
