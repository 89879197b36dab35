package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.storage.Website;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.mend.Change;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;

/**
 * What to change in a distribution's configuration. Source: CloudFront API Reference, DistributionConfig, DefaultCacheBehavior,
 * ViewerCertificate, CustomErrorResponse.
 */
final class EdgeRemedies {
    /** The managed policy SecurityHeadersPolicy. Source: CloudFront Developer Guide, "Use managed response headers policies". */
    private static final String SECURITY_HEADERS = "67f7725c-6f97-4210-82d7-5512b31e9d03";

    /** The managed policy CachingOptimized, whose key holds the compressions that a viewer accepts. */
    private static final String CACHING_OPTIMIZED = "658327ea-f89d-4fab-a63d-7e88639e58f6";

    static final String LEAST_TLS = "TLSv1.2_2021";
    private static final List<String> ERROR_PAGES = List.of("404.html", "error.html", "404/index.html");

    private final AwsCloud cloud;
    private final Account account;
    private final Distribution distribution;

    EdgeRemedies(AwsCloud cloud, Account account, Distribution distribution) {
        this.cloud = cloud;
        this.account = account;
        this.distribution = distribution;
    }

    private Proposal config(Phase phase, String step, String title, EdgeConfig.Edit edit) {
        return Proposal.of(change(phase, step, title, edit));
    }

    private Change change(Phase phase, String step, String title, EdgeConfig.Edit edit) {
        return EdgeConfig.change(phase, step, account, distribution.arn(), title + " (" + called() + ")", edit);
    }

    /** A change that no visitor's answer rests on, whatever a function at the edge does. */
    private Proposal unseen(Phase phase, String step, String title, EdgeConfig.Edit edit) {
        return Proposal.of(
                EdgeConfig.unseen(phase, step, account, distribution.arn(), title + " (" + called() + ")", edit));
    }

    private String called() {
        return called(distribution);
    }

    private static String called(Distribution distribution) {
        return distribution.aliases().stream().findFirst().orElse(distribution.id());
    }

    /** Edits each behaviour; {@code at} is where it stands. */
    @FunctionalInterface
    private interface OfBehavior {
        String of(String config, String at, JsonPart behavior);
    }

    private static EdgeConfig.Edit behaviors(OfBehavior edit) {
        return (account, distribution, config) -> {
            String edited = config;
            for (String at : places(distribution)) {
                JsonPart part = at(config, at);
                edited = edit.of(edited, at, part);
            }
            return edited;
        };
    }

    private static List<String> places(Distribution distribution) {
        List<String> places = new ArrayList<>(List.of("/DefaultCacheBehavior"));
        for (int i = 0;
                i < distribution.config().list("CacheBehaviors", "Items").size();
                i++) {
            places.add("/CacheBehaviors/Items/" + i);
        }
        return places;
    }

    private static JsonPart at(String config, String pointer) {
        JsonPart part = JsonReader.read(config).root().orElseThrow();
        for (String token : pointer.substring(1).split("/")) {
            part = part instanceof JsonPart.JsonArray array
                    ? array.items().get(Integer.parseInt(token))
                    : part.find(token).orElseThrow();
        }
        return part;
    }

    Proposal redirectToTls() {
        return config(
                Phase.SWITCH,
                "redirect-to-https",
                "Redirect visitors from plain HTTP to HTTPS",
                behaviors((config, at, part) ->
                        part.text("ViewerProtocolPolicy").orElse("allow-all").equals("allow-all")
                                ? JsonEdit.set(config, at + "/ViewerProtocolPolicy", Json.text("redirect-to-https"))
                                : config));
    }

    Proposal leastTls() {
        return unseen(
                Phase.SWITCH,
                "raise-tls-floor",
                "Ask viewers for TLS 1.2 at least",
                (now, edge, config) ->
                        JsonEdit.set(config, "/ViewerCertificate/MinimumProtocolVersion", Json.text(LEAST_TLS)));
    }

    Proposal sharedAddresses() {
        return unseen(
                Phase.SWITCH,
                "serve-by-name",
                "Serve the certificate by the name that viewers ask for, not from dedicated addresses",
                (now, edge, config) ->
                        JsonEdit.set(config, "/ViewerCertificate/SSLSupportMethod", Json.text("sni-only")));
    }

