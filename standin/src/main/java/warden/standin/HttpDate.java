package warden.standin;

import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Locale;

/**
 * Dates as headers hold them. The day has two digits, which clients rely upon; the standard library's format of that name gives the first nine days of
 * a month one. Source: RFC 9110, section 5.6.7, "IMF-fixdate".
 */
public final class HttpDate {
    private static final DateTimeFormatter FIXED = DateTimeFormatter.ofPattern(
                    "EEE, dd MMM yyyy HH:mm:ss 'GMT'", Locale.ENGLISH)
            .withZone(ZoneOffset.UTC);

    private HttpDate() {}

    /** Spells a moment, of which fractions of a second are left out. */
    public static String spelled(Instant moment) {
        return FIXED.format(moment);
    }
}
