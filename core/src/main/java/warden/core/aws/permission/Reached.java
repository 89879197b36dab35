package warden.core.aws.permission;

import warden.core.access.Truth;
import warden.core.algebra.Language;

/**
 * A set of resources, or of actions, that is not known exactly: every member of {@code certain} is in it, and none outside {@code possible} is.
 */
public record Reached(Language certain, Language possible) {
    static final Reached NONE = exactly(Language.none());
    static final Reached ALL = exactly(Language.all());
    static final Reached UNKNOWN = new Reached(Language.none(), Language.all());

    static Reached exactly(Language language) {
        return new Reached(language, language);
    }

    static Reached of(Truth truth) {
        return switch (truth) {
            case TRUE -> ALL;
            case FALSE -> NONE;
            case UNKNOWN -> UNKNOWN;
        };
    }

    /** True when it is known exactly; then it is worked out once, not twice. */
    boolean isExact() {
        return certain == possible;
    }

    Reached union(Reached other) {
        Language surely = certain.union(other.certain);
        return isExact() && other.isExact() ? exactly(surely) : new Reached(surely, possible.union(other.possible));
    }

    Reached intersect(Reached other) {
        Language surely = certain.intersect(other.certain);
        return isExact() && other.isExact() ? exactly(surely) : new Reached(surely, possible.intersect(other.possible));
    }

    /** Takes away what surely is in the other from what may be here, and what may be in the other from what surely is. */
    Reached minus(Reached other) {
        Language surely = certain.minus(other.possible);
        return isExact() && other.isExact() ? exactly(surely) : new Reached(surely, possible.minus(other.certain));
    }
}
