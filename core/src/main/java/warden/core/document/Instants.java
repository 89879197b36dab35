package warden.core.document;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.Optional;
import java.util.regex.Pattern;

/** Reads instants in the two forms that the provider's command line prints: ISO 8601 with an offset, and seconds since 1970. */
public final class Instants {
    private static final Pattern SECONDS = Pattern.compile("[0-9]{9,11}(\\.[0-9]+)?");

    private Instants() {}

    /** Returns the instant, fractions of counted seconds left out; absent when the text is in neither form. */
    public static Optional<Instant> parse(String text) {
        if (SECONDS.matcher(text).matches()) {
            return Optional.of(Instant.ofEpochSecond(Long.parseLong(text.replaceAll("\\..*", ""))));
        }
        try {
            return Optional.of(OffsetDateTime.parse(text).toInstant());
        } catch (DateTimeException strange) {
            return Optional.empty();
        }
    }
}
