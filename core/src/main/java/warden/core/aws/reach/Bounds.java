package warden.core.aws.reach;

import warden.core.access.Truth;
import warden.core.algebra.RequestSet;

/**
 * A set of requests that is not known exactly: every request in {@code certain} is in it, and none outside {@code possible} is.
 */
record Bounds(RequestSet certain, RequestSet possible) {
    static final Bounds NONE = new Bounds(RequestSet.none(), RequestSet.none());
    static final Bounds ALL = new Bounds(RequestSet.all(), RequestSet.all());
    static final Bounds UNKNOWN = new Bounds(RequestSet.none(), RequestSet.all());

    static Bounds exactly(RequestSet set) {
        return new Bounds(set, set);
    }

    static Bounds of(Truth truth) {
        return switch (truth) {
            case TRUE -> ALL;
            case FALSE -> NONE;
            case UNKNOWN -> UNKNOWN;
        };
    }

    /** True when the set is known exactly; then it is worked out once, not twice. */
    boolean isExact() {
        return certain == possible;
    }

    /** Returns what may be in it and is not sure to be. */
    RequestSet open() {
        return possible.minus(certain);
    }

    Bounds union(Bounds other) {
        RequestSet surely = certain.union(other.certain);
        return new Bounds(surely, isExact() && other.isExact() ? surely : possible.union(other.possible));
    }

    Bounds intersect(Bounds other) {
        RequestSet surely = certain.intersect(other.certain);
        return new Bounds(surely, isExact() && other.isExact() ? surely : possible.intersect(other.possible));
    }

    /** Takes away what surely is in the other from what may be here, and what may be in the other from what surely is. */
    Bounds minus(Bounds other) {
        RequestSet surely = certain.minus(other.possible);
        return new Bounds(surely, isExact() && other.isExact() ? surely : possible.minus(other.certain));
    }
}
