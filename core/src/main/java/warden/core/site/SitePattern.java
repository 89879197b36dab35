package warden.core.site;

import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;

/** How a site is put together. */
public enum SitePattern {
    /** The website endpoint, nothing in front. */
    OPEN_BUCKET,
    /** An edge in front of a bucket that anyone can read. */
    OPEN_BUCKET_BEHIND_CDN,
    /** An edge in front of a bucket that only the edge can read. */
    SEALED_BUCKET_BEHIND_CDN,
    /** The bucket sends every request elsewhere. */
    REDIRECT_ONLY,
    /** A managed hosting service reads the bucket. */
    MANAGED_FRONT,
    /** The second provider's web container. */
    WEB_CONTAINER,
    /** The same behind an edge. */
    WEB_CONTAINER_BEHIND_CDN;

    /** Returns the word that site files and reports use. */
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** Finds a pattern by its word. */
    public static Optional<SitePattern> named(String word) {
        return Stream.of(values())
                .filter(pattern -> pattern.word().equals(word))
                .findFirst();
    }

    /** True for the patterns in which visitors, or the edge without signing, read the bucket as everybody. */
    public boolean needsOpenBucket() {
        return this == OPEN_BUCKET || this == OPEN_BUCKET_BEHIND_CDN;
    }
}
