package warden.core.aws.mend;

import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.mend.Change;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;

/** What to change in how a bucket serves, keeps and logs its objects. */
final class HostingRemedies {
    private static final List<String> ERROR_PAGES = List.of("404.html", "error.html");

    private final AwsCloud cloud;
    private final Account account;
    private final Bucket bucket;
    private final BucketChanges changes;

    HostingRemedies(AwsCloud cloud, Account account, Bucket bucket) {
        this.cloud = cloud;
        this.account = account;
        this.bucket = bucket;
        this.changes = new BucketChanges(account, bucket.name());
    }

    /** Returns what to do about a finding that these settings answer; absent for others. */
    Optional<Proposal> of(Finding finding) {
        return Optional.<Proposal>ofNullable(
                switch (finding.card().id()) {
                    case "hosting-unused" ->
                        Proposal.of(changes.removing(
                                Phase.TIDY,
                                "turn-hosting-off",
                                BucketSetting.WEBSITE,
                                "Turn website hosting of " + bucket.name() + " off"));
                    case "hosting-off" -> hosting();
                    case "index-invalid" -> validIndex();
                    case "error-unset" -> errorDocument();
                    case "single-page-unrouted" -> singlePage();
                    case "redirect-to-plain-http" -> Proposal.of(redirectToTls());
                    case "requester-pays" ->
                        Proposal.of(changes.setting(
                                Phase.LET_IN,
                                "let-owner-pay",
                                BucketSetting.PAYER,
                                "Let the owner of " + bucket.name() + " pay for what visitors fetch",
                                old -> Json.text(Json.object("Payer", "BucketOwner"))));
                    case "versioning-off" -> versions();
                    case "versions-kept-forever" -> Proposal.of(changes.expireOldVersions());
                    case "expires-live-content" -> Proposal.of(keepLiveContent());
                    case "storage-logging-off" -> logging();
                    case "encrypted-beyond-readers" -> decrypting(finding);
                    default -> null;
                });
    }

    private boolean holds(String key) {
        Optional<ObjectListing> objects = bucket.objects().found();
        return objects.isPresent() && objects.get().has(key) == Truth.TRUE;
    }

    private Proposal hosting() {
        if (!holds("index.html")) {
            return Proposal.byHand(
                    "the bucket holds no index.html at its root, as far as it was listed",
                    "Turn website hosting on, and name the index document.");
        }
        return Proposal.of(changes.setting(
                Phase.LET_IN,
                "turn-hosting-on",
                BucketSetting.WEBSITE,
                "Turn website hosting of " + bucket.name() + " on",
                old -> Json.text(Json.object(
                        "IndexDocument",
                        Json.object("Suffix", "index.html"),
                        "ErrorDocument",
                        ERROR_PAGES.stream().filter(this::holds).findFirst().map(page -> Json.object("Key", page))))));
    }

    private Proposal validIndex() {
        return Proposal.of(changes.setting(
                Phase.SWITCH,
                "name-index",
                BucketSetting.WEBSITE,
                "Name the index document of " + bucket.name() + " without its folder",
                old -> {
                    String suffix = JsonReader.read(old)
                            .root()
                            .flatMap(website -> website.text("IndexDocument", "Suffix"))
                            .orElse("");
                    String last = suffix.substring(suffix.lastIndexOf('/') + 1);
                    return JsonEdit.set(old, "/IndexDocument/Suffix", Json.text(last.isEmpty() ? "index.html" : last));
                }));
    }

    private Proposal errorDocument() {
        Optional<String> page = ERROR_PAGES.stream().filter(this::holds).findFirst();
        if (page.isEmpty()) {
            return Proposal.byHand(
                    "the bucket holds no error page, as far as it was listed",
                    "Upload a page such as 404.html, and name it as the error document of " + bucket.name()
                            + ", or as the distribution's custom error response.");
        }
        return edge().map(EdgeRemedies::errorResponse)
                .orElseGet(() -> Proposal.of(changes.setting(
                        Phase.SWITCH,
                        "name-error-page",
                        BucketSetting.WEBSITE,
                        "Answer missing pages of " + bucket.name() + " with " + page.get(),
                        old -> JsonEdit.set(old, "/ErrorDocument", Json.text(Json.object("Key", page.get()))))));
    }

    private Optional<EdgeRemedies> edge() {
        return cloud.originsAt(bucket.name()).stream()
                .filter(each -> each.origin().isRest())
                .findFirst()
                .flatMap(each -> cloud.accounts().stream()
                        .filter(owner -> owner.edges().distributions().contains(each.distribution()))
                        .findFirst()
                        .map(owner -> new EdgeRemedies(cloud, owner, each.distribution())));
    }

    private Proposal singlePage() {
        return edge().map(EdgeRemedies::singlePage)
                .orElseGet(() -> Proposal.of(changes.setting(
                        Phase.SWITCH,
                        "route-to-one-page",
                        BucketSetting.WEBSITE,
                        "Answer every address of " + bucket.name() + " with its index document",
                        old -> JsonEdit.set(
                                old,
                                "/ErrorDocument",
                                Json.text(Json.object(
                                        "Key",
                                        bucket.website()
                                                .found()
                                                .flatMap(website -> website.index())
                                                .orElse("index.html")))))));
    }

