package warden.core.aws.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.algebra.Glob;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;

/**
 * How a distribution treats the requests for some paths. Source: CloudFront API Reference, CacheBehavior.
 *
 * @param pathPattern absent for the default behaviour
 * @param methods the viewer methods that are passed on; GET and HEAD where the answer names none
 * @param edgeFunctions the functions that run at the edge for it
 * @param cachePolicy the id of its cache policy; absent when it holds its times itself
 * @param ownTimes the times that the behaviour itself sets; absent when a cache policy does
 * @param forwardedHeaders the viewer headers that the behaviour itself forwards, in lower case; {@code *} for all
 * @param signedOnly whether viewers must bring a signed address or cookie
 */
public record Behavior(
        Pointer at,
        Optional<String> pathPattern,
        String originId,
        String viewerProtocol,
        List<String> methods,
        List<EdgeFunction> edgeFunctions,
        Optional<String> cachePolicy,
        Optional<CacheTimes> ownTimes,
        Optional<String> originRequestPolicy,
        Optional<String> responseHeadersPolicy,
        List<String> forwardedHeaders,
        boolean compresses,
        boolean signedOnly) {
    /** A function at the edge; {@code event} is viewer-request, origin-request, origin-response or viewer-response. */
    public record EdgeFunction(String arn, String event) {
        /** True when the function sees requests, so that it may answer itself or ask for something else. */
        public boolean mayRewrite() {
            return event.endsWith("-request");
        }
    }

    public Behavior {
        methods = List.copyOf(methods);
        edgeFunctions = List.copyOf(edgeFunctions);
        forwardedHeaders = List.copyOf(forwardedHeaders);
    }

    static Behavior parse(JsonPart part) {
        List<EdgeFunction> functions = new ArrayList<>();
        functions(part, "FunctionAssociations", "FunctionARN", functions);
        functions(part, "LambdaFunctionAssociations", "LambdaFunctionARN", functions);
        List<String> methods = part.texts("AllowedMethods", "Items");
        boolean ownTimes =
                part.text("MinTTL").isPresent() || part.find("ForwardedValues").isPresent();
        return new Behavior(
                part.at(),
                part.text("PathPattern"),
                part.text("TargetOriginId").orElse(""),
                part.text("ViewerProtocolPolicy").orElse("allow-all"),
                methods.isEmpty() ? List.of("GET", "HEAD") : methods,
                functions,
                part.text("CachePolicyId").filter(id -> !id.isEmpty()),
                ownTimes ? Optional.of(CacheTimes.parse(part)) : Optional.empty(),
                part.text("OriginRequestPolicyId").filter(id -> !id.isEmpty()),
                part.text("ResponseHeadersPolicyId").filter(id -> !id.isEmpty()),
                part.texts("ForwardedValues", "Headers", "Items").stream()
                        .map(name -> name.toLowerCase(java.util.Locale.ROOT))
                        .toList(),
                part.flag("Compress").orElse(false),
                part.flag("TrustedSigners", "Enabled").orElse(false)
                        || part.flag("TrustedKeyGroups", "Enabled").orElse(false));
    }

    private static void functions(JsonPart part, String list, String arn, List<EdgeFunction> out) {
        for (JsonPart item : part.list(list, "Items")) {
            item.text(arn)
                    .ifPresent(name -> out.add(
                            new EdgeFunction(name, item.text("EventType").orElse("viewer-request"))));
        }
    }

    /**
     * True when the behaviour is for this path, which begins with a slash. A pattern may leave the first slash out.
     * Source: CloudFront Developer Guide, "Cache behavior settings", section "Path pattern".
     */
    public boolean isFor(String path) {
        if (pathPattern.isEmpty()) {
            return true;
        }
        String pattern = pathPattern.get();
        boolean rooted = pattern.startsWith("/") || pattern.startsWith("*");
        return Glob.parse(rooted ? pattern : "/" + pattern).matches(path);
    }

    /** Names the behaviour in a sentence. */
    public String called() {
        return pathPattern.map(pattern -> "the behaviour " + pattern).orElse("the default behaviour");
    }
}
