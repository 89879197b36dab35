package warden.core.storage;

import java.util.Optional;
import warden.core.document.JsonPart;

/**
 * A bucket's static website hosting. Source: S3 API Reference, GetBucketWebsite.
 *
 * @param index the suffix of index documents; absent for a bucket that only redirects
 * @param error the key of the error document
 * @param redirectHost the host that all requests are sent to
 * @param redirectProtocol {@code http} or {@code https}; absent: as the request came
 * @param hasRoutingRules whether there are routing rules
 */
public record Website(
        Optional<String> index,
        Optional<String> error,
        Optional<String> redirectHost,
        Optional<String> redirectProtocol,
        boolean hasRoutingRules) {

    static Website parse(JsonPart answer) {
        return new Website(
                answer.text("IndexDocument", "Suffix"),
                answer.text("ErrorDocument", "Key"),
                answer.text("RedirectAllRequestsTo", "HostName"),
                answer.text("RedirectAllRequestsTo", "Protocol"),
                !answer.list("RoutingRules").isEmpty());
    }

    /** True when the bucket sends every request elsewhere and serves nothing itself. */
    public boolean redirectsAll() {
        return redirectHost.isPresent();
    }
}