    private Change redirectToTls() {
        return changes.setting(
                Phase.SWITCH,
                "redirect-to-https",
                BucketSetting.WEBSITE,
                "Redirect visitors of " + bucket.name() + " to https:",
                old -> {
                    JsonPart website = JsonReader.read(old).root().orElseThrow();
                    String edited = website.find("RedirectAllRequestsTo").isPresent()
                            ? JsonEdit.set(old, "/RedirectAllRequestsTo/Protocol", "\"https\"")
                            : old;
                    for (int i = 0; i < website.list("RoutingRules").size(); i++) {
                        if (website.list("RoutingRules")
                                .get(i)
                                .text("Redirect", "HostName")
                                .isPresent()) {
                            edited = JsonEdit.set(edited, "/RoutingRules/" + i + "/Redirect/Protocol", "\"https\"");
                        }
                    }
                    return edited;
                });
    }

    private Proposal versions() {
        boolean expires = bucket.lifecycle().found().stream()
                .flatMap(List::stream)
                .anyMatch(rule -> rule.enabled() && rule.oldVersions());
        return expires
                ? Proposal.of(changes.keepVersions())
                : Proposal.of(changes.expireOldVersions(), changes.keepVersions());
    }

    private Change keepLiveContent() {
        return changes.setting(
                Phase.SHUT_OUT,
                "keep-live-content",
                BucketSetting.LIFECYCLE,
                "Turn off the rules that delete or archive current objects of " + bucket.name(),
                old -> {
                    String edited = old;
                    List<JsonPart> rules =
                            JsonReader.read(old).root().orElseThrow().list("Rules");
                    for (int i = 0; i < rules.size(); i++) {
                        boolean takes = rules.get(i).find("Expiration").isPresent()
                                || rules.get(i).find("Transitions").isPresent()
                                || rules.get(i).find("Transition").isPresent();
                        if (takes) {
                            edited = JsonEdit.set(edited, "/Rules/" + i + "/Status", "\"Disabled\"");
                        }
                    }
                    return edited;
                });
    }

    /** Only an edge that signs by a control can be let in by a key; visitors and identities cannot. */
    private Proposal decrypting(Finding finding) {
        List<String> keys = finding.because().stream()
                .filter(cited -> cited.aspect().equals("key-policy"))
                .map(cited -> cited.subject())
                .distinct()
                .toList();
        List<AwsCloud.EdgeOrigin> origins = cloud.originsAt(bucket.name());
        boolean allSign = !origins.isEmpty()
                && origins.stream().allMatch(each -> each.origin().control().isPresent());
        if (keys.size() != 1 || !allSign) {
            return Proposal.byHand(
                    "only a distribution with origin access control can be let in by a key's policy, and the key has to be read",
                    finding.remedy());
        }
        List<String> edges = origins.stream()
                .map(each -> each.distribution().arn())
                .distinct()
                .sorted()
                .toList();
        return Proposal.of(KeyPolicy.letIn(account, keys.get(0), edges));
    }

    /** Logs go where others of the account go already: a bucket that is made for them is not this program's to make. */
    private Proposal logging() {
        Optional<String> target = account.buckets().stream()
                .flatMap(other -> account.survey().reading("bucket-logging", other.arn()).found().stream())
                .flatMap(answer -> answer.text("LoggingEnabled", "TargetBucket").stream())
                .filter(name -> account.ownsBucket(name) == Truth.TRUE && !name.equals(bucket.name()))
                .filter(name -> account.bucket(name)
                        .region()
                        .found()
                        .equals(bucket.region().found()))
                .sorted()
                .findFirst();
        if (target.isEmpty()) {
            return Proposal.byHand(
                    "no bucket of the account keeps access logs yet, in the same region",
                    "Make a closed bucket for logs, let the service logging.s3.amazonaws.com put objects into it for this account, and"
                            + " turn on server access logging of " + bucket.name() + ".");
        }
        BucketChanges logs = new BucketChanges(account, target.get());
        return Proposal.of(
                logs.granting(
                        Phase.LET_IN,
                        "let-logs-in",
                        "let-logs-in " + bucket.name(),
                        "Let the logs of " + bucket.name() + " into " + target.get(),
                        "Sid",
                        "LogsOf" + bucket.name().replaceAll("[^A-Za-z0-9]", ""),
                        "Effect",
                        "Allow",
                        "Principal",
                        Json.object("Service", "logging.s3.amazonaws.com"),
                        "Action",
                        "s3:PutObject",
                        "Resource",
                        account.bucket(target.get()).object(bucket.name() + "/*"),
                        "Condition",
                        Json.object(
                                "StringEquals",
                                Json.object("aws:SourceAccount", account.number()),
                                "ArnLike",
                                Json.object("aws:SourceArn", bucket.arn()))),
                changes.setting(
                        Phase.GUARD,
                        "keep-access-log",
                        BucketSetting.LOGGING,
                        "Keep the access log of " + bucket.name() + " in " + target.get(),
                        old -> Json.text(Json.object(
                                "LoggingEnabled",
                                Json.object("TargetBucket", target.get(), "TargetPrefix", bucket.name() + "/")))));
    }
}
