package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.Bucket;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.mend.Change;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;

/** What to change about one bucket: who may reach it, the statements of its policy, how it serves and keeps its objects. */
final class BucketRemedies {
    private static final Set<String> READING = Set.of("GET", "HEAD");

    private final AwsCloud cloud;
    private final Account account;
    private final Bucket bucket;
    private final BucketChanges changes;
    private final PolicyRemedies policy;
    private final HostingRemedies hosting;

    BucketRemedies(AwsCloud cloud, Account account, Bucket bucket) {
        this.cloud = cloud;
        this.account = account;
        this.bucket = bucket;
        this.changes = new BucketChanges(account, bucket.name());
        this.policy = new PolicyRemedies(cloud, account, bucket);
        this.hosting = new HostingRemedies(cloud, account, bucket);
    }

    /** Returns what to do about a finding that is about this bucket; absent for checks that its settings do not answer. */
    Optional<Proposal> of(Finding finding) {
        return Optional.<Proposal>ofNullable(
                        switch (finding.card().id()) {
                            case "open-around-cdn",
                                    "open-endpoint-around-cdn",
                                    "origin-identity-legacy",
                                    "origin-identity-missing",
                                    "origin-identity-not-allowed",
                                    "origin-identity-not-signing" -> new SealBucket(cloud, account, bucket).propose();
                            case "open-without-site" -> close();
                            case "anyone-can-write",
                                    "anyone-can-delete",
                                    "anyone-can-list",
                                    "anyone-can-change-rules" -> narrow();
                            case "old-versions-readable", "policy-wider-than-needed", "origin-identity-too-strong" ->
                                narrow();
                            case "guard-off" -> Proposal.of(changes.block());
                            case "guard-contradicts-grant" -> contradiction();
                            case "ownership-lets-acls" -> Proposal.of(changes.ownObjects());
                            case "object-acl-open" -> Proposal.of(ignoreAcls());
                            case "plain-http-to-storage" -> Proposal.of(changes.demandTls());
                            case "cors-too-wide" -> Proposal.of(readingOrigins());
                            default -> null;
                        })
                .or(() -> policy.of(finding))
                .or(() -> hosting.of(finding));
    }

    private List<BucketSite> sites() {
        return cloud.sitesOf(bucket);
    }

    private boolean isMeantOpen() {
        return sites().stream().anyMatch(site -> !site.isMeantSealed());
    }

    private Proposal close() {
        return Proposal.of(changes.shutOutEveryone(), changes.block());
    }

    /** Everyone, and the edge, may read the objects of a site that is open, and do nothing else; where nobody is meant to, nothing at all. */
    private Proposal narrow() {
        List<Change> all = new ArrayList<>();
        if (!isMeantOpen()) {
            all.add(changes.shutOutEveryone());
        }
        all.add(policy.readingOnly());
        all.add(ignoreAcls());
        return new Proposal.Changes(all);
    }

    private Change ignoreAcls() {
        return changes.setting(
                Phase.SHUT_OUT,
                "ignore-public-acls",
                BucketSetting.PUBLIC_ACCESS,
                "Take back what public ACLs grant in " + bucket.name(),
                old -> {
                    JsonPart block = JsonReader.read(old).root().orElseThrow();
                    boolean blocks = block.flag("BlockPublicPolicy").orElse(false);
                    boolean restricts = block.flag("RestrictPublicBuckets").orElse(false);
                    return Json.text(Json.object(
                            "BlockPublicAcls",
                            true,
                            "IgnorePublicAcls",
                            true,
                            "BlockPublicPolicy",
                            blocks,
                            "RestrictPublicBuckets",
                            restricts));
                });
    }

    private Proposal contradiction() {
        boolean statedOpen = sites().stream().anyMatch(BucketSite::isStatedOpen);
        if (!statedOpen) {
            return Proposal.byHand(
                    "whether " + bucket.name() + " is meant to be open is not stated",
                    "State the site's pattern in the site file: with \"pattern: open-bucket\" mend opens it to visitors; to keep it"
                            + " closed, put a distribution with origin access control in front of it.");
        }
        return Proposal.of(changes.setting(
                Phase.SWITCH,
                "open-to-visitors",
                BucketSetting.PUBLIC_ACCESS,
                "Let the bucket policy of " + bucket.name() + " open the site to visitors, and ACLs nothing",
                old -> Json.text(Json.object(
                        "BlockPublicAcls",
                        true,
                        "IgnorePublicAcls",
                        true,
                        "BlockPublicPolicy",
                        false,
                        "RestrictPublicBuckets",
                        false))));
    }

    private Change readingOrigins() {
        return changes.setting(
                Phase.SHUT_OUT,
                "narrow-cors",
                BucketSetting.CORS,
                "Let scripts of other origins read from " + bucket.name() + " only",
                old -> {
                    String edited = old;
                    List<JsonPart> rules =
                            JsonReader.read(old).root().orElseThrow().list("CORSRules");
                    for (int i = rules.size() - 1; i >= 0; i--) {
                        JsonPart rule = rules.get(i);
                        boolean any = rule.texts("AllowedOrigins").stream().anyMatch(origin -> origin.equals("*"));
                        List<String> methods = rule.texts("AllowedMethods").stream()
                                .filter(READING::contains)
                                .toList();
                        if (any) {
                            edited = JsonEdit.set(
                                    edited,
                                    "/CORSRules/" + i + "/AllowedMethods",
                                    Json.text(methods.isEmpty() ? List.of("GET") : methods));
                        }
                    }
                    return edited;
                });
    }
}
