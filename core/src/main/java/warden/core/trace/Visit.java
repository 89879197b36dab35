package warden.core.trace;

import java.time.Instant;
import java.util.Locale;

/**
 * One request of a visitor without credentials.
 *
 * @param method in upper case
 * @param at when it is sent
 */
public record Visit(WebAddress address, String method, Instant at) {
    public Visit {
        method = method.toUpperCase(Locale.ROOT);
    }

    /** Returns a plain GET. */
    public static Visit get(WebAddress address, Instant at) {
        return new Visit(address, "GET", at);
    }

    /** True for the methods that only fetch. */
    public boolean fetches() {
        return method.equals("GET") || method.equals("HEAD");
    }
}
