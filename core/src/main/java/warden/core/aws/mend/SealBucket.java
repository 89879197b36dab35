package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.Website;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.mend.Change;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;
import warden.core.site.Site;
import warden.core.survey.Need;

/**
 * Lets only the distributions of a bucket's sites in: makes the control by which they sign, lets them in by the bucket policy, has them sign,
 * and only then takes everybody out and closes the bucket. Source: CloudFront Developer Guide, "Restrict access to an Amazon S3 origin".
 */
final class SealBucket {
    private static final String EDGE = "cloudfront.amazonaws.com";

    private final AwsCloud cloud;
    private final Account owner;
    private final Bucket bucket;
    private final BucketChanges changes;

    SealBucket(AwsCloud cloud, Account owner, Bucket bucket) {
        this.cloud = cloud;
        this.owner = owner;
        this.bucket = bucket;
        this.changes = new BucketChanges(owner, bucket.name());
    }

    /**
     * Returns the whole of it, without shutting out visitors where they are stated to be meant; in words where a distribution that may fetch
     * from the bucket was not read, or there is none.
     */
    Proposal propose() {
        List<Need> unread = cloud.unreadDistributionsAt(bucket.name())
                .map(UnreadDistribution::need)
                .toList();
        if (!unread.isEmpty()) {
            return new Proposal.ByHand(
                    "a distribution that may fetch from the bucket was not read",
                    "Take a survey that reads every distribution, and mend again.",
                    unread);
        }
        List<AwsCloud.EdgeOrigin> origins = cloud.originsAt(bucket.name());
        if (origins.isEmpty()) {
            return Proposal.byHand(
                    "no distribution is in front of the bucket",
                    "Put a distribution with origin access control in front of " + bucket.name() + ", and mend again.");
        }
        Set<String> arns =
                origins.stream().map(each -> each.distribution().arn()).collect(Collectors.toCollection(TreeSet::new));
        List<Change> all = new ArrayList<>();
        boolean needsControl = origins.stream().anyMatch(each -> !signs(each));
        String placeholder = "{control-for-" + bucket.name() + "}";
        Map<String, List<AwsCloud.EdgeOrigin>> byDistribution = origins.stream()
                .collect(Collectors.groupingBy(
                        each -> each.distribution().arn(), LinkedHashMap::new, Collectors.toList()));
        if (needsControl) {
            String account = arns.iterator().next().split(":")[4];
            all.add(OriginSigners.control(account, bucket, placeholder));
        }
        if (arns.stream().anyMatch(arn -> !isLetIn(arn))) {
            all.add(letIn(arns));
        }
        byDistribution.forEach((arn, own) -> {
            if (own.stream().anyMatch(each -> !signs(each) || each.origin().isWebsite())) {
                all.add(sign(arn, placeholder));
            }
        });
        boolean isStatedOpen = cloud.sitesOf(bucket).stream().anyMatch(Site::isStatedOpen);
        if (!isStatedOpen) {
            all.add(changes.shutOutEveryone());
        }
        all.add(shutOutIdentities());
        if (!isStatedOpen) {
            all.add(changes.block());
        }
        return new Proposal.Changes(all);
    }

    private boolean signs(AwsCloud.EdgeOrigin each) {
        Optional<String> control = each.origin().control();
        return control.isPresent()
                && cloud.accounts().stream()
                        .flatMap(account -> account.edges().originControl(control.get()).found().stream())
                        .anyMatch(value ->
                                value.originType().equals("s3") && value.signs().equals("always"));
    }

    /** True where a statement of the bucket policy lets this distribution read every object, whatever else it says. */
    private boolean isLetIn(String arn) {
        return bucket.policy().found().stream()
                .flatMap(policy -> policy.statements().stream())
                .filter(statement -> !statement.isOpaque() && !statement.mayDeny())
                .filter(statement -> statement.principals().stream()
                        .flatMap(clause -> clause.elements().stream())
                        .anyMatch(element -> element instanceof PrincipalElement.ServiceName service
                                && service.name().equals(EDGE)))
                .anyMatch(statement -> statement.text().contains(arn));
    }

