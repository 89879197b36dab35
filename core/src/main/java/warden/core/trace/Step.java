package warden.core.trace;

import java.util.List;
import java.util.Locale;
import warden.core.survey.Citation;

/**
 * One step of a request on its way.
 *
 * @param decides true for the step that the answer hangs on
 */
public record Step(At at, String says, List<Citation> because, boolean decides) {
    /** The places that a request passes. */
    public enum At {
        NAME,
        TLS,
        EDGE,
        ORIGIN,
        BUCKET,
        WEBSITE,
        ANSWER;

        /** Returns the word that outputs use. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    public Step {
        because = List.copyOf(because);
    }
}
