package warden.gather.survey;

import java.io.IOException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileOwnerAttributeView;
import java.nio.file.attribute.PosixFileAttributeView;

/** Regular files that are replaced as a whole, or stay as they were: mode and owner are kept, and symbolic links are followed. */
public final class WholeFile {
    private static final int MOST_LINKS = 40;

    private WholeFile() {}

    /**
     * Follows symbolic links, those too that lead to where nothing is yet.
     *
     * @throws IOException when they go round in a circle
     */
    public static Path followed(Path named) throws IOException {
        Path file = named;
        for (int links = 0; Files.isSymbolicLink(file); links++) {
            if (links == MOST_LINKS) {
                throw new FileSystemException(named.toString(), null, "its symbolic links go round in a circle");
            }
            file = file.resolveSibling(Files.readSymbolicLink(file));
        }
        return file;
    }

    /**
     * Writes beside a file and puts that in its place.
     *
     * @param file a regular file, or one that is not there yet; no symbolic link
     */
    public static void replace(Path file, byte[] bytes) throws IOException {
        // Not the platform's temporary file, which nobody else may read even when it is in its place.
        Path beside = file.toAbsolutePath()
                .resolveSibling(".gentle-warden-" + ProcessHandle.current().pid() + "-"
                        + Long.toHexString(System.nanoTime()) + ".part");
        try {
            begin(beside, file);
            Files.write(beside, bytes, StandardOpenOption.WRITE);
            finish(beside, file);
        } finally {
            Files.deleteIfExists(beside);
        }
    }

    /**
     * Makes an empty file that is to take the place of another, with its mode and owner, so that nobody reads there what they may not read in
     * the other.
     *
     * @param file a regular file, or one that is not there yet; no symbolic link
     */
    public static void begin(Path beside, Path file) throws IOException {
        Files.write(beside, new byte[0], StandardOpenOption.CREATE_NEW);
        if (Files.exists(file)) {
            if (!Files.isWritable(file)) {
                throw new FileSystemException(file.toString(), null, "it is not permitted");
            }
            keep(file, beside);
        }
    }

    /** Puts a file that was begun so, and is whole now, in the place of the other. */
    public static void finish(Path beside, Path file) throws IOException {
        Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    private static void keep(Path file, Path beside) throws IOException {
        PosixFileAttributeView from = Files.getFileAttributeView(file, PosixFileAttributeView.class);
        if (from == null) {
            return;
        }
        Files.setPosixFilePermissions(beside, from.readAttributes().permissions());
        FileOwnerAttributeView owner = Files.getFileAttributeView(beside, FileOwnerAttributeView.class);
        if (!owner.getOwner().equals(from.getOwner())) {
            owner.setOwner(from.getOwner());
        }
        Files.getFileAttributeView(beside, PosixFileAttributeView.class)
                .setGroup(from.readAttributes().group());
    }
}
