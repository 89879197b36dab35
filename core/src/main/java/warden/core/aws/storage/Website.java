package warden.core.aws.storage;

import java.util.List;
import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;

/**
 * A bucket's static website hosting. Source: S3 API Reference, GetBucketWebsite.
 *
 * @param index the suffix of index documents; absent for a bucket that only redirects
 * @param error the key of the error document
 * @param redirectHost the host that all requests are sent to
 * @param redirectProtocol {@code http} or {@code https}; absent: as the request came
 * @param rules the routing rules in their order; the first that applies counts
 */
public record Website(
        Optional<String> index,
        Optional<String> error,
        Optional<String> redirectHost,
        Optional<String> redirectProtocol,
        List<RoutingRule> rules) {
    public Website {
        rules = List.copyOf(rules);
    }

    /**
     * One routing rule. Source: S3 User Guide, "Configure advanced conditional redirects".
     *
     * @param prefix the beginning of the keys that it is for; absent for all
     * @param errorCode the error that it is for; absent when it is not about errors
     * @param status the status of the redirect
     */
    public record RoutingRule(
            Pointer at,
            Optional<String> prefix,
            Optional<Integer> errorCode,
            Optional<String> host,
            Optional<String> protocol,
            int status,
            Optional<String> replacePrefix,
            Optional<String> replaceKey) {
        static RoutingRule parse(JsonPart part) {
            return new RoutingRule(
                    part.at(),
                    part.text("Condition", "KeyPrefixEquals"),
                    number(part.text("Condition", "HttpErrorCodeReturnedEquals")),
                    part.text("Redirect", "HostName"),
                    part.text("Redirect", "Protocol"),
                    number(part.text("Redirect", "HttpRedirectCode")).orElse(301),
                    part.text("Redirect", "ReplaceKeyPrefixWith"),
                    part.text("Redirect", "ReplaceKeyWith"));
        }

        private static Optional<Integer> number(Optional<String> text) {
            return text.filter(digits -> digits.matches("[0-9]{3}")).map(Integer::valueOf);
        }

        /** True when the rule is for a request of this key that has met no error. */
        public boolean appliesTo(String key) {
            return errorCode.isEmpty() && prefix.map(key::startsWith).orElse(true);
        }

        /** True when the rule is for a request of this key that has met this error. */
        public boolean appliesTo(String key, int error) {
            return errorCode.filter(code -> code == error).isPresent()
                    && prefix.map(key::startsWith).orElse(true);
        }

        /** Returns the key that a request of {@code key} is sent to. */
        public String target(String key) {
            if (replaceKey.isPresent()) {
                return replaceKey.get();
            }
            return replacePrefix
                    .map(with -> with + key.substring(prefix.orElse("").length()))
                    .orElse(key);
        }
    }

    static Website parse(JsonPart answer) {
        return new Website(
                answer.text("IndexDocument", "Suffix"),
                answer.text("ErrorDocument", "Key"),
                answer.text("RedirectAllRequestsTo", "HostName"),
                answer.text("RedirectAllRequestsTo", "Protocol"),
                answer.list("RoutingRules").stream().map(RoutingRule::parse).toList());
    }

    /** True when the bucket sends every request elsewhere and serves nothing itself. */
    public boolean redirectsAll() {
        return redirectHost.isPresent();
    }
}
