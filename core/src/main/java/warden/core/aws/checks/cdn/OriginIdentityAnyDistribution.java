package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
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
            Extent everybody = subject.reach().strangersExtent(subject.bucket(), new Actor.Anyone(), ability);
            // What lets in everybody lets in the CDN; whether it does is the question that other checks leave open.
            boolean perhapsAsEverybody =
                    extent.isSome() && everybody.kind() == Extent.Kind.UNKNOWN && !namesTheCdn(subject);
            // Where everybody is meant to read, what takes the grant back (a block, a payer) is the fault, and has a
            // check of its own.
            boolean meantForEverybody = subject.needsPublicAccess() && !namesTheCdn(subject);
            if (meantForEverybody && extent.isSome()) {
                continue;
            }
            if (perhapsAsEverybody) {
                needs.addAll(subject.needs(everybody));
            } else if (extent.isSome() && !everybody.isSome()) {
                String says = "The bucket lets the CDN " + ability.word() + " for any distribution of anybody.";
                return List.of(new Verdict.Flagged(
                        Finding.of(CARD, subject.bucket().arn(), subject.site(), says, extent.because())
                                .with(extent.witness())));
            }
            needs.addAll(subject.needs(extent));
        }
        return List.of(needs.isEmpty() ? subject.clean() : subject.unknown(needs));
    }

    private static boolean namesTheCdn(Subject subject) {
        return subject.bucket().policy().found().stream()
                .flatMap(policy -> policy.statements().stream())
                .filter(Statement::mayAllow)
                .flatMap(statement -> statement.principals().stream())
                .anyMatch(clause -> clause.negated()
                        || clause.elements().contains(new PrincipalElement.ServiceName("cloudfront.amazonaws.com")));
    }
}
