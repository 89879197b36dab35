package warden.standin;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Clock;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import warden.core.azure.account.BlobList;
import warden.core.azure.account.Container;

/** What the containers of the simulated subscription hold: what the survey lists, with made-up contents, and what clients have put since. */
final class BlobStore {
    /** One blob. */
    record Blob(byte[] content, String type, String cacheControl, String encoding, Instant modified, String tag) {}

    private final Clock clock;
    private final Map<String, TreeMap<String, Blob>> containers = new ConcurrentHashMap<>();
    /** Blocks that were put and not yet made a blob, by container, blob and block. */
    private final Map<String, byte[]> blocks = new ConcurrentHashMap<>();

    private final Set<String> touched = ConcurrentHashMap.newKeySet();

    BlobStore(Clock clock) {
        this.clock = clock;
    }

    private TreeMap<String, Blob> of(Container container) {
        return containers.computeIfAbsent(container.id(), key -> {
            TreeMap<String, Blob> all = new TreeMap<>();
            container.blobs().blobs().values().forEach(blob -> all.put(blob.name(), surveyed(blob)));
            return all;
        });
    }

    private static Blob surveyed(BlobList.Blob blob) {
        int size = blob.text("contentLength")
                .filter(text -> text.matches("[0-9]{1,7}"))
                .map(Integer::parseInt)
                .orElse(0);
        byte[] content = new byte[size];
        byte[] text = ("made up: " + blob.name() + "\n").getBytes(StandardCharsets.UTF_8);
        for (int i = 0; i < size; i++) {
            content[i] = text[i % text.length];
        }
        return new Blob(
                content,
                blob.contentType().orElse("application/octet-stream"),
                blob.cacheControl().orElse(""),
                blob.text("contentEncoding").orElse(""),
                instant(blob.text("lastModified").orElse("")),
                tag(content));
    }

    private static Instant instant(String text) {
        try {
            return Instant.parse(text);
        } catch (DateTimeParseException none) {
            return Instant.EPOCH;
        }
    }

    private static String tag(byte[] content) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(content);
            return "\"0x" + HexFormat.of().withUpperCase().formatHex(digest, 0, 8) + "\"";
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** True when a client has put or deleted something there. */
    boolean isTouched(Container container) {
        return touched.contains(container.id());
    }

    synchronized Map<String, Blob> all(Container container) {
        return new LinkedHashMap<>(of(container));
    }

    synchronized Optional<Blob> get(Container container, String name) {
        return Optional.ofNullable(of(container).get(name));
    }

    synchronized Blob put(
            Container container, String name, byte[] content, String type, String cache, String encoding) {
        Blob blob = new Blob(
                content,
                type.isEmpty() ? "application/octet-stream" : type,
                cache,
                encoding,
                clock.instant(),
                tag(content));
        touched.add(container.id());
        of(container).put(name, blob);
        return blob;
    }

    synchronized boolean delete(Container container, String name) {
        touched.add(container.id());
        return of(container).remove(name) != null;
    }

    void putBlock(Container container, String name, String block, byte[] content) {
        blocks.put(key(container, name, block), content);
    }

    /** Returns the blocks put together; absent where one of them was never put. */
    Optional<byte[]> assembled(Container container, String name, List<String> names) {
        List<byte[]> parts = new ArrayList<>();
        for (String block : names) {
            byte[] part = blocks.get(key(container, name, block));
            if (part == null) {
                return Optional.empty();
            }
            parts.add(part);
        }
        byte[] whole = new byte[parts.stream().mapToInt(part -> part.length).sum()];
        int at = 0;
        for (byte[] part : parts) {
            System.arraycopy(part, 0, whole, at, part.length);
            at += part.length;
        }
        names.forEach(block -> blocks.remove(key(container, name, block)));
        return Optional.of(whole);
    }

    private static String key(Container container, String name, String block) {
        return container.id() + "\n" + name + "\n" + block;
    }
}
