package warden.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.document.JsonEdit;
import warden.core.document.JsonSpelling;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyedAccount;

/**
 * What to do about the step that decided, with what it changes, so that the visit can be followed again on a copy.
 *
 * @param says sentences; empty when there is nothing to do
 * @param changes the readings as they are afterwards; none when no survey can show it
 */
public record Remedy(String says, List<Change> changes) {
    public static final Remedy NONE = new Remedy("", List.of());

    public Remedy {
        changes = List.copyOf(changes);
    }

    /** A reading of an account that takes the place of what was read. */
    public record Change(SurveyedAccount account, SurveyLine line) {}

    /** Returns what to do where no survey can show what comes of it. */
    public static Remedy inWords(String says) {
        return new Remedy(says, List.of());
    }

    public static Remedy of(String says, SurveyedAccount account, SurveyLine... lines) {
        return new Remedy(
                says,
                List.of(lines).stream().map(line -> new Change(account, line)).toList());
    }

    /** Returns both, one after the other, as one sentence; {@code says} of each ends without a stop. */
    public Remedy and(Remedy other) {
        List<Change> both = new ArrayList<>(changes);
        both.addAll(other.changes);
        return new Remedy(says + ", and " + lowered(other.says), both);
    }

    public Remedy saying(String other) {
        return new Remedy(other, changes);
    }

    /** Returns the readings that take the place of what was read of an account. */
    public List<SurveyLine> changesOf(SurveyedAccount account) {
        return changes.stream()
                .filter(change -> change.account() == account)
                .map(Change::line)
                .toList();
    }

    public static String lowered(String sentence) {
        return sentence.substring(0, 1).toLowerCase(Locale.ROOT) + sentence.substring(1);
    }

    /**
     * Returns what sets one place of a reading; in words only where that was not read.
     *
     * @param pointer where, from the answer's root
     * @param value JSON text
     */
    public static Remedy setting(
            String says, SurveyedAccount account, String aspect, String of, String pointer, String value) {
        return edited(account, aspect, of, pointer, value)
                .map(line -> of(says, account, line))
                .orElse(inWords(says));
    }

    public static SurveyLine found(String aspect, String of, String body) {
        return new SurveyLine("", 1, aspect, of, "", SurveyLine.Outcome.FOUND, body);
    }

    /**
     * Returns a reading with another value at one place.
     *
     * @param pointer where, from the answer's root
     * @param value JSON text
     * @return the reading; absent when the answer was not read
     */
    public static Optional<SurveyLine> edited(
            SurveyedAccount account, String aspect, String of, String pointer, String value) {
        return account.survey()
                .reading(aspect, of)
                .found()
                .map(answer -> found(aspect, of, JsonEdit.set(JsonSpelling.of(answer), pointer, value)));
    }
}
