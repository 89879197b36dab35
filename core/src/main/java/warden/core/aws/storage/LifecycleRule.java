package warden.core.aws.storage;

import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;

/**
 * One rule of a bucket's lifecycle. Source: S3 API Reference, LifecycleRule.
 *
 * @param prefix the beginning of the keys that it is for; empty for all
 * @param tagged whether it is further limited by tags, which no survey holds
 * @param largerThan it is for objects of more bytes only; absent when it has no such limit
 * @param smallerThan it is for objects of fewer bytes only; absent when it has no such limit
 * @param expires whether it deletes current objects, after days or on a date
 * @param archives whether it moves current objects to a class from which they cannot be read at once
 * @param oldVersions whether it deletes or moves old versions
 * @param uploads whether it ends unfinished uploads
 */
public record LifecycleRule(
        Pointer at,
        boolean enabled,
        String prefix,
        boolean tagged,
        OptionalLong largerThan,
        OptionalLong smallerThan,
        boolean expires,
        boolean archives,
        boolean oldVersions,
        boolean uploads) {
    private static final Set<String> OUT_OF_REACH = Set.of("GLACIER", "DEEP_ARCHIVE");

    static LifecycleRule parse(JsonPart part) {
        Optional<String> prefix = part.text("Filter", "Prefix")
                .or(() -> part.text("Filter", "And", "Prefix"))
                .or(() -> part.text("Prefix"));
        boolean tagged = part.find("Filter", "Tag").isPresent()
                || part.find("Filter", "And", "Tags").isPresent();
        boolean expires = part.find("Expiration", "Days").isPresent()
                || part.find("Expiration", "Date").isPresent();
        boolean archives = part.list("Transitions").stream()
                .anyMatch(
                        move -> OUT_OF_REACH.contains(move.text("StorageClass").orElse("")));
        return new LifecycleRule(
                part.at(),
                part.text("Status").orElse("").equals("Enabled"),
                prefix.orElse(""),
                tagged,
                limit(part, "ObjectSizeGreaterThan"),
                limit(part, "ObjectSizeLessThan"),
                expires,
                archives,
                part.find("NoncurrentVersionExpiration").isPresent()
                        || !part.list("NoncurrentVersionTransitions").isEmpty(),
                part.find("AbortIncompleteMultipartUpload").isPresent());
    }

    private static OptionalLong limit(JsonPart part, String name) {
        return part.text("Filter", name)
                .or(() -> part.text("Filter", "And", name))
                .filter(text -> text.matches("[0-9]{1,18}"))
                .map(text -> OptionalLong.of(Long.parseLong(text)))
                .orElse(OptionalLong.empty());
    }

    /** True when only objects of some sizes are meant. */
    public boolean isSized() {
        return largerThan.isPresent() || smallerThan.isPresent();
    }

    /** Returns whether a size, in bytes, is one that is meant; both limits leave out themselves. */
    public boolean covers(long size) {
        return size > largerThan.orElse(-1) && size < smallerThan.orElse(Long.MAX_VALUE);
    }
}
