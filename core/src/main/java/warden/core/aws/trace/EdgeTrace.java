package warden.core.aws.trace;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.CacheTimes;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.EdgePolicies;
import warden.core.aws.cdn.ErrorResponse;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.OriginControl;
import warden.core.aws.cdn.OriginGroup;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.aws.reach.BucketMatrix;
import warden.core.aws.reach.Grantee;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectHead;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.document.DisplayText;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.trace.Journal;
import warden.core.trace.Outcome;
import warden.core.trace.OutcomeSet;
import warden.core.trace.Remedy;
import warden.core.trace.Step.At;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;

/**
 * What a distribution answers.
 *
 * <p>Source: CloudFront Developer Guide, "Cache behavior settings", "Specify a default root object", "Generate custom error
 * responses", "Request and response behavior for Amazon S3 origins" and "... for custom origins".
 */
final class EdgeTrace {
    private static final String EDGE_AGENT = "Amazon CloudFront";
    private final Account account;
    private final Evaluator evaluator;
    private final Journal journal;

    EdgeTrace(Account account, Evaluator evaluator, Journal journal) {
        this.account = account;
        this.evaluator = evaluator;
        this.journal = journal;
    }

    /** Returns the engine of the surveyed account that owns a bucket; the distribution's own where none is known to. */
    private Evaluator ownerOf(String bucket) {
        return evaluator.owning(bucket).orElse(evaluator);
    }

    /** Returns a remedy that sets one place of the distribution; in words only where none is tried. */
    private Remedy configured(Distribution distribution, String says, String pointer, String value) {
        if (!journal.triesRemedies()) {
            return Remedy.inWords(says);
        }
        return Remedy.setting(says, account, "distribution", distribution.arn(), pointer, value);
    }

    /** What to do when the edge asks the bucket for no object. */
    private Remedy rootObject(Distribution distribution, Bucket bucket) {
        Optional<String> index = Stream.of("index.html", "index.htm")
                .filter(key -> bucket.objects()
                        .found()
                        .filter(listing -> listing.has(key) == Truth.TRUE)
                        .isPresent())
                .findFirst();
        return index.map(key -> configured(
                        distribution,
                        "Set the distribution's default root object to " + key + ".",
                        distribution.config().at() + "/DefaultRootObject",
                        "\"" + key + "\""))
                .orElse(Remedy.inWords("Set the distribution's default root object to the index document."));
    }

    /** Follows a request that has reached the distribution. */
    OutcomeSet follow(Distribution distribution, Visit visit) {
        if (!distribution.enabled()) {
            journal.step(
                    At.EDGE, "The distribution " + distribution.id() + " is disabled.", distribution.cite("Enabled"));
            journal.decides(configured(
                    distribution,
                    "Enable the distribution, or lead the host elsewhere.",
                    distribution.config().at() + "/Enabled",
                    "true"));
            return OutcomeSet.of(
                    Outcome.of(403),
                    Outcome.of(Outcome.Failure.NAME_NOT_FOUND),
                    Outcome.of(Outcome.Failure.CANNOT_CONNECT));
        }
        WebAddress address = visit.address();
        Optional<Behavior> found = distribution.behaviorFor(address.decodedPath());
        if (found.isEmpty()) {
            journal.step(
                    At.EDGE, "The answer about the distribution shows no behaviour for this path.", distribution.at());
            journal.decides("");
            return OutcomeSet.anything();
        }
        Behavior behavior = found.get();
        journal.step(
                At.EDGE,
                "The distribution " + distribution.id() + " has the host; " + behavior.called() + " is for this path.",
                distribution.cite(behavior));
        if (!address.secure() && behavior.viewerProtocol().equals("redirect-to-https")) {
            WebAddress secured =
                    new WebAddress(true, address.host(), address.port(), address.path(), address.query(), List.of());
            journal.step(At.EDGE, "It sends plain HTTP to HTTPS.", distribution.cite(behavior));
            journal.decides("");
            return OutcomeSet.of(Outcome.redirect(301, secured.toString()));
        }
        if (!address.secure() && behavior.viewerProtocol().equals("https-only")) {
            journal.step(At.EDGE, "It refuses plain HTTP.", distribution.cite(behavior));
            journal.decides(configured(
                    distribution,
                    "Set the viewer protocol policy to redirect-to-https, so that old links still work.",
                    behavior.at() + "/ViewerProtocolPolicy",
                    "\"redirect-to-https\""));
            return OutcomeSet.of(Outcome.of(403));
        }
        if (!behavior.methods().contains(visit.method())) {
            journal.step(
                    At.EDGE,
                    "It does not pass " + DisplayText.name(visit.method()) + " on.",
                    distribution.cite(behavior));
            journal.decides("");
            return OutcomeSet.of(Outcome.of(403));
        }
        if (behavior.signedOnly()) {
            journal.step(At.EDGE, "It serves signed addresses and cookies only.", distribution.cite(behavior));
            journal.decides("");
            return OutcomeSet.of(Outcome.of(403));
        }
        OutcomeSet fate = served(distribution, behavior, visit);
        return gated(distribution, behavior, fate);
    }

