package warden.core.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import warden.core.check.Area;
import warden.core.check.BucketCheck;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.policy.Actor;
import warden.core.reach.Ability;
import warden.core.reach.Extent;
import warden.core.survey.Need;

/** Finds buckets that let the CDN's service in for anybody's distribution. */
final class OriginIdentityAnyDistribution implements BucketCheck {
    private static final Actor CDN = new Actor.Service("cloudfront.amazonaws.com");
    private static final CheckCard CARD = new CheckCard(
            "origin-identity-any-distribution",
            Area.CDN,
            Severity.HIGH,
            "the bucket allows the CDN's service for any distribution of anybody",
            "bucket-policy",
            "Anybody can put a distribution of their own in front of the bucket and read it through that.",
            "Add a condition on aws:SourceArn that names your distribution's ARN.",
            "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Need> needs = new ArrayList<>();
        for (Ability ability : Ability.values()) {
            Extent extent = subject.reach().strangersExtent(subject.bucket(), CDN, ability);
            boolean everybodyToo = subject.reach()
                    .strangersExtent(subject.bucket(), new Actor.Anyone(), ability)
                    .isSome();
            if (extent.isSome() && !everybodyToo) {
                String says = "The bucket lets the CDN " + ability.word() + " for any distribution of anybody.";
                return List.of(new Verdict.Flagged(
                        Finding.of(CARD, subject.bucket().arn(), subject.site(), says, extent.because())
                                .with(extent.witness())));
            }
            if (extent.kind() == Extent.Kind.UNKNOWN) {
                needs.addAll(
                        extent.needs().isEmpty()
                                ? List.of(new Need(
                                        "bucket-policy", subject.bucket().arn(), extent.why(), ""))
                                : extent.needs());
            }
        }
        return List.of(needs.isEmpty() ? subject.clean() : subject.unknown(needs));
    }
}
