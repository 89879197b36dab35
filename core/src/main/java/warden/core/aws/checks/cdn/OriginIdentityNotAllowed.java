package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.OriginControl;
import warden.core.aws.reach.BucketMatrix;
import warden.core.aws.reach.Grantee;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds buckets that do not let in the distribution that signs for them. */
final class OriginIdentityNotAllowed implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "origin-identity-not-allowed",
            Area.CDN,
            Severity.HIGH,
            "the distribution signs, but the bucket does not allow this one: 403",
            "distribution, origin-identity, origin-control, bucket-policy, bucket-public-access",
            "Every page answers 403, though the distribution and the bucket each look right.",
            "Allow s3:GetObject on the bucket's objects to this distribution (or its identity) in the bucket policy.",
            "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Origin origin : subject.distribution().origins()) {
            Optional<Bucket> bucket = subject.ownBucket(origin);
            if (origin.isRest()
                    && bucket.isPresent()
                    && (origin.identity().isPresent() || origin.control().isPresent())) {
                verdicts.add(judge(subject, origin, bucket.get()));
            }
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, Origin origin, Bucket bucket) {
        if (origin.control().isPresent()) {
            Reading<OriginControl> control =
                    subject.account().edges().originControl(origin.control().get());
            if (control.isUnread()) {
                return new Verdict.Unknown(
                        bucket.arn(), subject.site(), control.missing().stream().toList());
            }
            if (control.found().filter(value -> value.signs().equals("never")).isPresent()) {
                // It does not sign at all, which is another fault.
                return subject.clean();
            }
        }
        Grantee edge = BucketMatrix.edge(subject.distribution(), origin, subject.account());
        Extent extent = subject.reachOf(bucket).extent(bucket, edge, Ability.READ);
        if (extent.isSome()) {
            return new Verdict.Clean(bucket.arn(), subject.site());
        }
        if (extent.kind() == Extent.Kind.UNKNOWN) {
            List<Need> needs = extent.needsOr("bucket-policy", bucket.arn());
            return new Verdict.Unknown(bucket.arn(), subject.site(), needs);
        }
        List<Citation> because = new ArrayList<>(List.of(subject.distribution().cite(origin)));
        bucket.policy().citation().ifPresent(because::add);
        String says = "The distribution " + subject.distribution().id()
                + " signs its requests, but the bucket does not let it read.";
        return new Verdict.Flagged(Finding.of(CARD, bucket.arn(), subject.site(), says, because)
                .at(subject.distribution().arn()));
    }
}
