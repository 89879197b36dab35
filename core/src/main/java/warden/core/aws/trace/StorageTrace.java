package warden.core.aws.trace;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Supplier;
import warden.core.access.Decision;
import warden.core.access.Truth;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectHead;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.storage.Website;
import warden.core.aws.storage.Website.RoutingRule;
import warden.core.aws.survey.AwsAspects;
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
 * What the storage service answers: at its REST endpoint to a caller, at its website endpoint to everybody.
 *
 * <p>Source: S3 API Reference, GetObject and HeadObject (the rule of 404 and 403); S3 User Guide, "Website endpoints",
 * "Configuring an index document", "Configuring a custom error document", "Configuring a webpage redirect".
 */
final class StorageTrace {
    private final Evaluator evaluator;
    private final Journal journal;

    StorageTrace(Evaluator evaluator, Journal journal) {
        this.evaluator = evaluator;
        this.journal = journal;
    }

    /** What mends an address of no object, unless something else is to answer it. */
    static final String UPLOAD = "Upload the object, or correct the link that leads here.";

    /**
     * Who asks.
     *
     * @param context the condition keys that come with the request
     * @param called how a sentence calls them
     * @param atRoot what to do when they ask for no object
     */
    record Caller(Actor who, Context context, String called, Supplier<Remedy> atRoot) {
        /** Returns visitors who ask by themselves. */
        static Caller everyone(Context context) {
            return new Caller(
                    new Actor.Anyone(),
                    context,
                    "everyone",
                    () -> Remedy.inWords("The REST endpoint knows no index document: ask for an object by its name."));
        }
    }

    /** Returns whether an object exists, by its own line or by the listing. */
    private Truth exists(Bucket bucket, String key) {
        Optional<Reading<ObjectHead>> head = bucket.head(key);
        if (head.isPresent() && !head.get().isUnread()) {
            return Truth.of(!head.get().isAbsent());
        }
        Reading<ObjectListing> objects = bucket.objects();
        Truth listed = objects.fold(found -> found.value().has(key), absent -> Truth.UNKNOWN, unread -> Truth.UNKNOWN);
        if (listed == Truth.UNKNOWN) {
            journal.need(objects.missing().orElse(AwsAspects.cutShort("bucket-objects", bucket.arn())));
        }
        return listed;
    }

    private Optional<Citation> listing(Bucket bucket, String key) {
        return bucket.objects()
                .found()
                .flatMap(listing -> listing.citation(key))
                .or(() -> bucket.objects().citation().map(at -> at.at("", "")));
    }

    private Decision decide(Caller caller, String action, String resource) {
        return evaluator.decideUnsurveyed(new Request(caller.who(), action, resource, caller.context()));
    }

    /** Follows a request to the REST endpoint; an empty key asks for the listing. */
    OutcomeSet rest(Bucket bucket, String key, Caller caller, String method) {
        if (!method.equals("GET") && !method.equals("HEAD")) {
            return changing(bucket, key, caller, method);
        }
        if (key.isEmpty()) {
            return listed(bucket, caller);
        }
        Decision read = decide(caller, "s3:GetObject", bucket.object(key));
        if (read.outcome() == Decision.Outcome.DENY) {
            journal.step(
                    At.BUCKET,
                    "The bucket " + bucket.name() + " does not let " + caller.called() + " read "
                            + DisplayText.name(key) + ": " + Remedy.lowered(read.says()),
                    evidence(read, bucket));
            journal.decides(remedy(bucket, key, caller));
            return OutcomeSet.of(Outcome.of(403));
        }
        OutcomeSet fate = found(bucket, key, caller);
        if (read.outcome() == Decision.Outcome.ALLOW
                && caller.who() instanceof Actor.Anyone
                && !bucket.isAskedWhoPays()) {
            bucket.requesterPays().missing().ifPresent(journal::need);
            journal.step(At.BUCKET, "Whether the bucket asks its readers to pay was never asked.");
            return fate.or(OutcomeSet.of(Outcome.of(403)));
        }
        if (read.outcome() == Decision.Outcome.UNKNOWN) {
            journal.needs(read.needs());
            journal.step(
                    At.BUCKET,
                    "Whether the bucket " + bucket.name() + " lets " + caller.called() + " read "
                            + DisplayText.name(key) + " is not known: " + Remedy.lowered(read.says()),
                    evidence(read, bucket));
            journal.decides("");
            return fate.or(OutcomeSet.of(Outcome.of(403)));
        }
        return fate;
    }

