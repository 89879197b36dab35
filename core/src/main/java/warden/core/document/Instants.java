package warden.core.document;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * Reads instants in the two forms that the provider's command line prints: ISO 8601 with an offset, and seconds since 1970. The form that nearly all
 * have, whole seconds of UTC, is read and spelled by its parts: making ready the standard library's formats takes longer than a small command has
 * to do otherwise.
 */
public final class Instants {
    private static final Pattern SECONDS = Pattern.compile("[0-9]{9,11}(\\.[0-9]+)?");

    private static final String PLAIN = "0000-00-00T00:00:00Z";
    /** Years of four digits. */
    private static final Instant FIRST = ofIso("0000-01-01T00:00:00Z");

    private static final Instant LAST = ofIso("9999-12-31T23:59:59Z");

    private Instants() {}

    /**
     * Reads ISO 8601 with an offset.
     *
     * @throws DateTimeException when the text is in another form, or names no moment
     */
    public static Instant ofIso(String text) {
        if (!isPlain(text)) {
            return OffsetDateTime.parse(text).toInstant();
        }
        return LocalDateTime.of(
                        number(text, 0, 4),
                        number(text, 5, 7),
                        number(text, 8, 10),
                        number(text, 11, 13),
                        number(text, 14, 16),
                        number(text, 17, 19))
                .toInstant(ZoneOffset.UTC);
    }

    private static boolean isPlain(String text) {
        if (text.length() != PLAIN.length()) {
            return false;
        }
        for (int i = 0; i < text.length(); i++) {
            char here = text.charAt(i);
            if (PLAIN.charAt(i) == '0' ? here < '0' || here > '9' : here != PLAIN.charAt(i)) {
                return false;
            }
        }
        return true;
    }

    private static int number(String text, int from, int to) {
        return Integer.parseInt(text, from, to, 10);
    }

    /** Spells an instant as {@link Instant#toString} does. */
    public static String spelled(Instant instant) {
        if (instant.getNano() != 0 || instant.isBefore(FIRST) || instant.isAfter(LAST)) {
            return instant.toString();
        }
        LocalDateTime time = LocalDateTime.ofInstant(instant, ZoneOffset.UTC);
        return time + (time.getSecond() == 0 ? ":00Z" : "Z");
    }

    /** Returns the instant, fractions of counted seconds left out; absent when the text is in neither form. */
    public static Optional<Instant> parse(String text) {
        if (SECONDS.matcher(text).matches()) {
            return Optional.of(Instant.ofEpochSecond(Long.parseLong(text.replaceAll("\\..*", ""))));
        }
        try {
            return Optional.of(ofIso(text));
        } catch (DateTimeException strange) {
            return Optional.empty();
        }
    }
}
