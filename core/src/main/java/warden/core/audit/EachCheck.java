package warden.core.audit;

import java.util.List;
import warden.core.algebra.Effort;
import warden.core.algebra.TooComplexException;
import warden.core.survey.Need;

/**
 * A check that asks its question of each thing of one kind. The bound on what one thing is worth, and the things that were not
 * read are in one place, so that no check passes any of them over: what is too complex, or unread, leaves the question open for that very
 * thing and for no other.
 *
 * @param <S> the kind of things, each with its surroundings
 */
public interface EachCheck<S extends Judged> extends Check {
    /** More than anything that was made for a purpose takes; some tenths of a second. */
    long MOST_STEPS = 2_000_000;

    /** Returns the things that were read: for the same set-up the same list, where other checks ask of them too. */
    List<S> subjects(AuditContext context);

    /** Returns open verdicts for the things that exist, or may, and were not read. */
    List<Verdict> unread(AuditContext context);

    /** Returns the verdicts on one thing; none where the question does not apply. */
    List<Verdict> examine(S subject);

    /** Returns what is told of all verdicts: all of them, unless several things show one fact. */
    default List<Verdict> told(List<Verdict> verdicts) {
        return verdicts;
    }

    @Override
    default Asking asking(AuditContext context) {
        List<S> subjects = subjects(context);
        return new Asking(subjects, place -> bounded(subjects.get(place)), () -> unread(context), this::told);
    }

    private List<Verdict> bounded(S subject) {
        try {
            return Effort.within(MOST_STEPS, () -> examine(subject));
        } catch (TooComplexException tooComplex) {
            return List.of(subject.unknown(List.of(tooComplex(tooComplex))));
        }
    }

    /** Returns the need for simpler documents. */
    private Need tooComplex(TooComplexException tooComplex) {
        String aspects = card().looksAt();
        return new Need(
                aspects.contains(",") ? aspects.substring(0, aspects.indexOf(',')) : aspects,
                "*",
                "too complex: " + tooComplex.getMessage(),
                "");
    }
}
