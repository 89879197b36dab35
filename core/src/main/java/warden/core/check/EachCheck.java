package warden.core.check;

import java.util.ArrayList;
import java.util.List;
import warden.core.algebra.Effort;
import warden.core.algebra.TooComplexException;
import warden.core.survey.Need;

/**
 * A check that asks its question of each thing of one kind. The loop, the bound on what one thing is worth, and the things that were not
 * read are in one place, so that no check passes any of them over: what is too complex, or unread, leaves the question open for that very
 * thing and for no other.
 *
 * @param <S> the kind of things, each with its surroundings
 */
public interface EachCheck<S extends Judged> extends Check {
    /** More than anything that was made for a purpose takes; some tenths of a second. */
    long MOST_STEPS = 2_000_000;

    /** Returns the things that were read. */
    List<S> subjects(Setup setup);

    /** Returns open verdicts for the things that exist, or may, and were not read. */
    List<Verdict> unread(Setup setup);

    /** Returns the verdicts on one thing; none where the question does not apply. */
    List<Verdict> examine(S subject);

    @Override
    default List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (S subject : subjects(setup)) {
            try {
                verdicts.addAll(Effort.within(MOST_STEPS, () -> examine(subject)));
            } catch (TooComplexException tooComplex) {
                verdicts.add(subject.unknown(List.of(tooComplex(tooComplex))));
            }
        }
        verdicts.addAll(unread(setup));
        return verdicts;
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