    // --- letting in

    private Change letIn(Set<String> arns) {
        return changes.granting(
                Phase.LET_IN,
                "let-edge-in",
                "let-edge-in",
                "Let the edge in front of " + bucket.name() + " read its objects",
                "Sid",
                "LetEdgeRead",
                "Effect",
                "Allow",
                "Principal",
                Json.object("Service", EDGE),
                "Action",
                "s3:GetObject",
                "Resource",
                bucket.object("*"),
                "Condition",
                Json.object(
                        "StringEquals",
                        Json.object(
                                "aws:SourceArn",
                                arns.size() == 1 ? arns.iterator().next() : List.copyOf(arns))));
    }

    // --- signing

    private Change sign(String arn, String placeholder) {
        Account account = cloud.accounts().stream()
                .filter(each -> each.edges().distributions().stream()
                        .anyMatch(own -> own.arn().equals(arn)))
                .findFirst()
                .orElseThrow();
        return EdgeConfig.change(
                Phase.SWITCH,
                "sign-at-edge",
                account,
                arn,
                "Have the edge sign its requests to " + bucket.name(),
                (now, distribution, config) -> signed(distribution, config, placeholder));
    }

    private String signed(Distribution distribution, String config, String placeholder) {
        String edited = config;
        int index = 0;
        boolean wasWebsite = false;
        for (Origin origin : distribution.origins()) {
            if (origin.bucket().filter(bucket.name()::equals).isPresent()) {
                wasWebsite |= origin.isWebsite();
                edited = origin(edited, "/Origins/Items/" + index, origin, placeholder);
            }
            index++;
        }
        return wasWebsite ? likeWebsite(distribution, edited) : edited;
    }

    private String origin(String config, String at, Origin origin, String placeholder) {
        boolean signs = origin.control().isPresent() && signs(new AwsCloud.EdgeOrigin(null, origin));
        String edited = signs ? config : JsonEdit.set(config, at + "/OriginAccessControlId", Json.text(placeholder));
        edited = JsonEdit.set(
                JsonEdit.remove(edited, at + "/CustomOriginConfig"),
                at + "/S3OriginConfig",
                Json.text(Json.object("OriginAccessIdentity", "")));
        String region = bucket.region().found().orElse("");
        boolean regional =
                !region.isEmpty() && (origin.isWebsite() || !origin.domain().contains(region));
        return regional
                ? JsonEdit.set(edited, at + "/DomainName", Json.text(regionalName(bucket.name(), region)))
                : edited;
    }

    static String regionalName(String bucket, String region) {
        return bucket + ".s3." + region + ".amazonaws.com";
    }

    /** The REST endpoint knows no index and no error document: the edge takes over the website's. */
    private String likeWebsite(Distribution distribution, String config) {
        Optional<Website> website = bucket.website().found();
        String edited = config;
        Optional<String> index = website.flatMap(Website::index);
        if (distribution.rootObject().isEmpty() && index.isPresent()) {
            edited = JsonEdit.set(edited, "/DefaultRootObject", Json.text(index.get()));
        }
        Optional<String> error = website.flatMap(Website::error);
        boolean answers = distribution.errorResponse(403).isPresent()
                || distribution.errorResponse(404).isPresent();
        if (error.isPresent() && !answers) {
            edited = EdgeRemedies.answering(edited, 403, "/" + error.get(), 404);
        }
        return edited;
    }

    // --- shutting out

    /** An identity that no origin uses any more needs no grant. */
    private Change shutOutIdentities() {
        return changes.statements(
                Phase.SHUT_OUT,
                "shut-out-identities",
                "shut-out-identities",
                "Take the identities that no edge uses any more out of the bucket policy of " + bucket.name(),
                (statement, part) -> statement.mayDeny()
                        ? Optional.of(part)
                        : BucketChanges.leavingOut(
                                statement, part, element -> element instanceof PrincipalElement.OriginAccessIdentity));
    }
}
