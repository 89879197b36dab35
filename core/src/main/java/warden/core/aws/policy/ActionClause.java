package warden.core.aws.policy;

import java.util.List;
import java.util.Locale;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.document.Pointer;

/**
 * The {@code Action} or {@code NotAction} of a statement. Names are compared without regard to case.
 * Source: IAM User Guide, "IAM JSON policy elements: Action".
 *
 * @param negated true for {@code NotAction}
 */
public record ActionClause(boolean negated, List<ActionPattern> patterns) {
    public ActionClause {
        patterns = List.copyOf(patterns);
    }

    /**
     * One pattern.
     *
     * @param text as the document spells it
     * @param glob the same in lower case
     */
    public record ActionPattern(Pointer at, String text, Glob glob) {
        static ActionPattern of(Pointer at, String text) {
            return new ActionPattern(at, text, Glob.parse(text.toLowerCase(Locale.ROOT)));
        }

        /** Returns the service's prefix in lower case; empty for {@code *}. */
        public String service() {
            int colon = text.indexOf(':');
            return colon < 0 ? "" : text.substring(0, colon).toLowerCase(Locale.ROOT);
        }
    }

    /** True when the clause covers the action, given in lower case. */
    public boolean covers(String lowerCaseAction) {
        for (ActionPattern pattern : patterns) {
            if (pattern.glob().matches(lowerCaseAction)) {
                return !negated;
            }
        }
        return negated;
    }

    /** Returns the actions covered, in lower case. */
    public Language language() {
        Language union = Language.none();
        for (ActionPattern pattern : patterns) {
            union = union.union(Language.matching(pattern.glob()));
        }
        return negated ? union.complement() : union;
    }
}