    /** What a word in the query asks of an object, and the action that it takes. Source: S3 API Reference, the operations' request syntax. */
    private static final Map<String, String> OF_OBJECT = Map.of(
            "acl", "s3:GetObjectAcl",
            "tagging", "s3:GetObjectTagging",
            "torrent", "s3:GetObjectTorrent",
            "retention", "s3:GetObjectRetention",
            "legal-hold", "s3:GetObjectLegalHold",
            "attributes", "s3:GetObjectAttributes",
            "uploadId", "s3:ListMultipartUploadParts");

    private static final Map<String, String> OF_BUCKET = Map.ofEntries(
            Map.entry("acl", "s3:GetBucketAcl"),
            Map.entry("policy", "s3:GetBucketPolicy"),
            Map.entry("policyStatus", "s3:GetBucketPolicyStatus"),
            Map.entry("website", "s3:GetBucketWebsite"),
            Map.entry("cors", "s3:GetBucketCORS"),
            Map.entry("lifecycle", "s3:GetLifecycleConfiguration"),
            Map.entry("location", "s3:GetBucketLocation"),
            Map.entry("logging", "s3:GetBucketLogging"),
            Map.entry("versioning", "s3:GetBucketVersioning"),
            Map.entry("versions", "s3:ListBucketVersions"),
            Map.entry("uploads", "s3:ListBucketMultipartUploads"),
            Map.entry("tagging", "s3:GetBucketTagging"),
            Map.entry("encryption", "s3:GetEncryptionConfiguration"),
            Map.entry("notification", "s3:GetBucketNotification"),
            Map.entry("requestPayment", "s3:GetBucketRequestPayment"),
            Map.entry("ownershipControls", "s3:GetBucketOwnershipControls"),
            Map.entry("publicAccessBlock", "s3:GetBucketPublicAccessBlock"));

    /** Follows a request for something other than content, as a word of the query asks; absent when none does. */
    Optional<OutcomeSet> subresource(Bucket bucket, String key, Caller caller, Visit visit) {
        List<String> words = visit.address().query().stream()
                .flatMap(query -> Arrays.stream(query.split("&")))
                .map(part -> part.replaceFirst("=.*", ""))
                .toList();
        boolean reads = visit.method().equals("GET") || visit.method().equals("HEAD");
        Optional<String> named = words.stream()
                .map(word -> (key.isEmpty() ? OF_BUCKET : OF_OBJECT).get(word))
                .filter(Objects::nonNull)
                .findFirst();
        boolean ofVersion = !key.isEmpty() && words.contains("versionId");
        if (!reads || (named.isEmpty() && !ofVersion)) {
            return Optional.empty();
        }
        String action = named.map(of -> ofVersion ? of.replace("s3:GetObject", "s3:GetObjectVersion") : of)
                .orElse("s3:GetObjectVersion");
        String on = key.isEmpty() ? bucket.arn() : bucket.object(key);
        Decision decision = decide(caller, action, on);
        String lets = "The bucket " + bucket.name() + " %s " + caller.called() + " " + action
                + (key.isEmpty() ? "" : " on " + DisplayText.name(key));
        return Optional.of(
                switch (decision.outcome()) {
                    case DENY -> {
                        journal.step(
                                At.BUCKET,
                                String.format(lets, "does not let") + ": " + Remedy.lowered(decision.says()),
                                evidence(decision, bucket));
                        journal.decides("");
                        yield OutcomeSet.of(Outcome.of(403));
                    }
                    case ALLOW -> {
                        journal.step(At.BUCKET, String.format(lets, "lets") + ".", evidence(decision, bucket));
                        journal.decides("");
                        // Which versions there are, and whether the thing asked for is set, no survey tells.
                        yield OutcomeSet.of(Outcome.of(200)).or(OutcomeSet.of(Outcome.of(404)));
                    }
                    case UNKNOWN -> {
                        journal.needs(decision.needs());
                        journal.step(
                                At.BUCKET,
                                "Whether " + String.format(lets, "lets").replaceFirst("^The", "the") + " is not known: "
                                        + Remedy.lowered(decision.says()),
                                evidence(decision, bucket));
                        journal.decides("");
                        yield OutcomeSet.of(Outcome.of(200)).or(OutcomeSet.of(Outcome.of(403)));
                    }
                });
    }