    /** Adds what a firewall, a country list or a rollout may make of the request. */
    private OutcomeSet gated(Distribution distribution, Behavior behavior, OutcomeSet fate) {
        OutcomeSet result = fate;
        String firewall = distribution.config().text("WebACLId").orElse("");
        if (!firewall.isEmpty()) {
            journal.need(
                    new Need("web-acl", firewall, "what the web firewall lets through is not part of a survey", ""));
            journal.step(
                    At.EDGE,
                    "A web firewall stands in front; what it blocks is not known here.",
                    distribution.cite("WebACLId"));
            result = result.or(OutcomeSet.of(Outcome.of(403)));
        }
        String countries = distribution
                .config()
                .text("Restrictions", "GeoRestriction", "RestrictionType")
                .orElse("none");
        if (!countries.equals("none")) {
            journal.need(new Need("distribution", distribution.arn(), "where the visitor comes from", ""));
            journal.step(At.EDGE, "Visitors of some countries are refused.", distribution.cite("Restrictions"));
            result = result.or(OutcomeSet.of(Outcome.of(403)));
        }
        if (!distribution.status().isEmpty() && !distribution.status().equals("Deployed")) {
            journal.need(new Need("distribution", distribution.arn(), "its last change is still being rolled out", ""));
            journal.step(
                    At.EDGE,
                    "The distribution's last change is still being rolled out; until then some visitors get the old state.",
                    distribution.at());
            result = OutcomeSet.anything(result);
        }
        return result;
    }

    private OutcomeSet served(Distribution distribution, Behavior behavior, Visit visit) {
        Optional<Behavior.EdgeFunction> function = behavior.edgeFunctions().stream()
                .filter(Behavior.EdgeFunction::mayRewrite)
                .findFirst();
        String path = visit.address().decodedPath();
        if (path.equals("/") && !distribution.rootObject().isEmpty()) {
            path = "/" + distribution.rootObject();
            journal.step(
                    At.EDGE,
                    "The default root object is " + DisplayText.name(distribution.rootObject()) + ".",
                    distribution.cite("DefaultRootObject"));
        } else if (path.equals("/")) {
            journal.step(At.EDGE, "No default root object is set.", distribution.at());
        }
        OutcomeSet fate = withErrorPage(distribution, behavior, visit, path);
        if (function.isPresent()) {
            journal.need(
                    new Need("edge-function", function.get().arn(), "what an edge function does is not modelled", ""));
            journal.step(
                    At.EDGE,
                    "A function at the edge (" + function.get().event()
                            + ") may change the request or answer it; what it does is not modelled.",
                    distribution.cite(behavior));
            journal.decidesInstead("");
            return OutcomeSet.anything(fate);
        }
        return fate;
    }

    private OutcomeSet withErrorPage(Distribution distribution, Behavior behavior, Visit visit, String path) {
        OutcomeSet fate = fetched(distribution, behavior, visit, path);
        return fate.then(outcome -> {
            Optional<ErrorResponse> response = outcome.status().isPresent()
                    ? distribution.errorResponse(outcome.status().getAsInt())
                    : Optional.empty();
            return response.isPresent() && outcome.isError()
                    ? errorPage(distribution, visit, outcome, response.get())
                    : OutcomeSet.of(outcome);
        });
    }

    /** The page is fetched through the behaviour for its own path; when that fails, its own error is what visitors get. */
    private OutcomeSet errorPage(Distribution distribution, Visit visit, Outcome error, ErrorResponse response) {
        String page = response.page().orElseThrow();
        int status = response.status().orElse(error.status().getAsInt());
        String decoded = WebAddress.decoded(page).orElse(page);
        Optional<Behavior> behavior = distribution.behaviorFor(decoded);
        Citation at = distribution.at().at(response.at().toString(), page);
        journal.step(
                At.EDGE,
                "A custom error response answers " + error.status().getAsInt() + " with the page "
                        + DisplayText.name(page) + " and status " + status + ".",
                at);
        if (behavior.isEmpty()) {
            return OutcomeSet.anything();
        }
        Visit forPage = new Visit(visit.address().withPath(WebAddress.escapedKey(decoded)), "GET", visit.at());
        OutcomeSet fate = fetched(distribution, behavior.get(), forPage, decoded);
        return fate.then(outcome -> {
            if (outcome.isPage()) {
                return OutcomeSet.of(outcome.under(status));
            }
            journal.step(At.EDGE, "The error page itself cannot be fetched (" + outcome.said() + ").", at);
            return outcome.status().equals(error.status()) || outcome.status().isEmpty()
                    ? OutcomeSet.of(error)
                    : OutcomeSet.of(outcome, error);
        });
    }

