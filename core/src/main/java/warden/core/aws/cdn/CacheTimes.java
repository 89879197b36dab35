package warden.core.aws.cdn;

import java.util.Optional;
import java.util.OptionalLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.document.JsonPart;

/**
 * How long the edge keeps objects, in seconds. Source: CloudFront Developer Guide, "Manage how long content stays in the
 * cache (expiration)".
 */
public record CacheTimes(long least, long usual, long most) {
    private static final long A_DAY = 86_400;
    private static final long A_YEAR = 31_536_000;
    private static final Pattern MAX_AGE = Pattern.compile("(?i)(?:^|[,\\s])max-age\\s*=\\s*\"?([0-9]{1,12})");
    private static final Pattern SHARED_AGE = Pattern.compile("(?i)(?:^|[,\\s])s-maxage\\s*=\\s*\"?([0-9]{1,12})");
    private static final Pattern NEVER = Pattern.compile("(?i)(?:^|[,\\s])(no-cache|no-store|private)(?:$|[,\\s=])");

    /** Reads the three times out of a cache policy's configuration or a behaviour; what is left out has the provider's default. */
    static CacheTimes parse(JsonPart part) {
        long least = part.text("MinTTL").map(CacheTimes::seconds).orElse(0L);
        long usual = part.text("DefaultTTL").map(CacheTimes::seconds).orElse(A_DAY);
        long most = part.text("MaxTTL").map(CacheTimes::seconds).orElse(A_YEAR);
        return new CacheTimes(least, Math.max(least, usual), Math.max(least, most));
    }

    private static long seconds(String number) {
        return number.matches("[0-9]{1,12}(\\.0+)?") ? Long.parseLong(number.replaceAll("\\..*", "")) : 0;
    }

    /** Returns how long an object with this Cache-Control header (absent: none) stays at the edge, in seconds. */
    public long kept(Optional<String> cacheControl) {
        OptionalLong asked = cacheControl.map(CacheTimes::asked).orElse(OptionalLong.empty());
        return asked.isPresent() ? Math.min(Math.max(asked.getAsLong(), least), most) : usual;
    }

    /** Returns what a Cache-Control header asks of shared caches; empty when it says nothing about time. */
    private static OptionalLong asked(String header) {
        if (NEVER.matcher(header).find()) {
            return OptionalLong.of(0);
        }
        OptionalLong shared = number(SHARED_AGE.matcher(header));
        return shared.isPresent() ? shared : number(MAX_AGE.matcher(header));
    }

    private static OptionalLong number(Matcher matcher) {
        return matcher.find() ? OptionalLong.of(Long.parseLong(matcher.group(1))) : OptionalLong.empty();
    }

    /** Returns what a Cache-Control header asks of browsers, in seconds; empty when it says nothing about time. */
    public static OptionalLong browserAge(String header) {
        return NEVER.matcher(header).find() ? OptionalLong.of(0) : number(MAX_AGE.matcher(header));
    }
}