    private static List<Citation> evidence(Decision decision, Bucket bucket) {
        return decision.because().isEmpty()
                ? bucket.policy().citation().map(at -> at.at("", "")).stream().toList()
                : decision.because();
    }

    /** The smallest change that lets the reader in, tried on a copy; where none of the tried does, that it is to be let in. */
    private Remedy remedy(Bucket bucket, String key, Caller caller) {
        Remedy inWords = Remedy.inWords("Let " + caller.called() + " s3:GetObject on " + bucket.arn()
                + "/* where the step says that it is refused.");
        if (!journal.triesRemedies()) {
            return inWords;
        }
        Request request = new Request(
                caller.who(),
                "s3:GetObject",
                bucket.object(key),
                caller.context().withDefaults(evaluator.time()));
        return new SmallestChange(evaluator.account(), bucket, request).find().orElse(inWords);
    }

    /** Answers a caller who may read the key. */
    private OutcomeSet found(Bucket bucket, String key, Caller caller) {
        Truth exists = exists(bucket, key);
        OutcomeSet page = page(bucket, key);
        if (exists == Truth.TRUE) {
            if (page.outcomes().get(0).is(200)) {
                journal.step(
                        At.BUCKET,
                        "The bucket " + bucket.name() + " lets " + caller.called() + " read it, and the object "
                                + DisplayText.name(key) + " exists.",
                        listing(bucket, key));
            } else {
                journal.step(
                        At.BUCKET,
                        "The object " + DisplayText.name(key)
                                + " is archived and cannot be read before it is restored.",
                        listing(bucket, key));
                journal.decides(Remedy.of(
                        "Restore the object, and keep the lifecycle from archiving what visitors read.",
                        evaluator.account(),
                        Remedy.found("object", bucket.object(key), "{\"StorageClass\":\"STANDARD\"}")));
            }
            return page;
        }
        OutcomeSet missing = missing(bucket, key, caller);
        return exists == Truth.FALSE ? missing : page.or(missing);
    }

    private OutcomeSet page(Bucket bucket, String key) {
        Optional<ObjectHead> head = bucket.head(key).flatMap(Reading::found);
        String storageClass = head.map(ObjectHead::storageClass)
                .or(() -> bucket.objects()
                        .found()
                        .flatMap(listing -> listing.entry(key))
                        .map(ObjectListing.Entry::storageClass))
                .orElse("STANDARD");
        boolean readable = !ObjectHead.isArchived(storageClass)
                || head.filter(ObjectHead::restored).isPresent();
        return OutcomeSet.of(
                readable
                        ? Outcome.of(200, bucket.object(key), key, head.flatMap(ObjectHead::contentType))
                        : Outcome.of(403));
    }

    /** A missing key is 404 to those who may list, 403 to others. */
    private OutcomeSet missing(Bucket bucket, String key, Caller caller) {
        Decision list = decide(caller, "s3:ListBucket", bucket.arn());
        String what = exists(bucket, key) == Truth.FALSE
                ? "The object " + DisplayText.name(key) + " does not exist in the bucket " + bucket.name()
                : "Whether the object " + DisplayText.name(key) + " exists in the bucket " + bucket.name()
                        + " is not known";
        String rule =
                switch (list.outcome()) {
                    case ALLOW -> "; " + caller.called() + " may list it, so a missing object answers 404.";
                    case DENY ->
                        "; listing is not granted to " + caller.called() + ", so a missing object answers 403.";
                    case UNKNOWN ->
                        "; whether " + caller.called()
                                + " may list it, which decides between 404 and 403, is not known.";
                };
        journal.step(At.BUCKET, what + rule, listing(bucket, key));
        journal.decides(nearby(bucket, key));
        return switch (list.outcome()) {
            case ALLOW -> OutcomeSet.of(Outcome.of(404));
            case DENY -> OutcomeSet.of(Outcome.of(403));
            case UNKNOWN -> {
                journal.needs(list.needs());
                yield OutcomeSet.of(Outcome.of(404), Outcome.of(403));
            }
        };
    }

