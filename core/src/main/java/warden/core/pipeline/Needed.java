package warden.core.pipeline;

import java.util.Locale;

/**
 * One permission that publishing takes.
 *
 * @param on the ARN of what it is for; {@code *} in it stands for whatever follows
 * @param why where this is known from, as a phrase
 */
public record Needed(String action, String on, String why, Evidence evidence) {
    /** Where it is known from. */
    public enum Evidence {
        PIPELINE,
        REHEARSAL,
        ACTIVITY,
        PATTERN;

        /** Returns the word that formats use. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
