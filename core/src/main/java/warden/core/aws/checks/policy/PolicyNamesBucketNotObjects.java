package warden.core.aws.checks.policy;

import java.util.List;
import java.util.stream.Collectors;
import warden.core.algebra.Language;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.policy.ActionClause.ActionPattern;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.Statement;

/** Finds statements about objects that name only the bucket, and the reverse. */
final class PolicyNamesBucketNotObjects implements PolicyCheck {
    private static final CheckCard CARD = new CheckCard(
            "policy-names-bucket-not-objects",
            Area.POLICY,
            Severity.HIGH,
            "object actions granted on the bucket ARN without /* (or list actions on /* only)",
            "bucket-policy",
            "The grant reaches nothing: an object is not the bucket that it lies in. Visitors or the publisher get 403.",
            "Name the bucket's objects (the ARN followed by /*) for object actions, and the bucket itself for list actions.",
            "S3 User Guide, \"Policies and permissions in Amazon S3\", section \"Resources\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(PolicySubject subject) {
        return subject.document().statements().stream()
                .filter(statement -> !statement.isOpaque())
                .filter(statement ->
                        BucketPolicyRules.outside(statement, subject.bucket()).isEmpty())
                .flatMap(statement -> judge(subject, statement).stream())
                .toList();
    }

    private static List<Verdict> judge(PolicySubject subject, Statement statement) {
        List<ActionPattern> misplaced = BucketPolicyRules.misplaced(statement, subject.bucket());
        if (misplaced.isEmpty()) {
            return List.of();
        }
        boolean namesBucket = statement
                .resources()
                .orElseThrow()
                .language(Context.empty(), Language.none())
                .contains(subject.bucket());
        String actions = misplaced.stream().map(ActionPattern::text).collect(Collectors.joining(", "));
        String says = namesBucket
                ? "The bucket policy names the bucket, not its objects, for " + actions + " (" + statement.called()
                        + ")."
                : "The bucket policy names only objects, not the bucket, for " + actions + " (" + statement.called()
                        + ").";
        return List.of(subject.flagged(CARD, statement.at().toString(), says, List.of(subject.cite(statement))));
    }
}
