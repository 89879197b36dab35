package warden.core.audit;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.core.survey.Need;

/** What a check says about one subject. */
public sealed interface Verdict {
    /**
     * Nothing is wrong. Of these there are most.
     *
     * @param siteName absent where it is about no site
     */
    record Clean(String subject, @Nullable String siteName) implements Verdict {
        public Clean(String subject, Optional<String> site) {
            this(subject, site.orElse(null));
        }

        public Optional<String> site() {
            return Optional.ofNullable(siteName);
        }
    }

    /** Something is wrong. */
    record Flagged(Finding finding) implements Verdict {}

    /**
     * Returns the verdicts on something that is wrong and may be worse: the finding, which says so, and the question that is left open.
     *
     * @param worst how bad it would be
     */
    static List<Verdict> atLeast(Finding finding, Severity worst, Verdict open) {
        String says = finding.says() + " It is at least " + finding.severity().word() + "; whether it is "
                + worst.word() + " is not known.";
        return List.of(new Flagged(finding.saying(says)), open);
    }

    /** It cannot be told; {@code needs}, of which there is at least one, would settle it. */
    record Unknown(String subject, Optional<String> site, List<Need> needs) implements Verdict {
        public Unknown {
            needs = needs.stream().distinct().toList();
            if (needs.isEmpty()) {
                throw new IllegalArgumentException("an unknown says what would settle it");
            }
        }
    }
}
