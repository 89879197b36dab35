package warden.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFileAttributeView;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Comparator;
import java.util.Map;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** A folder that a result is written to: missing before, or empty; afterwards whole, or as it was. Only its owner may read what is in it. */
final class TargetFolder {
    private TargetFolder() {}

    /** Ends the command where a folder holds something, or cannot be made. */
    static void demandEmpty(Path folder, String option) {
        if (!Files.exists(folder)) {
            return;
        }
        if (!Files.isDirectory(folder)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, folder + ": is a file, not a folder; name another folder with " + option);
        }
        try (Stream<Path> entries = Files.list(folder)) {
            if (entries.findAny().isPresent()) {
                throw new InputException(
                        ExitCode.WRONG_COMMAND,
                        folder + ": holds something already, which is not written over; name another folder with "
                                + option);
            }
        } catch (IOException unreadable) {
            throw cannot(folder, unreadable, option);
        }
    }

    /**
     * Writes the folder.
     *
     * @param files texts by their paths within it, with slashes
     * @param isScript tells which of them are to be run
     * @param option how the folder was named, for the sentence that says that it cannot be written
     * @throws InputException when it cannot be written; nothing is left then
     */
    static void write(Path folder, Map<String, String> files, Predicate<String> isScript, String option) {
        demandEmpty(folder, option);
        Path beside = folder.toAbsolutePath()
                .normalize()
                .resolveSibling(".gentle-warden-" + ProcessHandle.current().pid() + "-"
                        + Long.toHexString(System.nanoTime()) + ".part");
        try {
            Files.createDirectory(beside);
            permit(beside, "rwx------");
            for (Map.Entry<String, String> file : files.entrySet()) {
                Path path = beside.resolve(file.getKey());
                Files.createDirectories(path.getParent());
                Files.write(path, file.getValue().getBytes(StandardCharsets.UTF_8));
                permit(path, isScript.test(file.getKey()) ? "rwx------" : "rw-------");
            }
            Files.deleteIfExists(folder);
            Files.move(beside, folder);
        } catch (IOException failed) {
            throw cannot(folder, failed, option);
        } finally {
            remove(beside);
        }
    }

    private static void permit(Path path, String permissions) throws IOException {
        PosixFileAttributeView view = Files.getFileAttributeView(path, PosixFileAttributeView.class);
        if (view != null) {
            view.setPermissions(PosixFilePermissions.fromString(permissions));
        }
    }

    private static void remove(Path folder) {
        if (!Files.exists(folder)) {
            return;
        }
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path path : all.sorted(Comparator.reverseOrder()).toList()) {
                Files.delete(path);
            }
        } catch (IOException stays) {
            throw new UncheckedIOException(stays);
        }
    }

    private static InputException cannot(Path folder, IOException failed, String option) {
        return new InputException(
                ExitCode.WRONG_COMMAND,
                folder + ": cannot write there (" + TargetFile.why(failed) + "); name another folder with " + option);
    }
}