    /** Says what to do about a missing key: perhaps a folder's index was meant. */
    private Remedy nearby(Bucket bucket, String key) {
        String folder = key.isEmpty() || key.endsWith("/") ? key : key + "/";
        boolean hasIndex = bucket.objects()
                        .found()
                        .map(listing -> listing.has(folder + "index.html"))
                        .orElse(Truth.UNKNOWN)
                == Truth.TRUE;
        return hasIndex
                ? Remedy.inWords(
                        "The REST endpoint knows no index documents: have a function at the edge turn folders into "
                                + DisplayText.name(folder) + "index.html, or use the website endpoint as origin.")
                : Remedy.of(UPLOAD, evaluator.account(), Remedy.found("object", bucket.object(key), "{}"));
    }

    private OutcomeSet listed(Bucket bucket, Caller caller) {
        Decision list = decide(caller, "s3:ListBucket", bucket.arn());
        String says =
                switch (list.outcome()) {
                    case ALLOW ->
                        "No object is named, so the bucket " + bucket.name() + " answers with the list of its objects.";
                    case DENY ->
                        "No object is named, and " + caller.called() + " may not list the bucket " + bucket.name()
                                + ".";
                    case UNKNOWN ->
                        "No object is named; whether " + caller.called() + " may list the bucket " + bucket.name()
                                + " is not known.";
                };
        journal.step(At.BUCKET, says, evidence(list, bucket));
        Remedy root = caller.atRoot().get();
        journal.decides(
                list.outcome() == Decision.Outcome.ALLOW
                        ? root.saying(root.says().replaceFirst("\\.$", "") + ", and take s3:ListBucket back.")
                        : root);
        return switch (list.outcome()) {
            case ALLOW -> OutcomeSet.of(Outcome.of(200));
            case DENY -> OutcomeSet.of(Outcome.of(403));
            case UNKNOWN -> {
                journal.needs(list.needs());
                yield OutcomeSet.of(Outcome.of(200), Outcome.of(403));
            }
        };
    }

    private OutcomeSet changing(Bucket bucket, String key, Caller caller, String method) {
        String action =
                switch (method) {
                    case "PUT", "POST" -> "s3:PutObject";
                    case "DELETE" -> "s3:DeleteObject";
                    default -> "";
                };
        if (action.isEmpty() || key.isEmpty()) {
            journal.step(
                    At.BUCKET,
                    "What the storage service answers to " + DisplayText.name(method) + " here is not worked out.");
            journal.decides("");
            return OutcomeSet.anything();
        }
        Decision decision = decide(caller, action, bucket.object(key));
        int done = method.equals("DELETE") ? 204 : 200;
        journal.step(
                At.BUCKET,
                decision.outcome() == Decision.Outcome.DENY
                        ? "The bucket " + bucket.name() + " does not let " + caller.called() + " do that: "
                                + Remedy.lowered(decision.says())
                        : decision.outcome() == Decision.Outcome.ALLOW
                                ? "The bucket " + bucket.name() + " lets " + caller.called() + " do that (" + action
                                        + ")."
                                : "Whether the bucket " + bucket.name() + " lets " + caller.called()
                                        + " do that is not known.",
                evidence(decision, bucket));
        journal.decides("");
        journal.needs(decision.needs());
        return switch (decision.outcome()) {
            case ALLOW -> OutcomeSet.of(Outcome.of(done));
            case DENY -> OutcomeSet.of(Outcome.of(403));
            case UNKNOWN -> OutcomeSet.of(Outcome.of(done), Outcome.of(403));
        };
    }

    /**
     * A request as a website endpoint gets it.
     *
     * @param viewer the visitor's address, which relative redirects are relative to
     * @param seen the address that the endpoint was asked under, which redirects without a host lead to
     * @param key the key asked for
     */
    record Asked(WebAddress viewer, WebAddress seen, String key) {
        private String viewerOrigin() {
            return origin(viewer);
        }

