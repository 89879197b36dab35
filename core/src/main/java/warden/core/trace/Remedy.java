package warden.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.document.JsonEdit;
import warden.core.document.JsonSpelling;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/**
 * What to do about the step that decided, with what it changes, so that the visit can be followed again on a copy.
 *
 * @param says sentences; empty when there is nothing to do
 * @param changes the readings as they are afterwards; none when no survey can show it
 */
record Remedy(String says, List<Change> changes) {
    static final Remedy NONE = new Remedy("", List.of());

    Remedy {
        changes = List.copyOf(changes);
    }

    /** A reading of an account that takes the place of what was read. */
    record Change(Account account, SurveyLine line) {}

    /** Returns what to do where no survey can show what comes of it. */
    static Remedy inWords(String says) {
        return new Remedy(says, List.of());
    }

    static Remedy of(String says, Account account, SurveyLine... lines) {
        return new Remedy(
                says,
                List.of(lines).stream().map(line -> new Change(account, line)).toList());
    }

    /** Returns both, one after the other, as one sentence; {@code says} of each ends without a stop. */
    Remedy and(Remedy other) {
        List<Change> both = new ArrayList<>(changes);
        both.addAll(other.changes);
        return new Remedy(says + ", and " + lowered(other.says), both);
    }

    Remedy saying(String other) {
        return new Remedy(other, changes);
    }

    /** Returns the account as it is when the changes that concern it are made. */
    Account appliedTo(Account account) {
        Account copy = account;
        for (Change change : changes) {
            if (change.account() == account) {
                copy = copy.with(change.line());
            }
        }
        return copy;
    }

    static String lowered(String sentence) {
        return sentence.substring(0, 1).toLowerCase(Locale.ROOT) + sentence.substring(1);
    }

    /**
     * Returns what sets one place of a reading; in words only where that was not read.
     *
     * @param pointer where, from the answer's root
     * @param value JSON text
     */
    static Remedy setting(String says, Account account, String aspect, String of, String pointer, String value) {
        return edited(account, aspect, of, pointer, value)
                .map(line -> of(says, account, line))
                .orElse(inWords(says));
    }

    static SurveyLine found(String aspect, String of, String body) {
        return new SurveyLine("", 1, aspect, of, "", Outcome.FOUND, body);
    }

    /**
     * Returns a reading with another value at one place.
     *
     * @param pointer where, from the answer's root
     * @param value JSON text
     * @return the reading; absent when the answer was not read
     */
    static Optional<SurveyLine> edited(Account account, String aspect, String of, String pointer, String value) {
        return account.survey()
                .reading(aspect, of)
                .found()
                .map(answer -> found(aspect, of, JsonEdit.set(JsonSpelling.of(answer), pointer, value)));
    }
}
