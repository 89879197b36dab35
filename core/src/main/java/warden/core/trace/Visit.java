package warden.core.trace;

import java.time.Instant;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;

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
    boolean fetches() {
        return method.equals("GET") || method.equals("HEAD");
    }

    /** Returns the condition keys of a request that comes to the bucket; what the survey cannot tell is unknown. */
    Context context(Optional<Boolean> secure, Map<String, ContextValue> more) {
        Map<String, ContextValue> values = new HashMap<>();
        values.put(
                "aws:SecureTransport",
                secure.<ContextValue>map(on -> Known.of(on.toString())).orElse(ContextValue.UNKNOWN));
        values.put("aws:SourceIp", ContextValue.UNKNOWN);
        values.put("aws:UserAgent", ContextValue.UNKNOWN);
        values.put("aws:CurrentTime", Known.of(at.toString()));
        values.put("aws:EpochTime", Known.of(Long.toString(at.getEpochSecond())));
        values.put("s3:TlsVersion", ContextValue.UNKNOWN);
        values.putAll(more);
        return Context.given(values);
    }
}
