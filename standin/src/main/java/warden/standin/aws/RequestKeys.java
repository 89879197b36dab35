package warden.standin.aws;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.standin.UrlText;

/**
 * The condition keys that a request tells of itself.
 *
 * <p>Source: IAM User Guide, "AWS global condition context keys"; Service Authorization Reference, "Actions, resources, and condition keys for Amazon
 * S3"; S3 API Reference, "Amazon S3 Signature Version 4 authentication specific policy keys".
 */
final class RequestKeys {
    /** Headers whose value stands under a key of the same name behind {@code s3:}. */
    private static final List<String> HEADERS = List.of(
            "x-amz-acl",
            "x-amz-grant-read",
            "x-amz-grant-write",
            "x-amz-grant-read-acp",
            "x-amz-grant-write-acp",
            "x-amz-grant-full-control",
            "x-amz-metadata-directive",
            "x-amz-object-ownership",
            "x-amz-server-side-encryption",
            "x-amz-server-side-encryption-aws-kms-key-id",
            "x-amz-server-side-encryption-customer-algorithm",
            "x-amz-storage-class",
            "x-amz-website-redirect-location",
            "x-amz-content-sha256",
            "if-match",
            "if-none-match");

    private RequestKeys() {}

    /**
     * Returns the keys of a call.
     *
     * @param address from where it is taken to come; absent for where it came from
     */
    static Map<String, ContextValue> of(Call call, Optional<String> address, Clock clock) {
        Map<String, ContextValue> keys = new LinkedHashMap<>();
        // A call to the simulated endpoint is one to the provider's own, over TLS; what names a host in plain HTTP was
        // meant so.
        boolean isSecure = call.wire().isSecure()
                || call.wire().isToLoopback()
                || call.host().endsWith(".localhost");
        keys.put("aws:SecureTransport", Known.of(Boolean.toString(isSecure)));
        keys.put("aws:SourceIp", Known.of(address.orElse(call.wire().from())));
        keys.put("aws:CurrentTime", Known.of(clock.instant().toString()));
        keys.put("aws:EpochTime", Known.of(Long.toString(clock.instant().getEpochSecond())));
        call.header("user-agent").ifPresent(agent -> keys.put("aws:UserAgent", Known.of(agent)));
        call.header("referer").ifPresent(page -> keys.put("aws:Referer", Known.of(page)));
        if (!call.region().isEmpty()) {
            keys.put("aws:RequestedRegion", Known.of(call.region()));
        }
        if (call.session().isPresent()) {
            keys.put("aws:MultiFactorAuthPresent", Known.of("false"));
        }
        if (call.service().isEmpty() || call.service().equals("s3")) {
            ofStorage(call, keys, clock);
        }
        return keys;
    }

    private static void ofStorage(Call call, Map<String, ContextValue> keys, Clock clock) {
        for (String name : HEADERS) {
            call.header(name).ifPresent(value -> keys.put("s3:" + name, Known.of(value)));
        }
        call.header("x-amz-copy-source")
                .ifPresent(source -> keys.put("s3:x-amz-copy-source", Known.of(UrlText.unescaped(source))));
        call.parameter("versionId").ifPresent(id -> keys.put("s3:VersionId", Known.of(id)));
        signature(call, keys, clock);
        Map<String, String> tags = UrlText.form(call.header("x-amz-tagging").orElse(""));
        if (!tags.isEmpty()) {
            keys.putAll(requestTags(tags));
        }
    }

    /** Returns the keys of the tags that a request sets. */
    static Map<String, ContextValue> requestTags(Map<String, String> tags) {
        Map<String, ContextValue> keys = new HashMap<>();
        tags.forEach((name, value) -> keys.put("s3:RequestObjectTag/" + name, Known.of(value)));
        keys.put("s3:RequestObjectTagKeys", new Known(List.copyOf(tags.keySet())));
        return keys;
    }

    /** Returns the keys of a listing; what it does not say is not known to be empty or missing. */
    static Map<String, ContextValue> ofListing(Call call) {
        Map<String, ContextValue> keys = new HashMap<>();
        ContextValue emptyOrMissing = new ContextValue.OneOf(Language.matching(Glob.parse("")), true);
        for (String name : List.of("prefix", "delimiter")) {
            keys.put(
                    "s3:" + name,
                    call.parameter(name).<ContextValue>map(Known::of).orElse(emptyOrMissing));
        }
        call.parameter("max-keys").ifPresent(most -> keys.put("s3:max-keys", Known.of(most)));
        return keys;
    }

    private static void signature(Call call, Map<String, ContextValue> keys, Clock clock) {
        boolean byQuery = call.has("X-Amz-Signature") || call.has("Signature");
        boolean byHeader = call.headers().containsKey("authorization");
        if (!byQuery && !byHeader) {
            return;
        }
        keys.put("s3:authType", Known.of(byQuery ? "REST-QUERY-STRING" : "REST-HEADER"));
        boolean isOld = call.has("Signature")
                || call.header("authorization")
                        .filter(value -> value.startsWith("AWS "))
                        .isPresent();
        keys.put("s3:signatureversion", Known.of(isOld ? "AWS" : "AWS4-HMAC-SHA256"));
        if (byQuery && !isOld) {
            SignedCaller.time(call.query().getOrDefault("X-Amz-Date", ""))
                    .ifPresent(from -> keys.put("s3:signatureAge", Known.of(age(from, clock.instant()))));
        }
    }

    private static String age(Instant from, Instant now) {
        return Long.toString(Math.max(0, Duration.between(from, now).toMillis()));
    }

    /** Returns the keys as texts, for a record; what is not known for certain is left out, and so is what each call tells. */
    static Map<String, List<String>> spelled(Map<String, ContextValue> keys) {
        Map<String, List<String>> spelled = new TreeMap<>();
        keys.forEach((name, value) -> {
            boolean isToldByEachCall = name.toLowerCase(Locale.ROOT).startsWith("aws:")
                    || name.equals("s3:authType")
                    || name.equals("s3:signatureversion")
                    || name.equals("s3:signatureAge")
                    || name.equals("s3:x-amz-content-sha256");
            if (!isToldByEachCall && value instanceof Known known) {
                spelled.put(name, known.values());
            }
        });
        return spelled;
    }
}
