package warden.core.aws.cdn;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/**
 * The policies that behaviours name: for caching, for what is passed to the origin, for headers of the answer. What the survey
 * does not hold of those that the provider manages is taken from a built-in copy.
 *
 * <p>Source: CloudFront Developer Guide, "Use managed cache policies", "Use managed origin request policies", "Use managed
 * response headers policies".
 */
public final class EdgePolicies {
    /** The managed origin request policy that passes every viewer header on but the host's. */
    public static final String ALL_VIEWER_EXCEPT_HOST = "b689b0a8-53d0-40ab-baf2-68738e2966ac";

    private static final CacheTimes OPTIMIZED = new CacheTimes(1, 86_400, 31_536_000);
    private static final CacheTimes BY_ORIGIN = new CacheTimes(0, 0, 31_536_000);
    private static final Map<String, CacheTimes> MANAGED_TIMES = Map.of(
            "658327ea-f89d-4fab-a63d-7e88639e58f6", OPTIMIZED,
            "b2884449-e4de-46a7-ac36-70bc7f1ddd6d", OPTIMIZED,
            "4135ea2d-6df8-44a3-9df3-4b5a84be39ad", new CacheTimes(0, 0, 0),
            "2e54312d-136d-493c-8eb9-b001f22f67d2", new CacheTimes(2, 2, 600),
            "83da9c7e-98b4-4e11-a168-04f0df8e2c65", BY_ORIGIN,
            "4cc15a8a-d715-48a4-82b8-cc0b614638fe", BY_ORIGIN);
    /** The managed policies that pass every viewer header on, the host's included. */
    private static final Set<String> ALL_VIEWER =
            Set.of("216adef6-5c7f-47e4-b989-5492eafa07d3", "33f36d7e-f396-46d9-90e0-52428a34d9dc");
    /** The managed policies that leave the host header out. */
    private static final Map<String, Set<String>> MANAGED_FORWARDED = Map.of(
            ALL_VIEWER_EXCEPT_HOST,
            Set.of("user-agent", "referer"),
            "acba4595-bd28-49b8-b9fe-13317c0390fa",
            Set.of("user-agent", "referer"),
            "88a5eaf4-2fd4-4709-b370-b4c650ea3fcf",
            Set.of("origin"),
            "59781a5b-3903-41f3-afcb-af62929ccde1",
            Set.of("origin"),
            "775133bc-15f2-49f9-abea-afb2e0bf67d2",
            Set.of("origin"));

    private static final Set<String> ALL_SECURITY =
            Set.of("hsts", "content-type-options", "frame-options", "referrer-policy");
    private static final Map<String, Set<String>> MANAGED_HEADERS = Map.of(
            "67f7725c-6f97-4210-82d7-5512b31e9d03", ALL_SECURITY,
            "e61eb60c-9c35-4d20-a928-2b84e02af89c", ALL_SECURITY,
            "eaab4381-ed33-4a86-88ca-d9558dc6cd63", ALL_SECURITY,
            "60669652-455b-4ae9-85a4-c4c02393f86c", Set.of(),
            "5cc3b908-e619-4b99-88e5-2cf7f45965bd", Set.of());
    /** By lower-case header name: what a header that is set by hand counts as. */
    private static final Map<String, String> BY_HEADER = Map.of(
            "strict-transport-security", "hsts",
            "x-content-type-options", "content-type-options",
            "x-frame-options", "frame-options",
            "content-security-policy", "content-security-policy",
            "referrer-policy", "referrer-policy");

    private final Survey survey;
    /** A few policies are named by very many behaviours. */
    private final Map<String, Reading<JsonPart>> documents = new ConcurrentHashMap<>();

    public EdgePolicies(Survey survey) {
        this.survey = survey;
    }

    private Reading<JsonPart> reading(String aspect, String id) {
        return documents.computeIfAbsent(aspect + " " + id, key -> survey.reading(aspect, id));
    }

    /** Returns the times for which a behaviour keeps objects; the citation is the distribution's where no policy was read. */
    public Reading<CacheTimes> times(Behavior behavior, Citation distribution) {
        if (behavior.cachePolicy().isEmpty()) {
            CacheTimes own = behavior.ownTimes().orElse(new CacheTimes(0, 86_400, 31_536_000));
            return new Reading.Found<>(own, distribution);
        }
        String id = behavior.cachePolicy().get();
        if (!survey.asked("cache-policy", id) && MANAGED_TIMES.containsKey(id)) {
            return new Reading.Found<>(MANAGED_TIMES.get(id), distribution);
        }
        return reading("cache-policy", id).map(answer -> {
            JsonPart policy = answer.find("CachePolicy").orElse(answer);
            return CacheTimes.parse(policy.find("CachePolicyConfig").orElse(policy));
        });
    }

