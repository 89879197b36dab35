package warden.core.algebra;

import java.util.Optional;

/**
 * A set of values that one dimension of a request may take. "No value at all" (an absent condition key) is one of the
 * values. Both operands of an operation must be of the same kind.
 */
public sealed interface ValueSet permits TextSet, RangeSet, Proposition {
    /** Returns the values in both sets. */
    ValueSet intersect(ValueSet other);

    /** Returns the values of this dimension that are not in this set. */
    ValueSet complement();

    /** True when no value is in this set. */
    boolean isEmpty();

    /** True when every value, absence included, is in this set. */
    boolean isEverything();

    /** Returns a present value of this set; absent when only absence is a member, or nothing. */
    Optional<String> witness();

    /** True when absence is a member. */
    boolean admitsAbsence();

    /** Returns the values in this set or the other. */
    default ValueSet union(ValueSet other) {
        return complement().intersect(other.complement()).complement();
    }

    /** Returns the values in this set that are not in the other. */
    default ValueSet minus(ValueSet other) {
        return intersect(other.complement());
    }

    /** True when no value is in both sets. */
    default boolean isDisjointFrom(ValueSet other) {
        return intersect(other).isEmpty();
    }

    /** True when every value of this set is in the other. */
    default boolean isSubsetOf(ValueSet other) {
        return minus(other).isEmpty();
    }
}
