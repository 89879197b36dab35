package warden.cli;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import warden.gather.survey.WholeFile;

/**
 * A place that a result is written to. A regular file is replaced as a whole, or stays as it was: its mode and owner are kept, and a symbolic
 * link is followed. What is no regular file, such as a device or a pipe, is written to as it stands.
 */
final class TargetFile {
    private TargetFile() {}

    /**
     * Writes a text.
     *
     * @param option how the file was named, for the sentence that says that it cannot be written
     * @throws InputException when it cannot be written
     */
    static void write(Path named, String text, String option) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        try {
            Path file = WholeFile.followed(named);
            if (Files.isDirectory(file)) {
                throw new FileSystemException(named.toString(), null, "it is a folder");
            }
            if (Files.exists(file) && !Files.isRegularFile(file)) {
                try (OutputStream out = Files.newOutputStream(file, StandardOpenOption.WRITE)) {
                    out.write(bytes);
                }
                return;
            }
            WholeFile.replace(file, bytes);
        } catch (IOException failed) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    named + ": cannot write there (" + why(failed) + "); name another file with " + option);
        }
    }

    /** Returns what a failure says beside the name of the file. */
    static String why(IOException failed) {
        String reason = failed instanceof FileSystemException system ? system.getReason() : failed.getMessage();
        return reason != null
                ? reason
                : switch (failed.getClass().getSimpleName()) {
                    case "NoSuchFileException" -> "there is no such folder";
                    case "AccessDeniedException" -> "it is not permitted";
                    case "FileAlreadyExistsException" -> "it exists already";
                    default -> failed.getClass().getSimpleName();
                };
    }
}