    /** Returns the viewer headers, in lower case, that reach the origin; {@code *} stands for all, the host's included. */
    public Reading<Set<String>> forwarded(Behavior behavior, Citation distribution) {
        Set<String> headers = new TreeSet<>(behavior.forwardedHeaders());
        if (behavior.originRequestPolicy().isEmpty()) {
            return new Reading.Found<>(headers, distribution);
        }
        String id = behavior.originRequestPolicy().get();
        if (!survey.asked("origin-request-policy", id) && ALL_VIEWER.contains(id)) {
            return new Reading.Found<>(Set.of("*"), distribution);
        }
        if (!survey.asked("origin-request-policy", id) && MANAGED_FORWARDED.containsKey(id)) {
            return new Reading.Found<>(MANAGED_FORWARDED.get(id), distribution);
        }
        return reading("origin-request-policy", id).map(answer -> forwardedBy(answer, headers));
    }

    private static Set<String> forwardedBy(JsonPart answer, Set<String> headers) {
        JsonPart policy = answer.find("OriginRequestPolicy").orElse(answer);
        JsonPart config = policy.find("OriginRequestPolicyConfig").orElse(policy);
        Set<String> named = new TreeSet<>(headers);
        config.texts("HeadersConfig", "Headers", "Items")
                .forEach(name -> named.add(name.toLowerCase(java.util.Locale.ROOT)));
        String mode = config.text("HeadersConfig", "HeaderBehavior").orElse("none");
        return switch (mode) {
            case "allViewer", "allViewerAndWhitelistCloudFront" -> Set.of("*");
            case "allExcept" -> named.contains("host") ? Set.of("user-agent", "referer") : Set.of("*");
            case "whitelist" -> named;
            default -> headers;
        };
    }

    private static boolean forgets(JsonPart header) {
        return header.text("Header").orElse("").equalsIgnoreCase("strict-transport-security")
                && header.text("Value").orElse("").replaceAll("\\s", "").matches("(?i)(.*;)?max-age=\"?0+\"?(;.*)?");
    }

    /** Returns which protections the edge adds to answers: hsts, content-type-options, frame-options and so on. */
    public Reading<Set<String>> securityHeaders(Behavior behavior, Citation distribution) {
        if (behavior.responseHeadersPolicy().isEmpty()) {
            return new Reading.Found<>(Set.of(), distribution);
        }
        String id = behavior.responseHeadersPolicy().get();
        if (!survey.asked("response-headers-policy", id) && MANAGED_HEADERS.containsKey(id)) {
            return new Reading.Found<>(MANAGED_HEADERS.get(id), distribution);
        }
        return reading("response-headers-policy", id).map(answer -> {
            JsonPart policy = answer.find("ResponseHeadersPolicy").orElse(answer);
            JsonPart config = policy.find("ResponseHeadersPolicyConfig").orElse(policy);
            Set<String> set = new TreeSet<>();
            Map<String, String> members = Map.of(
                    "StrictTransportSecurity", "hsts",
                    "ContentTypeOptions", "content-type-options",
                    "FrameOptions", "frame-options",
                    "ContentSecurityPolicy", "content-security-policy",
                    "ReferrerPolicy", "referrer-policy");
            members.forEach((member, name) ->
                    config.find("SecurityHeadersConfig", member).ifPresent(part -> set.add(name)));
            // With no time to keep it, a browser forgets at once what it was told.
            config.text("SecurityHeadersConfig", "StrictTransportSecurity", "AccessControlMaxAgeSec")
                    .filter("0"::equals)
                    .ifPresent(none -> set.remove("hsts"));
            List<JsonPart> custom = config.list("CustomHeadersConfig", "Items");
            custom.stream().filter(header -> !forgets(header)).forEach(header -> Optional.ofNullable(
                            BY_HEADER.get(header.text("Header").orElse("").toLowerCase(java.util.Locale.ROOT)))
                    .ifPresent(set::add));
            return set;
        });
    }
}