    private OutcomeSet fetched(Distribution distribution, Behavior behavior, Visit visit, String path) {
        Optional<OriginGroup> group = distribution.group(behavior);
        List<Origin> origins = distribution.originsOf(behavior);
        int needed = group.map(each -> each.members().size()).orElse(1);
        if (origins.isEmpty() || origins.size() < needed) {
            journal.step(
                    At.ORIGIN,
                    "The origin \"" + DisplayText.name(behavior.originId())
                            + "\" is not in the answer; what it gives is not worked out.",
                    distribution.cite(behavior));
            journal.need(new Need("distribution", distribution.arn(), "an origin is not in the answer", ""));
            journal.decides("");
            return OutcomeSet.anything();
        }
        OutcomeSet first = fetched(distribution, behavior, origins.get(0), visit, path);
        if (group.isEmpty() || origins.size() < 2) {
            return first;
        }
        Citation at =
                distribution.at().at(group.get().at().toString(), group.get().id());
        return first.then(outcome -> {
            int status = outcome.status().orElse(0);
            boolean surely = group.get().failsOver(visit.method(), status);
            if (!surely && !group.get().mayFailOver(visit.method(), status)) {
                return OutcomeSet.of(outcome);
            }
            journal.step(
                    At.ORIGIN,
                    "With " + status + " the first origin of the group "
                            + DisplayText.name(group.get().id())
                            + (surely
                                    ? " has failed: the second is asked."
                                    : " may have failed: then the second is asked."),
                    at);
            journal.decidesNothing();
            OutcomeSet second = fetched(distribution, behavior, origins.get(1), visit, path);
            return surely && !OriginGroup.mayBeTheEdges(status) ? second : second.or(OutcomeSet.of(outcome));
        });
    }

    private OutcomeSet fetched(Distribution distribution, Behavior behavior, Origin origin, Visit visit, String path) {
        Optional<StorageEndpoint> storage = origin.storage();
        if (storage.isEmpty() || storage.get().bucket().isEmpty()) {
            journal.step(
                    At.ORIGIN,
                    "The origin " + DisplayText.name(origin.domain())
                            + " is not a bucket; what it answers is not part of a survey.",
                    distribution.cite(origin));
            journal.need(new Need("origin", origin.domain(), "an origin that is not a bucket is not surveyed", ""));
            journal.decides("");
            return OutcomeSet.anything();
        }
        String name = storage.get().bucket().get();
        Optional<Evaluator> owner = evaluator.owning(name);
        Truth owned = account.ownsBucket(name);
        if (owner.isEmpty()) {
            journal.step(
                    At.ORIGIN,
                    "The origin's bucket " + DisplayText.name(name)
                            + (owned == Truth.FALSE ? " is not in the surveyed account." : " was not surveyed."),
                    distribution.cite(origin));
            journal.need(new Need(
                    "bucket-policy",
                    Bucket.arnOf(name),
                    owned == Truth.FALSE ? "the bucket is not in the surveyed account" : "never asked",
                    "s3:GetBucketPolicy"));
            journal.decides(owned == Truth.FALSE ? "Create the bucket in your own account, or remove the origin." : "");
            return OutcomeSet.anything(OutcomeSet.of(Outcome.of(404)));
        }
        Bucket bucket = owner.get().account().bucket(name);
        Optional<OutcomeSet> misdirected = misdirected(distribution, behavior, origin, bucket, visit);
        if (misdirected.isPresent()) {
            return misdirected.get();
        }
        return origin.isWebsite()
                ? fromWebsite(distribution, behavior, origin, bucket, visit, path)
                : fromRest(distribution, behavior, origin, bucket, visit, path);
    }

