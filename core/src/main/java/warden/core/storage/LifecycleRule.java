package warden.core.storage;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;

/**
 * One rule of a bucket's lifecycle. Source: S3 API Reference, LifecycleRule.
 *
 * @param prefix the beginning of the keys that it is for; empty for all
 * @param filtered whether it is further limited, by tags or sizes
 * @param expires whether it deletes current objects, after days or on a date
 * @param archives whether it moves current objects to a class from which they cannot be read at once
 * @param oldVersions whether it deletes or moves old versions
 * @param uploads whether it ends unfinished uploads
 */
public record LifecycleRule(
        Pointer at,
        boolean enabled,
        String prefix,
        boolean filtered,
        boolean expires,
        boolean archives,
        boolean oldVersions,
        boolean uploads) {
    private static final Set<String> OUT_OF_REACH = Set.of("GLACIER", "DEEP_ARCHIVE");

    static LifecycleRule parse(JsonPart part) {
        Optional<String> prefix = part.text("Filter", "Prefix")
                .or(() -> part.text("Filter", "And", "Prefix"))
                .or(() -> part.text("Prefix"));
        boolean filtered = part.find("Filter", "Tag").isPresent()
                || part.find("Filter", "And", "Tags").isPresent()
                || List.of("ObjectSizeGreaterThan", "ObjectSizeLessThan").stream()
                        .anyMatch(limit -> part.find("Filter", limit).isPresent()
                                || part.find("Filter", "And", limit).isPresent());
        boolean expires = part.find("Expiration", "Days").isPresent()
                || part.find("Expiration", "Date").isPresent();
        boolean archives = part.list("Transitions").stream()
                .anyMatch(
                        move -> OUT_OF_REACH.contains(move.text("StorageClass").orElse("")));
        return new LifecycleRule(
                part.at(),
                part.text("Status").orElse("").equals("Enabled"),
                prefix.orElse(""),
                filtered,
                expires,
                archives,
                part.find("NoncurrentVersionExpiration").isPresent()
                        || !part.list("NoncurrentVersionTransitions").isEmpty(),
                part.find("AbortIncompleteMultipartUpload").isPresent());
    }
}