    Proposal readingMethods() {
        return config(
                Phase.SHUT_OUT,
                "allow-reading-methods",
                "Pass on GET, HEAD and OPTIONS only",
                behaviors((config, at, part) -> isFromBucket(part) && changes(part)
                        ? JsonEdit.set(config, at + "/AllowedMethods", methods(part))
                        : config));
    }

    private boolean isFromBucket(JsonPart behavior) {
        return behavior.text("TargetOriginId")
                .flatMap(distribution::origin)
                .flatMap(Origin::bucket)
                .isPresent();
    }

    private static boolean changes(JsonPart behavior) {
        return behavior.texts("AllowedMethods", "Items").stream()
                .anyMatch(method -> !List.of("GET", "HEAD", "OPTIONS").contains(method));
    }

    private static String methods(JsonPart behavior) {
        return Json.text(Json.object(
                "Quantity",
                3,
                "Items",
                List.of("HEAD", "GET", "OPTIONS"),
                "CachedMethods",
                behavior.find("AllowedMethods", "CachedMethods")
                        .map(Object.class::cast)
                        .orElse(Json.object("Quantity", 2, "Items", List.of("HEAD", "GET")))));
    }

    Proposal securityHeaders() {
        boolean own = distribution.behaviors().stream()
                .anyMatch(behavior -> behavior.responseHeadersPolicy().isPresent());
        if (own) {
            return Proposal.byHand(
                    "a behaviour has a response headers policy of its own, which may be in use elsewhere",
                    "Add Strict-Transport-Security, X-Content-Type-Options and Referrer-Policy to the response headers policy of "
                            + called() + ".");
        }
        return unseen(
                Phase.GUARD,
                "send-security-headers",
                "Send the security headers of the managed SecurityHeadersPolicy",
                behaviors((config, at, part) ->
                        JsonEdit.set(config, at + "/ResponseHeadersPolicyId", Json.text(SECURITY_HEADERS))));
    }

    Proposal compress() {
        return unseen(Phase.TIDY, "compress", "Compress what the edge serves", behaviors((config, at, part) -> {
            String edited = JsonEdit.set(config, at + "/Compress", "true");
            return part.text("CachePolicyId").filter(id -> !id.isEmpty()).isPresent()
                            || part.find("ForwardedValues").isPresent()
                    ? edited
                    : JsonEdit.set(edited, at + "/CachePolicyId", Json.text(CACHING_OPTIMIZED));
        }));
    }

    Proposal rootObject() {
        Optional<String> index =
                bucket().filter(bucket -> holds(bucket, "index.html")).map(bucket -> "index.html");
        if (index.isEmpty()) {
            return Proposal.byHand(
                    "the bucket holds no index.html at its root, as far as it was listed",
                    "Upload the front page, and set the default root object to its key, without a slash in front.");
        }
        return config(
                Phase.SWITCH,
                "serve-front-page",
                "Answer / with " + index.get(),
                (now, edge, config) -> JsonEdit.set(config, "/DefaultRootObject", Json.text(index.get())));
    }

    private Optional<Bucket> bucket() {
        return distribution.defaultOrigin().flatMap(Origin::bucket).flatMap(name -> cloud.ownerOf(name)
                .map(owner -> owner.bucket(name)));
    }

    private static boolean holds(Bucket bucket, String key) {
        Optional<ObjectListing> objects = bucket.objects().found();
        return objects.isPresent() && objects.get().has(key) == Truth.TRUE;
    }

    /** Returns the page that the bucket has for errors: the one that its hosting names, or one of the usual names. */
    private Optional<String> errorPage() {
        return bucket().flatMap(bucket -> Stream.concat(
                        bucket.website().found().flatMap(Website::error).stream(), ERROR_PAGES.stream())
                .filter(key -> holds(bucket, key))
                .findFirst());
    }

    Proposal errorResponse() {
        Optional<String> page = errorPage();
        if (page.isEmpty()) {
            return Proposal.byHand(
                    "the bucket holds no error page, as far as it was listed",
                    "Upload a page such as 404.html, and answer 403 by a custom error response with it and status 404.");
        }
        return config(
                Phase.SWITCH,
                "answer-missing-pages",
                "Answer missing pages with " + page.get() + " and status 404",
                (now, edge, config) ->
                        edge.errorResponse(403).isPresent() ? config : answering(config, 403, "/" + page.get(), 404));
    }