    /** Where the viewer's host header or a wrong region keeps the request from the bucket. */
    private Optional<OutcomeSet> misdirected(
            Distribution distribution, Behavior behavior, Origin origin, Bucket bucket, Visit visit) {
        Reading<Set<String>> forwarded = account.edges().policies().forwarded(behavior, distribution.at());
        if (forwarded.isUnread()) {
            forwarded.missing().ifPresent(journal::need);
            journal.step(At.ORIGIN, "Which viewer headers reach the origin was not read.", distribution.cite(behavior));
            return Optional.of(OutcomeSet.anything());
        }
        Set<String> headers = forwarded.found().orElse(Set.of());
        boolean hostPassed = headers.contains("*") || headers.contains("host");
        if (hostPassed && !bucket.name().equals(visit.address().host())) {
            journal.step(
                    At.ORIGIN,
                    "The viewer's Host header is passed to the bucket's endpoint, which looks for a bucket called "
                            + visit.address().host() + ".",
                    distribution.cite(behavior));
            journal.decides(configured(
                    distribution,
                    "Leave Host out of what is passed to the origin (the managed policy AllViewerExceptHostHeader does).",
                    behavior.at() + "/OriginRequestPolicyId",
                    "\"" + EdgePolicies.ALL_VIEWER_EXCEPT_HOST + "\""));
            return Optional.of(
                    origin.isWebsite()
                            ? OutcomeSet.of(Outcome.of(404))
                            : OutcomeSet.of(Outcome.of(403), Outcome.of(404)));
        }
        Optional<String> asked = origin.storage().flatMap(StorageEndpoint::region);
        Optional<String> lies = bucket.region().found();
        if (asked.isPresent() && lies.isPresent() && !asked.equals(lies)) {
            journal.step(
                    At.ORIGIN,
                    "The origin's domain names the region " + asked.get() + ", and the bucket lies in " + lies.get()
                            + ".",
                    distribution.cite(origin));
            journal.decides(configured(
                    distribution,
                    "Put the bucket's own region into the origin's domain.",
                    origin.at() + "/DomainName",
                    "\"" + origin.domain().replace(asked.get(), lies.get()) + "\""));
            return Optional.of(OutcomeSet.of(Outcome.of(301), Outcome.of(400), Outcome.of(404), Outcome.of(307)));
        }
        return Optional.empty();
    }

    private OutcomeSet fromWebsite(
            Distribution distribution, Behavior behavior, Origin origin, Bucket bucket, Visit visit, String path) {
        String protocol = origin.protocol().orElse("http-only");
        boolean byTls = protocol.equals("https-only")
                || (protocol.equals("match-viewer") && visit.address().secure());
        if (byTls) {
            journal.step(
                    At.ORIGIN,
                    "The edge speaks HTTPS to the website endpoint, which speaks plain HTTP only.",
                    distribution.cite(origin));
            journal.decides(configured(
                    distribution,
                    "Set the origin's protocol policy to http-only, or use the bucket's REST endpoint.",
                    origin.at() + "/CustomOriginConfig/OriginProtocolPolicy",
                    "\"http-only\""));
            return OutcomeSet.of(Outcome.of(502), Outcome.of(504));
        }
        journal.step(
                At.ORIGIN,
                "The edge asks the website endpoint of " + bucket.name() + " over plain HTTP, unsigned.",
                distribution.cite(origin));
        WebAddress viewer = visit.address();
        WebAddress seen = new WebAddress(
                false,
                origin.domain().toLowerCase(Locale.ROOT),
                java.util.OptionalInt.empty(),
                viewer.path(),
                viewer.query(),
                List.of());
        return new StorageTrace(ownerOf(bucket.name()), journal)
                .website(
                        bucket,
                        new StorageTrace.Asked(viewer, seen, origin.key(path)),
                        visit,
                        added(behavior, distribution, origin));
    }

