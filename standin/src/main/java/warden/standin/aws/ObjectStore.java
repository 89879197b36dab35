package warden.standin.aws;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BiFunction;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import warden.core.document.JsonPart;
import warden.standin.Content;

/**
 * What buckets hold: the versions of each object, newest first. Large contents lie in a folder. Safe for use by several threads.
 *
 * <p>Source: S3 User Guide, "How S3 Versioning works" and "Listing object keys programmatically", by which keys are ordered by their bytes.
 */
final class ObjectStore {
    private static final int MOST_HELD = 256 * 1024;
    private static final Comparator<String> BY_BYTES = (first, second) ->
            Arrays.compareUnsigned(first.getBytes(StandardCharsets.UTF_8), second.getBytes(StandardCharsets.UTF_8));

    private final Map<String, TreeMap<String, List<StoredObject>>> buckets = new LinkedHashMap<>();
    private final BiFunction<String, String, Optional<byte[]>> contents;
    private final @Nullable Path folder;
    private long number;

    /**
     * Makes an empty one.
     *
     * @param contents what surveyed objects hold, by bucket name and key; absent for those whose content is to be made up
     * @param folder where large contents lie; null to hold them in memory
     */
    ObjectStore(BiFunction<String, String, Optional<byte[]>> contents, @Nullable Path folder) {
        this.contents = contents;
        this.folder = folder;
    }

    synchronized boolean has(String bucketArn) {
        return buckets.containsKey(bucketArn);
    }

    synchronized List<String> buckets() {
        return List.copyOf(buckets.keySet());
    }

    synchronized void make(String bucketArn) {
        buckets.computeIfAbsent(bucketArn, arn -> new TreeMap<>(BY_BYTES));
    }

    /** Puts an object of the survey there. */
    synchronized void load(String bucketArn, String key, JsonPart entry, @Nullable JsonPart head) {
        String version =
                head == null ? StoredObject.ONLY : head.text("VersionId").orElse(StoredObject.ONLY);
        make(bucketArn);
        buckets.get(bucketArn)
                .put(
                        key,
                        new ArrayList<>(
                                List.of(new StoredObject(key, entry, head, null, version, false, null, List.of()))));
    }

    /** Returns the id for a new version. */
    synchronized String newVersion() {
        return String.format(java.util.Locale.ROOT, "simulated%023d", ++number);
    }

    /**
     * Stores a version, in the place of the one of the same id.
     *
     * @return what was there under the same id
     */
    synchronized Optional<StoredObject> put(String bucketArn, StoredObject object) {
        make(bucketArn);
        List<StoredObject> versions = buckets.get(bucketArn).computeIfAbsent(object.key(), key -> new ArrayList<>());
        Optional<StoredObject> before = version(bucketArn, object.key(), object.version());
        versions.removeIf(each -> each.version().equals(object.version()));
        versions.add(0, object);
        before.map(StoredObject::content).ifPresent(this::discard);
        return before;
    }

    /** Replaces a version where it stands. */
    synchronized void replace(String bucketArn, StoredObject object) {
        buckets.getOrDefault(bucketArn, new TreeMap<>(BY_BYTES))
                .getOrDefault(object.key(), new ArrayList<>())
                .replaceAll(each -> each.version().equals(object.version()) ? object : each);
    }

    /** Removes a version for good. */
    synchronized Optional<StoredObject> remove(String bucketArn, String key, String version) {
        Optional<StoredObject> before = version(bucketArn, key, version);
        TreeMap<String, List<StoredObject>> bucket = buckets.getOrDefault(bucketArn, new TreeMap<>(BY_BYTES));
        List<StoredObject> versions = bucket.getOrDefault(key, new ArrayList<>());
        versions.removeIf(each -> each.version().equals(version));
        if (versions.isEmpty()) {
            bucket.remove(key);
        }
        before.map(StoredObject::content).ifPresent(this::discard);
        return before;
    }

    /** Returns the object that a plain request finds. */
    synchronized Optional<StoredObject> current(String bucketArn, String key) {
        return newest(bucketArn, key).filter(Predicate.not(StoredObject::isMarker));
    }

    /** Returns the newest version, be it one that says that the object was deleted. */
    synchronized Optional<StoredObject> newest(String bucketArn, String key) {
        return buckets.getOrDefault(bucketArn, new TreeMap<>(BY_BYTES)).getOrDefault(key, List.of()).stream()
                .findFirst();
    }

    synchronized Optional<StoredObject> version(String bucketArn, String key, String version) {
        return buckets.getOrDefault(bucketArn, new TreeMap<>(BY_BYTES)).getOrDefault(key, List.of()).stream()
                .filter(each -> each.version().equals(version))
                .findFirst();
    }

    /** Returns the objects that plain requests find, in the order of their keys. */
    List<StoredObject> all(String bucketArn) {
        return after(bucketArn, "");
    }

    /** Returns those from a key (not included) on. */
    synchronized List<StoredObject> after(String bucketArn, String after) {
        return buckets
                .getOrDefault(bucketArn, new TreeMap<>(BY_BYTES))
                .tailMap(after, after.isEmpty())
                .values()
                .stream()
                .map(versions -> versions.get(0))
                .filter(Predicate.not(StoredObject::isMarker))
                .toList();
    }

    /** Returns all versions from a key (included) on, keys in their order, versions newest first. */
    synchronized List<StoredObject> versions(String bucketArn, String from) {
        return buckets.getOrDefault(bucketArn, new TreeMap<>(BY_BYTES)).tailMap(from, true).values().stream()
                .flatMap(List::stream)
                .toList();
    }

    /** Returns what is kept of an upload; what is large is written into the folder. */
    Content keep(byte[] content) {
        if (folder == null || content.length <= MOST_HELD) {
            return new Content.Held(content);
        }
        return joined(List.of(new Content.Held(content)));
    }

    /** Returns contents one behind the other. */
    Content joined(List<Content> parts) {
        long size = parts.stream().mapToLong(Content::size).sum();
        try {
            if (folder == null || size <= MOST_HELD) {
                java.io.ByteArrayOutputStream out = new java.io.ByteArrayOutputStream((int) size);
                for (Content part : parts) {
                    part.writeTo(out, part.size());
                }
                return new Content.Held(out.toByteArray());
            }
            Path file = Files.createTempFile(folder, "object-", "");
            try (var out = Files.newOutputStream(file)) {
                for (Content part : parts) {
                    part.writeTo(out, part.size());
                }
            }
            return new Content.Filed(file, 0, size);
        } catch (IOException full) {
            throw new UncheckedIOException(full);
        }
    }

    /** Returns what an object holds: what was uploaded, what a folder holds, or text made up to its size. */
    Content content(String bucketArn, StoredObject object) {
        if (object.content() != null) {
            return object.content();
        }
        return contents.apply(CloudState.nameOf(bucketArn), object.key())
                .<Content>map(Content.Held::new)
                .orElseGet(() -> madeUp(object));
    }

    private static Content madeUp(StoredObject object) {
        byte[] words = ("Made up for " + object.key() + ". ").getBytes(StandardCharsets.UTF_8);
        return new Content.MadeUp(words, object.size());
    }

    /** Gives the room of a content back that nothing refers to any more. */
    void discard(Content content) {
        if (content instanceof Content.Filed filed) {
            try {
                // An answer that is under way still has the file open.
                Files.deleteIfExists(filed.file());
            } catch (IOException stays) {
                throw new UncheckedIOException(stays);
            }
        }
    }
}
