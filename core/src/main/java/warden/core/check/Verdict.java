package warden.core.check;

import java.util.List;
import java.util.Optional;
import warden.core.survey.Need;

/** What a check says about one subject. */
public sealed interface Verdict {
    /** Nothing is wrong. */
    record Clean(String subject, Optional<String> site) implements Verdict {}

    /** Something is wrong. */
    record Flagged(Finding finding) implements Verdict {}

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