    private OutcomeSet fromRest(
            Distribution distribution, Behavior behavior, Origin origin, Bucket bucket, Visit visit, String path) {
        Grantee edge = BucketMatrix.edge(distribution, origin, account);
        Actor who = edge.who();
        String signing = "unsigned";
        if (origin.control().isPresent()) {
            Reading<OriginControl> control =
                    account.edges().originControl(origin.control().get());
            if (control.isUnread()) {
                control.missing().ifPresent(journal::need);
                journal.step(At.ORIGIN, "How the origin access control signs was not read.", distribution.cite(origin));
                journal.decides("");
                return OutcomeSet.anything();
            }
            OriginControl value = control.found().orElse(new OriginControl("never", "s3"));
            if (!value.originType().isEmpty() && !value.originType().equals("s3")) {
                journal.step(
                        At.ORIGIN,
                        "The origin access control is of the type " + DisplayText.name(value.originType())
                                + ", not s3.",
                        control.citation());
                journal.decides("Use an origin access control of the type s3.");
                return OutcomeSet.of(Outcome.of(403), Outcome.of(400));
            }
            boolean never = value.signs().equals("never");
            who = never ? new Actor.Anyone() : who;
            signing =
                    never ? "unsigned, since its origin access control never signs" : "signed by origin access control";
        } else if (origin.identity().isPresent()) {
            signing = "as the origin access identity " + origin.identity().get();
        }
        journal.step(
                At.ORIGIN,
                "The edge asks the REST endpoint of " + bucket.name() + " for "
                        + DisplayText.name("/" + origin.key(path)) + ", " + signing + ".",
                distribution.cite(origin));
        Map<String, ContextValue> more = added(behavior, distribution, origin);
        if (!(who instanceof Actor.Anyone)) {
            more.putAll(edge.settled());
        }
        Optional<Boolean> secure = overTls(origin, visit);
        String called = who instanceof Actor.Anyone
                ? "everyone"
                : who instanceof Actor.OriginIdentity ? "the origin access identity" : "the distribution";
        return new StorageTrace(ownerOf(bucket.name()), journal)
                .rest(
                        bucket,
                        origin.key(path),
                        new StorageTrace.Caller(
                                who,
                                VisitContext.of(visit, secure, more),
                                called,
                                () -> rootObject(distribution, bucket)),
                        visit.method());
    }

    /**
     * Returns whether the edge asks over TLS: as a custom origin's own policy says, whatever the viewer speaks. For a bucket's origin it is the
     * viewer's protocol, and for a viewer of plain HTTP that is not certain. Source: CloudFront API Reference, CustomOriginConfig.
     */
    private static Optional<Boolean> overTls(Origin origin, Visit visit) {
        boolean viewerSecure = visit.address().secure();
        return switch (origin.protocol().orElse("")) {
            case "http-only" -> Optional.of(false);
            case "https-only" -> Optional.of(true);
            case "match-viewer" -> Optional.of(viewerSecure);
            default -> viewerSecure ? Optional.of(true) : Optional.empty();
        };
    }

    /** The condition keys of what the edge sends: its own agent and headers unless the viewer's are passed on. */
    private Map<String, ContextValue> added(Behavior behavior, Distribution distribution, Origin origin) {
        Set<String> passed = account.edges()
                .policies()
                .forwarded(behavior, distribution.at())
                .found()
                .orElse(Set.of());
        boolean all = passed.contains("*");
        Map<String, ContextValue> values = new HashMap<>();
        values.put("aws:UserAgent", all || passed.contains("user-agent") ? ContextValue.UNKNOWN : Known.of(EDGE_AGENT));
        if (all || passed.contains("referer")) {
            values.put("aws:Referer", ContextValue.UNKNOWN);
        }
        origin.headers().forEach((name, value) -> {
            switch (name.toLowerCase(Locale.ROOT)) {
                case "referer" -> values.put("aws:Referer", Known.of(value));
                case "user-agent" -> values.put("aws:UserAgent", Known.of(value));
                default -> {}
            }
        });
        return values;
    }

    /** Says how long a page stays at the edge, which decides what visitors see right after a deployment. */
    Optional<String> freshness(Distribution distribution, Visit visit, Outcome outcome) {
        Optional<Behavior> behavior = distribution.behaviorFor(visit.address().decodedPath());
        if (behavior.isEmpty() || outcome.object().isEmpty() || !outcome.isPage()) {
            return Optional.empty();
        }
        String arn = outcome.object().get();
        Reading<CacheTimes> times = account.edges().policies().times(behavior.get(), distribution.at());
        String name = Bucket.nameIn(arn).orElseThrow();
        Bucket bucket = ownerOf(name).account().bucket(name);
        Optional<Reading<ObjectHead>> head = bucket.head(Bucket.keyIn(arn).orElseThrow());
        if (times.found().isEmpty() || head.flatMap(Reading::found).isEmpty()) {
            return Optional.empty();
        }
        long seconds = times.found().get().kept(head.get().found().get().cacheControl());
        return Optional.of(
                seconds == 0
                        ? "The edge asks the bucket each time, so a new version shows at once."
                        : "The edge keeps it for " + spelled(seconds)
                                + "; until then, or an invalidation, visitors see the old version.");
    }

    private static String spelled(long seconds) {
        long[] units = {86_400, 3_600, 60, 1};
        String[] names = {"day", "hour", "minute", "second"};
        for (int i = 0; i < units.length; i++) {
            if (seconds >= units[i]) {
                long count = seconds / units[i];
                return (seconds % units[i] == 0 ? "" : "about ") + count + " " + names[i] + (count == 1 ? "" : "s");
            }
        }
        return seconds + " seconds";
    }
}