        private static String origin(WebAddress address) {
            return (address.secure() ? "https://" : "http://")
                    + address.host()
                    + (address.port().isPresent() ? ":" + address.port().getAsInt() : "");
        }
    }

    /** Follows a request to the website endpoint of a bucket. */
    OutcomeSet website(Bucket bucket, Asked asked, Visit visit, Map<String, ContextValue> headers) {
        Reading<Website> website = bucket.website();
        if (website.isUnread()) {
            website.missing().ifPresent(journal::need);
            journal.step(At.WEBSITE, "Whether website hosting is on for " + bucket.name() + ", and how, was not read.");
            journal.decides("");
            return OutcomeSet.anything();
        }
        if (website.isAbsent()) {
            journal.step(
                    At.WEBSITE,
                    "Website hosting is off for the bucket " + bucket.name() + ": its website endpoint answers 404.",
                    website.citation());
            journal.decides(Remedy.of(
                    "Turn website hosting on and name the index document, or use the REST endpoint through a distribution.",
                    evaluator.account(),
                    Remedy.found("bucket-website", bucket.arn(), "{\"IndexDocument\":{\"Suffix\":\"index.html\"}}")));
            return OutcomeSet.of(Outcome.of(404));
        }
        if (!visit.fetches()) {
            journal.step(At.WEBSITE, "The website endpoint answers GET and HEAD only.", website.citation());
            journal.decides("");
            return OutcomeSet.of(Outcome.of(405));
        }
        Website settings = website.found().orElseThrow();
        Citation at = website.citation().orElseThrow();
        String key = asked.key();
        if (settings.redirectsAll()) {
            String target = (settings.redirectProtocol().map("https"::equals).orElse(false) ? "https://" : "http://")
                    + settings.redirectHost().get() + "/" + WebAddress.escapedKey(key);
            return redirected(
                    "The bucket " + bucket.name() + " sends every request to "
                            + DisplayText.name(settings.redirectHost().get()) + ".",
                    301,
                    target,
                    asked,
                    at);
        }
        Optional<RoutingRule> rule =
                settings.rules().stream().filter(each -> each.appliesTo(key)).findFirst();
        if (rule.isPresent()) {
            return byRule(rule.get(), asked, at);
        }
        Caller everyone = Caller.everyone(VisitContext.of(visit, Optional.of(false), headers));
        String index = settings.index().orElse("index.html");
        boolean isFolder = key.isEmpty() || key.endsWith("/");
        String wanted = isFolder ? key + index : key;
        if (isFolder) {
            journal.step(
                    At.WEBSITE, "The website endpoint takes the index document " + DisplayText.name(wanted) + ".", at);
        } else {
            journal.step(At.WEBSITE, "The website endpoint looks for the object " + DisplayText.name(wanted) + ".", at);
        }
        OutcomeSet fate = rest(bucket, wanted, everyone, "GET");
        return fate.then(outcome -> answered(bucket, settings, at, asked, wanted, index, everyone, outcome));
    }

    private OutcomeSet answered(
            Bucket bucket,
            Website settings,
            Citation at,
            Asked asked,
            String wanted,
            String index,
            Caller everyone,
            Outcome outcome) {
        String key = asked.key();
        boolean isFolder = !wanted.equals(key);
        if (outcome.is(200)) {
            Optional<String> elsewhere =
                    bucket.head(wanted).flatMap(Reading::found).flatMap(ObjectHead::redirect);
            if (elsewhere.isEmpty()) {
                return OutcomeSet.of(outcome);
            }
            journal.step(
                    At.WEBSITE,
                    "The object " + DisplayText.name(wanted) + " is stored with a redirect to "
                            + DisplayText.name(elsewhere.get()) + ".",
                    at);
            journal.decidesInstead("");
            String target = elsewhere.get().startsWith("/") ? asked.viewerOrigin() + elsewhere.get() : elsewhere.get();
            return OutcomeSet.of(Outcome.redirect(301, target));
        }
        if (!isFolder && exists(bucket, wanted) != Truth.TRUE) {
            Truth folder = exists(bucket, key + "/" + index);
            Outcome toFolder = Outcome.redirect(302, asked.viewerOrigin() + "/" + WebAddress.escapedKey(key) + "/");
            if (folder == Truth.TRUE) {
                journal.step(
                        At.WEBSITE,
                        "There is no such object, but " + DisplayText.name(key) + "/" + index
                                + " exists: visitors are sent to " + DisplayText.name(key) + "/.",
                        at);
                journal.decidesInstead("");
                return exists(bucket, wanted) == Truth.FALSE
                        ? OutcomeSet.of(toFolder)
                        : OutcomeSet.of(toFolder, outcome);
            }
            if (folder == Truth.UNKNOWN) {
                return OutcomeSet.of(toFolder).or(failed(bucket, settings, at, asked, everyone, outcome));
            }
        }
        return failed(bucket, settings, at, asked, everyone, outcome);
    }

