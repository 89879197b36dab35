package warden.gather.content;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import warden.core.content.PublishedFile;
import warden.core.content.PublishedFile.Spot;
import warden.core.content.PublishedFolder;
import warden.core.document.DisplayText;
import warden.core.secret.Secret;
import warden.core.secret.SecretFinder;

/** Reads the files of a folder, several at once. */
public final class FolderReader {
    private static final long LARGEST_TEXT = 8_000_000;
    private static final int LONGEST_QUOTE = 120;
    private static final Set<String> MEDIA = Set.of(
            "png", "jpg", "jpeg", "gif", "webp", "avif", "ico", "woff", "woff2", "ttf", "otf", "eot", "mp4", "webm",
            "mp3", "ogg", "wav", "zip", "gz", "br", "tar", "tgz", "7z", "rar", "pdf", "wasm");

    private FolderReader() {}

    /** A file that the walk found. */
    private record Found(Path path, String name, long size) {}

    /**
     * Reads a folder.
     *
     * @param name as the user gave it
     * @throws IOException when there is no such folder, with a sentence for the user
     */
    public static PublishedFolder read(String name) throws IOException {
        Path root = Path.of(name);
        if (!Files.isDirectory(root)) {
            throw new IOException(
                    name + ": there is no such folder; give the folder that is published with --publish DIR");
        }
        List<Found> found = new ArrayList<>();
        Map<String, String> unread = new TreeMap<>();
        walk(root, found, unread);
        Map<String, String> failed = new ConcurrentHashMap<>();
        List<PublishedFile> files =
                found.parallelStream().map(file -> file(file, failed)).toList();
        unread.putAll(failed);
        return PublishedFolder.of(name, files, unread);
    }

    private static void walk(Path root, List<Found> found, Map<String, String> unread) throws IOException {
        Files.walkFileTree(root, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) {
                String path = nameIn(root, file);
                if (attributes.isSymbolicLink()) {
                    unread.put(path, "it is a symbolic link, which is not followed");
                } else if (path.indexOf('\uFFFD') >= 0) {
                    unread.put(path, "its name is not UTF-8");
                } else if (attributes.isRegularFile()) {
                    found.add(new Found(file, path, attributes.size()));
                } else {
                    unread.put(path, "it is no plain file");
                }
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFileFailed(Path file, IOException failure) {
                unread.put(nameIn(root, file), "it cannot be read");
                return FileVisitResult.CONTINUE;
            }
        });
    }

    private static String nameIn(Path root, Path file) {
        return root.relativize(file).toString().replace(java.io.File.separatorChar, '/');
    }

    private static PublishedFile file(Found found, Map<String, String> failed) {
        String extension = extension(found.name());
        if (MEDIA.contains(extension) || found.size() > LARGEST_TEXT) {
            return plain(found, found.size());
        }
        byte[] bytes;
        try {
            bytes = Files.readAllBytes(found.path());
        } catch (IOException | SecurityException unreadable) {
            failed.put(found.name(), "it cannot be read");
            return plain(found, found.size());
        }
        String text = text(bytes);
        if (text == null) {
            return plain(found, found.size());
        }
        Facts facts = new Facts(found.name());
        switch (extension) {
            case "html", "htm", "xhtml", "svg" -> HtmlFacts.collect(text, facts);
            case "css" -> CssFacts.collect(text, facts, 1, "");
            default -> {
                // Other texts refer to nothing that a browser loads by itself.
            }
        }
        TemplateText.collect(text, extension, facts);
        return new PublishedFile(
                found.name(),
                found.size(),
                sent(bytes.length),
                true,
                secrets(text),
                facts.templates(),
                facts.references(),
                facts.plainParts());
    }

    private static PublishedFile plain(Found found, long sent) {
        return new PublishedFile(found.name(), found.size(), sent, false, List.of(), List.of(), List.of(), List.of());
    }

    /** Text takes about a third of its size when an edge compresses it. */
    private static long sent(long size) {
        return (size + 2) / 3;
    }

    /** Returns the text; null when the bytes are none. */
    private static @org.jspecify.annotations.Nullable String text(byte[] bytes) {
        // A text is looked through several times as fast as an array that is gone through by hand.
        int looked = Math.min(bytes.length, 4_096);
        if (new String(bytes, 0, looked, StandardCharsets.ISO_8859_1).indexOf('\0') >= 0) {
            return null;
        }
        String quick = new String(bytes, StandardCharsets.UTF_8);
        if (quick.indexOf('\uFFFD') < 0) {
            return quick;
        }
        try {
            return StandardCharsets.UTF_8
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .decode(ByteBuffer.wrap(bytes))
                    .toString();
        } catch (CharacterCodingException otherEncoding) {
            // Older pages are Latin-1; what is looked for is ASCII in both.
            return new String(bytes, StandardCharsets.ISO_8859_1);
        }
    }

    private static List<Spot> secrets(String text) {
        List<Secret> secrets = SecretFinder.find(text);
        if (secrets.isEmpty()) {
            return List.of();
        }
        List<Spot> spots = new ArrayList<>();
        for (Secret secret : secrets) {
            int from = Math.max(text.lastIndexOf('\n', secret.from()) + 1, secret.from() - 60);
            int end = text.indexOf('\n', secret.to());
            int to = Math.min(end < 0 ? text.length() : end, secret.to() + 20);
            spots.add(new Spot(secret.line(), shown(SecretFinder.excerpt(text, secrets, from, to)), secret.kind()));
        }
        return spots;
    }

    static String shown(String text) {
        String plain = DisplayText.name(SecretFinder.masked(text.strip()));
        return plain.length() > LONGEST_QUOTE ? plain.substring(0, LONGEST_QUOTE - 1) + "…" : plain;
    }

    static String extension(String path) {
        String name = path.substring(path.lastIndexOf('/') + 1);
        int dot = name.lastIndexOf('.');
        return dot < 0 ? "" : name.substring(dot + 1).toLowerCase(Locale.ROOT);
    }
}
