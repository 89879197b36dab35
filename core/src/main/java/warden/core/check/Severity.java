package warden.core.check;

import java.util.Locale;
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
}
