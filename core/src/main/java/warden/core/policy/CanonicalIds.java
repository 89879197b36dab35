package warden.core.policy;

/** Knows whose a canonical user id is, as far as the survey tells. */
@FunctionalInterface
public interface CanonicalIds {
    /** Returns whether {@code canonicalId} stands for {@code actor} or for the account that it belongs to. */
    Truth standsFor(String canonicalId, Actor actor);
}
