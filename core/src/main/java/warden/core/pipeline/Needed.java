package warden.core.pipeline;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * One permission that publishing takes.
 *
 * @param on the ARN of what it is for; {@code *} in it stands for whatever follows
 * @param why where this is known from, as a phrase
 * @param carries what the request carries, by condition key; absent where nothing tells
 */
public record Needed(String action, String on, String why, Evidence evidence, Optional<Map<String, String>> carries) {
    /** Makes a need of which nothing tells what its requests carry. */
    public Needed(String action, String on, String why, Evidence evidence) {
        this(action, on, why, evidence, Optional.empty());
    }

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