    /** Every address that is no object's leads to the one page. */
    Proposal singlePage() {
        String index = distribution.rootObject().isEmpty() ? "index.html" : distribution.rootObject();
        return config(
                Phase.SWITCH,
                "route-to-one-page",
                "Answer every address with " + index,
                (now, edge, config) -> answering(answering(config, 403, "/" + index, 200), 404, "/" + index, 200));
    }

    /** A host can be listed only where the certificate covers it. Source: CloudFront Developer Guide, "Requirements for alternate domain names". */
    private Proposal list(Finding finding) {
        String host = finding.place().isEmpty() ? finding.subject() : finding.place();
        if (!isCovered(account, distribution, host)) {
            return Proposal.byHand(
                    "the distribution's certificate does not cover " + host,
                    "Have a certificate issued in us-east-1 that covers " + host
                            + ", show it, and add the host to the distribution.");
        }
        return Proposal.of(listing(account, distribution, host));
    }

    /** True where the certificate that a distribution shows is issued and covers a host. */
    static boolean isCovered(Account account, Distribution edge, String host) {
        return edge.certificate().managed().stream()
                .flatMap(arn -> account.names().certificates().stream()
                        .filter(each -> each.arn().equals(arn)))
                .anyMatch(certificate -> certificate.isIssued() && certificate.covers(host));
    }

    /** Lists a host. */
    static Change listing(Account account, Distribution distribution, String host) {
        return EdgeConfig.change(
                Phase.LET_IN,
                "list-host",
                account,
                distribution.arn(),
                "List " + host + " among the hosts of the distribution (" + called(distribution) + ")",
                (now, edge, config) -> listing(edge, config, host));
    }

    /** Returns a configuration that lists a host. */
    private static String listing(Distribution edge, String config, String host) {
        List<String> aliases = new ArrayList<>(edge.config().texts("Aliases", "Items"));
        if (aliases.contains(host)) {
            return config;
        }
        aliases.add(host);
        return JsonEdit.set(config, "/Aliases", Json.text(Json.object("Quantity", aliases.size(), "Items", aliases)));
    }

    /** Returns a configuration that answers an origin's error with a page. */
    static String answering(String config, int code, String page, int status) {
        JsonPart root = JsonReader.read(config).root().orElseThrow();
        List<Object> items = new ArrayList<>();
        root.list("CustomErrorResponses", "Items").stream()
                .filter(item -> !item.text("ErrorCode").equals(Optional.of(Integer.toString(code))))
                .forEach(items::add);
        items.add(Json.object(
                "ErrorCode",
                code,
                "ResponsePagePath",
                page,
                "ResponseCode",
                Integer.toString(status),
                "ErrorCachingMinTTL",
                10));
        return JsonEdit.set(
                config, "/CustomErrorResponses", Json.text(Json.object("Quantity", items.size(), "Items", items)));
    }

    Proposal regionalOrigins() {
        return config(
                Phase.SWITCH, "name-bucket-by-region", "Name the bucket by its regional name", (now, edge, config) -> {
                    String edited = config;
                    for (int i = 0; i < edge.origins().size(); i++) {
                        Origin origin = edge.origins().get(i);
                        Optional<String> region = origin.bucket()
                                .filter(name -> origin.isRest())
                                .filter(name -> now.ownsBucket(name) == Truth.TRUE)
                                .flatMap(name -> now.bucket(name).region().found());
                        if (region.isPresent()) {
                            edited = JsonEdit.set(
                                    edited,
                                    "/Origins/Items/" + i + "/DomainName",
                                    Json.text(SealBucket.regionalName(
                                            origin.bucket().orElseThrow(), region.get())));
                        }
                    }
                    return edited;
                });
    }

    /** Returns what to do about a finding that is about this distribution; absent for checks that are not about its configuration. */
    Optional<Proposal> of(Finding finding) {
        return Optional.ofNullable(
                switch (finding.card().id()) {
                    case "viewer-plain-http" -> redirectToTls();
                    case "viewer-tls-old" -> leastTls();
                    case "dedicated-ip-tls" -> sharedAddresses();
                    case "viewer-methods-too-wide" -> readingMethods();
                    case "security-headers-missing" -> securityHeaders();
                    case "compression-off" -> compress();
                    case "root-object-missing" -> rootObject();
                    case "error-response-missing" -> errorResponse();
                    case "origin-wrong-region" -> regionalOrigins();
                    case "host-not-on-distribution" -> list(finding);
                    case "single-page-unrouted" -> singlePage();
                    default -> null;
                });
    }
}
