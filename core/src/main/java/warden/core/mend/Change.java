package warden.core.mend;

import java.util.Optional;
import warden.core.cloud.Cloud;

/**
 * A change of one document, worked out on the state in which it is made. Several findings may ask for the same one.
 *
 * @param key the same for the same change
 * @param name a short name for its step, in lower case with hyphens
 * @param account the number of the account that it is made in
 */
public record Change(String key, Phase phase, String name, String account, Edit edit) {
    /** What to change. */
    @FunctionalInterface
    public interface Edit {
        /** Returns the document before and after; absent where it is in that state as it should be. */
        Optional<Edited> on(Cloud state);
    }
}
