package warden.core.algebra;

import java.util.Optional;

/**
 * What is known of a condition that has no finer structure here: whether it may hold and whether it may fail. The condition itself is
 * the dimension's name.
 */
public record Proposition(boolean mayHold, boolean mayFail) implements ValueSet {
    @Override
    public Proposition intersect(ValueSet other) {
        Proposition that = (Proposition) other;
        return new Proposition(mayHold && that.mayHold, mayFail && that.mayFail);
    }

    @Override
    public Proposition complement() {
        return new Proposition(!mayHold, !mayFail);
    }

    @Override
    public boolean isEmpty() {
        return !mayHold && !mayFail;
    }

    @Override
    public boolean isEverything() {
        return mayHold && mayFail;
    }

    @Override
    public Optional<String> witness() {
        return Optional.empty();
    }

    @Override
    public boolean admitsAbsence() {
        return mayFail;
    }
}
