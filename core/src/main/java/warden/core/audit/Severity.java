package warden.core.audit;

import java.util.Collection;
import java.util.EnumMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/** How bad a finding is, by its consequence; worst first. */
public enum Severity {
    /** Someone can change or take over the site or the account now. */
    CRITICAL,
    /** A leak, an outage for visitors, or one mistake away from critical. */
    HIGH,
    /** Weakened or partly broken. */
    MEDIUM,
    /** Untidy, wasteful, or a missing safety net. */
    LOW;

    /** Returns the word that reports use. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** Finds a severity by its word. */
    public static Optional<Severity> named(String word) {
        return Stream.of(values())
                .filter(severity -> severity.word().equals(word))
                .findFirst();
    }

    /** True when this is as bad as {@code limit}, or worse. */
    public boolean isAtLeast(Severity limit) {
        return compareTo(limit) <= 0;
    }

    /** Returns how many of these there are of each severity, nought for those that there are none of. */
    public static Map<Severity, Long> counts(Collection<Severity> severities) {
        Map<Severity, Long> counts = new EnumMap<>(Severity.class);
        for (Severity severity : values()) {
            counts.put(severity, 0L);
        }
        severities.forEach(severity -> counts.merge(severity, 1L, Long::sum));
        return counts;
    }
}
