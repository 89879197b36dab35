package warden.core.access;

import java.util.function.Supplier;

/** A three-valued truth (Kleene's): what could go either way is {@link #UNKNOWN}. */
public enum Truth {
    FALSE,
    UNKNOWN,
    TRUE;

    /** Returns the truth of a plain boolean. */
    public static Truth of(boolean value) {
        return value ? TRUE : FALSE;
    }

    /** Returns whether both hold. */
    public Truth and(Truth other) {
        return compareTo(other) <= 0 ? this : other;
    }

    /** Returns whether both hold; the other is not asked when this one settles it. */
    public Truth and(Supplier<Truth> other) {
        return this == FALSE ? FALSE : and(other.get());
    }

    /** Returns whether at least one holds. */
    public Truth or(Truth other) {
        return compareTo(other) >= 0 ? this : other;
    }

    /** Returns whether this does not hold. */
    public Truth not() {
        return switch (this) {
            case TRUE -> FALSE;
            case FALSE -> TRUE;
            case UNKNOWN -> UNKNOWN;
        };
    }

    /** True unless this certainly does not hold. */
    public boolean isPossible() {
        return this != FALSE;
    }
}
