package warden.core.algebra;

import java.util.Optional;

/**
 * A set of texts, and perhaps absence.
 *
 * @param texts the present values
 * @param admitsAbsence whether "no value" is a member
 */
public record TextSet(Language texts, boolean admitsAbsence) implements ValueSet {
    /** Returns the set of these texts, absence not included. */
    public static TextSet present(Language texts) {
        return new TextSet(texts, false);
    }

    @Override
    public TextSet intersect(ValueSet other) {
        TextSet that = (TextSet) other;
        return new TextSet(texts.intersect(that.texts), admitsAbsence && that.admitsAbsence);
    }

    @Override
    public TextSet union(ValueSet other) {
        TextSet that = (TextSet) other;
        return new TextSet(texts.union(that.texts), admitsAbsence || that.admitsAbsence);
    }

    @Override
    public TextSet minus(ValueSet other) {
        TextSet that = (TextSet) other;
        return new TextSet(texts.minus(that.texts), admitsAbsence && !that.admitsAbsence);
    }

    @Override
    public boolean isSubsetOf(ValueSet other) {
        TextSet that = (TextSet) other;
        return (that.admitsAbsence || !admitsAbsence) && texts.isSubsetOf(that.texts);
    }

    @Override
    public boolean isDisjointFrom(ValueSet other) {
        TextSet that = (TextSet) other;
        return !(admitsAbsence && that.admitsAbsence) && texts.isDisjointFrom(that.texts);
    }

    @Override
    public TextSet complement() {
        return new TextSet(texts.complement(), !admitsAbsence);
    }

    @Override
    public boolean isEmpty() {
        return !admitsAbsence && texts.isEmpty();
    }

    @Override
    public boolean isEverything() {
        return admitsAbsence && texts.isEverything();
    }

    @Override
    public Optional<String> witness() {
        return texts.witness();
    }
}
