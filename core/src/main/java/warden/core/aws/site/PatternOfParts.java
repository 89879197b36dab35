package warden.core.aws.site;

import java.util.Objects;
import java.util.Optional;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import warden.core.site.SitePattern;

/**
 * The pattern that a site's parts make, worked out when it is first asked for: it takes weighing who may read the bucket, of which whoever follows
 * a visitor to one site needs none. Two are equal when they tell the same.
 */
public final class PatternOfParts {
    private final Supplier<Optional<SitePattern>> work;
    private volatile @Nullable Optional<SitePattern> told;

    /**
     * Makes a pattern that is still to be told.
     *
     * @param work tells it, each time the same; absent when it cannot be told
     */
    PatternOfParts(Supplier<Optional<SitePattern>> work) {
        this.work = work;
    }

    /** Returns the pattern; absent when it cannot be told. */
    Optional<SitePattern> tell() {
        Optional<SitePattern> known = told;
        if (known == null) {
            // Two who ask at once both work it out: nobody waits for a thread that may be waiting for him.
            known = work.get();
            told = known;
        }
        return known;
    }

    @Override
    public boolean equals(Object other) {
        return this == other || (other instanceof PatternOfParts same && tell().equals(same.tell()));
    }

    @Override
    public int hashCode() {
        return Objects.hash(tell());
    }
}
