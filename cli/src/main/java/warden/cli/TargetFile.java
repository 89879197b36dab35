package warden.cli;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileOwnerAttributeView;
import java.nio.file.attribute.PosixFileAttributeView;

/**
 * A place that a result is written to. A regular file is replaced as a whole, or stays as it was: its mode and owner are kept, and a symbolic
 * link is followed. What is no regular file, such as a device or a pipe, is written to as it stands.
 */
final class TargetFile {
    private static final int MOST_LINKS = 40;

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
            Path file = followed(named);
            if (Files.isDirectory(file)) {
                throw new FileSystemException(named.toString(), null, "it is a folder");
            }
            if (Files.exists(file) && !Files.isRegularFile(file)) {
                try (OutputStream out = Files.newOutputStream(file, StandardOpenOption.WRITE)) {
                    out.write(bytes);
                }
                return;
            }
            replace(file, bytes);
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

    /** Follows symbolic links, those too that lead to where nothing is yet. */
    private static Path followed(Path named) throws IOException {
        Path file = named;
        for (int links = 0; Files.isSymbolicLink(file); links++) {
            if (links == MOST_LINKS) {
                throw new FileSystemException(named.toString(), null, "its symbolic links go round in a circle");
            }
            file = file.resolveSibling(Files.readSymbolicLink(file));
        }
        return file;
    }

    private static void replace(Path file, byte[] bytes) throws IOException {
        // Not the platform's temporary file, which nobody else may read even when it is in its place.
        Path beside = file.toAbsolutePath()
                .resolveSibling(".gentle-warden-" + ProcessHandle.current().pid() + "-"
                        + Long.toHexString(System.nanoTime()) + ".part");
        try {
            Files.write(beside, new byte[0], StandardOpenOption.CREATE_NEW);
            if (Files.exists(file)) {
                if (!Files.isWritable(file)) {
                    throw new FileSystemException(file.toString(), null, "it is not permitted");
                }
                keep(file, beside);
            }
            Files.write(beside, bytes, StandardOpenOption.WRITE);
            Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        } finally {
            Files.deleteIfExists(beside);
        }
    }

    private static void keep(Path file, Path beside) throws IOException {
        PosixFileAttributeView from = Files.getFileAttributeView(file, PosixFileAttributeView.class);
        if (from == null) {
            return;
        }
        Files.setPosixFilePermissions(beside, from.readAttributes().permissions());
        FileOwnerAttributeView owner =
                Files.getFileAttributeView(beside, FileOwnerAttributeView.class, LinkOption.NOFOLLOW_LINKS);
        if (!owner.getOwner().equals(from.getOwner())) {
            owner.setOwner(from.getOwner());
        }
        Files.getFileAttributeView(beside, PosixFileAttributeView.class)
                .setGroup(from.readAttributes().group());
    }
}
