package warden.standin.azure;

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
import java.util.concurrent.atomic.AtomicLong;
import warden.core.azure.account.BlobList;
import warden.core.azure.account.Container;

/** What the containers of the simulated subscription hold: what the survey lists, with made-up contents, and what clients have put since. */
final class BlobStore {
    /**
     * What a blob is served with; each empty where it is not set.
     *
     * @param md5 the content's checksum in base 64, as the client told it or as it was worked out for a blob put whole
     */
    record Properties(
            String type, String cacheControl, String encoding, String language, String disposition, String md5) {
        Properties withMd5(String other) {
            return new Properties(type, cacheControl, encoding, language, disposition, other);
        }
    }

    /** One blob. */
    record Blob(byte[] content, Properties properties, Map<String, String> metadata, Instant modified, String tag) {
        Blob with(Properties otherProperties, Map<String, String> otherMetadata) {
            return new Blob(content, otherProperties, otherMetadata, modified, tag);
        }
    }

    private final Clock clock;
    private final Map<String, TreeMap<String, Blob>> containers = new ConcurrentHashMap<>();
    /** Blocks that were put and not yet made a blob, by container, blob and block. */
    private final Map<String, byte[]> blocks = new ConcurrentHashMap<>();

    private final Set<String> touched = ConcurrentHashMap.newKeySet();
    private final AtomicLong changes = new AtomicLong();

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
                new Properties(
                        blob.contentType().orElse("application/octet-stream"),
                        blob.cacheControl().orElse(""),
                        blob.text("contentEncoding").orElse(""),
                        "",
                        "",
                        ""),
                Map.of(),
                instant(blob.text("lastModified").orElse("")),
                tag(content, ""));
    }

    private static Instant instant(String text) {
        try {
            return Instant.parse(text);
        } catch (DateTimeParseException none) {
            return Instant.EPOCH;
        }
    }

    private static String tag(byte[] content, String salt) {
        try {
            MessageDigest hash = MessageDigest.getInstance("SHA-256");
            hash.update(salt.getBytes(StandardCharsets.UTF_8));
            byte[] digest = hash.digest(content);
            return "\"0x" + HexFormat.of().withUpperCase().formatHex(digest, 0, 8) + "\"";
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** Returns how often something was changed. */
    long changes() {
        return changes.get();
    }

    /** Returns the ids of the containers in which a client has put or deleted something. */
    Set<String> touched() {
        return Set.copyOf(touched);
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

    /** Returns a blob that was not put yet. */
    Blob blob(byte[] content, Properties properties, Map<String, String> metadata) {
        return new Blob(content, properties, metadata, clock.instant(), "");
    }

    /** Puts a blob, which is another than before even where it holds the same. */
    synchronized Blob put(Container container, String name, Blob given) {
        Properties properties = given.properties();
        Blob blob = new Blob(
                given.content(),
                properties.type().isEmpty()
                        ? new Properties(
                                "application/octet-stream",
                                properties.cacheControl(),
                                properties.encoding(),
                                properties.language(),
                                properties.disposition(),
                                properties.md5())
                        : properties,
                Map.copyOf(given.metadata()),
                clock.instant(),
                tag(given.content(), String.valueOf(changes.incrementAndGet())));
        touched.add(container.id());
        of(container).put(name, blob);
        return blob;
    }

    synchronized boolean delete(Container container, String name) {
        boolean wasThere = of(container).remove(name) != null;
        if (wasThere) {
            touched.add(container.id());
            changes.incrementAndGet();
        }
        return wasThere;
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
