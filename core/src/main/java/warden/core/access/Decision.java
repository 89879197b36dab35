package warden.core.access;

import java.util.List;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * What came of one request.
 *
 * @param explicit true where a statement or grant decided; false where none allows, or something else decided
 * @param says one sentence: what decided
 * @param because what it rests on
 * @param needs what would settle an unknown
 * @param assumes what was taken for granted, in words
 * @param steps the reasoning, step by step; empty unless it was asked for
 */
public record Decision(
        Outcome outcome,
        boolean explicit,
        String says,
        List<Citation> because,
        List<Need> needs,
        List<String> assumes,
        List<String> steps) {
    /** The three answers. */
    public enum Outcome {
        ALLOW,
        DENY,
        UNKNOWN;

        /** Returns the word that answers use. */
        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    public Decision {
        because = List.copyOf(because);
        needs = List.copyOf(needs);
        assumes = List.copyOf(assumes);
        steps = List.copyOf(steps);
        if (says.isBlank()) {
            throw new IllegalArgumentException("a decision says why");
        }
    }
}
