package warden.core.aws.checks.policy;

import java.util.List;
import java.util.stream.Collectors;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.policy.ResourceClause.ResourcePattern;
import warden.core.aws.policy.Statement;

/** Finds statements whose resources lie outside the bucket that the policy is for. */
final class PolicyNamesOtherBucket implements PolicyCheck {
    private static final CheckCard CARD = new CheckCard(
            "policy-names-other-bucket",
            Area.POLICY,
            Severity.HIGH,
            "a statement's resources lie outside this bucket",
            "bucket-policy",
            "The statement does nothing for this bucket; the grant or the deny that was meant is missing.",
            "Put this bucket's own name into the resources.",
            "S3 User Guide, \"Bucket policies for Amazon S3\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(PolicySubject subject) {
        return subject.document().statements().stream()
                .flatMap(statement -> judge(subject, statement).stream())
                .toList();
    }

    private static List<Verdict> judge(PolicySubject subject, Statement statement) {
        List<ResourcePattern> outside = BucketPolicyRules.outside(statement, subject.bucket());
        if (outside.isEmpty()) {
            return List.of();
        }
        String names = outside.stream().map(ResourcePattern::text).collect(Collectors.joining(", "));
        String says =
                "The bucket policy names " + names + ", which is not in this bucket (" + statement.called() + ").";
        return List.of(subject.flagged(
                CARD,
                statement.at().toString(),
                says,
                outside.stream()
                        .map(pattern -> subject.cite(pattern.at(), pattern.text()))
                        .toList()));
    }
}
