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
import warden.core.aws.policy.Actor;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Citation;

/** Finds origins that ask a sealed bucket without signing. */
final class OriginIdentityMissing implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "origin-identity-missing",
            Area.CDN,
            Severity.HIGH,
            "sealed bucket behind a REST origin with neither origin access control nor identity: 403",
            "distribution, bucket-policy, bucket-public-access, account-public-access",
            "The edge asks the bucket as a stranger would, and the bucket refuses strangers: visitors get 403.",
            "Give the origin an origin access control that always signs, and allow this distribution in the bucket policy.",
            "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Origin origin : subject.distribution().origins()) {
            boolean unsigned = origin.identity().isEmpty() && origin.control().isEmpty();
            Optional<Bucket> bucket = subject.ownBucket(origin);
            if (origin.isRest() && unsigned && bucket.isPresent()) {
                verdicts.add(judge(subject, origin, bucket.get()));
            }
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, Origin origin, Bucket bucket) {
        Extent extent = subject.reachOf(bucket).strangersExtent(bucket, new Actor.Anyone(), Ability.READ);
        if (extent.isSome()) {
            return subject.clean();
        }
        if (extent.kind() == Extent.Kind.UNKNOWN) {
            return subject.unknown(extent.needsOr("bucket-policy", bucket.arn()));
        }
        List<Citation> because = new ArrayList<>(List.of(subject.distribution().cite(origin)));
        bucket.policy().citation().ifPresent(because::add);
        String says = "The distribution asks the bucket " + bucket.name()
                + " unsigned, and the bucket lets no stranger read: visitors get 403.";
        return new Verdict.Flagged(Finding.of(CARD, subject.distribution().arn(), subject.site(), says, because)
                .at(origin.id()));
    }
}
