package warden.core.aws.policy;

import warden.core.access.Truth;

/** Knows whose a canonical user id is, as far as the survey tells. */
@FunctionalInterface
public interface CanonicalIds {
    /** Returns whether {@code canonicalId} stands for {@code actor} or for the account that it belongs to. */
    Truth standsFor(String canonicalId, Actor actor);

    /** True unless it is known that the id is not that of the account with this number. */
    default boolean mayBelongTo(String canonicalId, String account) {
        return true;
    }
}
