package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import warden.core.document.DisplayText;

/** The files that a command is about to write: none is one that it reads, and none is named twice. */
final class Outputs {
    private record Named(String option, Path file) {}

    private final List<Named> files = new ArrayList<>();

    /** Adds a file that an option names. */
    Outputs and(String option, Path file) {
        files.add(new Named(option, file));
        return this;
    }

    /** Ends the command when a file that is read would be replaced, or one would be written twice. */
    void keepFrom(Collection<String> inputs) {
        for (int i = 0; i < files.size(); i++) {
            Named output = files.get(i);
            for (String input : inputs) {
                if (isSame(output.file(), input)) {
                    throw new InputException(
                            ExitCode.WRONG_COMMAND,
                            output.option() + ": "
                                    + DisplayText.name(output.file().toString())
                                    + " is read by this command, and would be lost; name another file");
                }
            }
            for (Named other : files.subList(0, i)) {
                if (isSame(output.file(), other.file().toString()) && !isPassedThrough(output.file())) {
                    throw new InputException(
                            ExitCode.WRONG_COMMAND,
                            output.option() + ": "
                                    + DisplayText.name(output.file().toString()) + " is named by " + other.option()
                                    + " too; name two files");
                }
            }
        }
    }

    /** A device or a pipe takes one text after the other. */
    private static boolean isPassedThrough(Path file) {
        return Files.exists(file) && !Files.isRegularFile(file);
    }

    private static boolean isSame(Path output, String input) {
        if (input.equals("-")) {
            return false;
        }
        try {
            Path other = Path.of(input);
            if (Files.isDirectory(other)) {
                // Of a folder every file that is there is read.
                return Files.exists(output) && output.toRealPath().startsWith(other.toRealPath());
            }
            return output.toAbsolutePath()
                            .normalize()
                            .equals(other.toAbsolutePath().normalize())
                    || (Files.exists(output) && Files.exists(other) && Files.isSameFile(output, other));
        } catch (InvalidPathException | IOException noFile) {
            // What cannot be looked at is refused where it is opened.
            return false;
        }
    }
}
