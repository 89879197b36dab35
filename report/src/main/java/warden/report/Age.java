package warden.report;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import warden.core.document.Instants;
import warden.core.survey.SurveyHeader;

/**
 * How old a survey is when it is judged.
 *
 * @param days whole days
 */
public record Age(long days) {
    /** What was read longer ago says little about today. */
    private static final long STALE = 30;

    /** Returns the age; absent where the survey does not say when it was taken, or was taken later. */
    public static Optional<Age> of(SurveyHeader header, Instant at) {
        try {
            Duration age = Duration.between(Instants.ofIso(header.takenAt()), at);
            return age.isNegative() ? Optional.empty() : Optional.of(new Age(age.toDays()));
        } catch (DateTimeException notSaid) {
            return Optional.empty();
        }
    }

    /** True when the survey should be taken again. */
    public boolean isStale() {
        return days > STALE;
    }

    /** Spells it, with advice where it is too old to be relied upon. */
    public String spelled() {
        String ago = days == 0 ? "today" : days == 1 ? "1 day ago" : days + " days ago";
        return isStale() ? ago + ": take it again" : ago;
    }
}