    /** Answers an error: by a routing rule for it, else by the error document, with the error's own status. */
    private OutcomeSet failed(
            Bucket bucket, Website settings, Citation at, Asked asked, Caller everyone, Outcome error) {
        int status = error.status().orElse(500);
        Optional<RoutingRule> rule = settings.rules().stream()
                .filter(each -> each.appliesTo(asked.key(), status))
                .findFirst();
        if (rule.isPresent()) {
            return byRule(rule.get(), asked, at);
        }
        if (settings.error().isEmpty()) {
            journal.step(At.WEBSITE, "No error document is set, so the storage service's own page is shown.", at);
            return OutcomeSet.of(error);
        }
        String document = settings.error().get();
        Decision read = decide(everyone, "s3:GetObject", bucket.object(document));
        Truth shown = exists(bucket, document)
                .and(
                        switch (read.outcome()) {
                            case ALLOW -> Truth.TRUE;
                            case DENY -> Truth.FALSE;
                            case UNKNOWN -> Truth.UNKNOWN;
                        });
        Outcome withDocument = Outcome.of(
                status,
                bucket.object(document),
                document,
                bucket.head(document).flatMap(Reading::found).flatMap(ObjectHead::contentType));
        journal.step(
                At.WEBSITE,
                switch (shown) {
                    case TRUE ->
                        "The error document " + DisplayText.name(document) + " is shown, with status " + status + ".";
                    case FALSE ->
                        "The error document " + DisplayText.name(document)
                                + " cannot be shown, so the storage service's own page is, with status " + status + ".";
                    case UNKNOWN ->
                        "Whether the error document " + DisplayText.name(document)
                                + " can be shown is not known; the status is " + status + " either way.";
                },
                at);
        return switch (shown) {
            case TRUE -> OutcomeSet.of(withDocument);
            case FALSE -> OutcomeSet.of(error);
            case UNKNOWN -> OutcomeSet.of(withDocument, error);
        };
    }

    private OutcomeSet byRule(RoutingRule rule, Asked asked, Citation at) {
        String own = Asked.origin(asked.seen());
        String scheme = rule.protocol().orElse(asked.seen().secure() ? "https" : "http");
        String host = rule.host().orElse(own.substring(own.indexOf("//") + 2));
        String target = scheme + "://" + host + "/" + WebAddress.escapedKey(rule.target(asked.key()));
        return redirected(
                "A routing rule sends the request to " + DisplayText.name(target) + ".",
                rule.status(),
                target,
                asked,
                at.at(rule.at().toString(), target));
    }

    /** Whether the query is kept in the new address is not said in the guide. */
    private OutcomeSet redirected(String says, int status, String target, Asked asked, Citation at) {
        journal.step(At.WEBSITE, says, at);
        journal.decidesInstead("");
        OutcomeSet fate = OutcomeSet.of(Outcome.redirect(status, target));
        Optional<String> query = asked.viewer().query();
        if (query.isPresent()) {
            journal.need(new Need(
                    "bucket-website", at.subject(), "whether a redirect keeps the query is not documented", ""));
            fate = OutcomeSet.of(Outcome.redirect(status, target + "?" + query.get()))
                    .or(fate);
        }
        return fate;
    }
}
