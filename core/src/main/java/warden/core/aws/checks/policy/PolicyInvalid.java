package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyProblem;

/** Finds documents that the provider would refuse. */
final class PolicyInvalid implements PolicyCheck {
    private static final int MOST_PLACES = 3;
    private static final CheckCard CARD = new CheckCard(
            "policy-invalid",
            Area.POLICY,
            Severity.HIGH,
            "the provider would refuse the document (says where and why)",
            "bucket-policy, key-policy, organization-policy, iam-user, iam-group, iam-role, iam-policy",
            "The document as it stands here cannot be in force, so what is in force is not known.",
            "Correct the document at the place named.",
            "IAM User Guide, \"Grammar of the IAM JSON policy language\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public boolean asksOfAllKinds() {
        return true;
    }

    @Override
    public List<Verdict> judge(PolicySubject subject) {
        Stream<PolicyProblem> breaches = subject.document().kind() == PolicyKind.BUCKET
                ? BucketPolicyRules.breaches(subject.document()).stream()
                : Stream.of();
        List<PolicyProblem> problems =
                Stream.concat(subject.document().problems().stream(), breaches).toList();
        List<Verdict> verdicts = new ArrayList<>();
        for (PolicyProblem problem : problems.stream().limit(MOST_PLACES).toList()) {
            String place = problem.at().toString();
            String where = place.isEmpty() ? " as a whole " : " at " + place + " ";
            verdicts.add(subject.flagged(
                    CARD,
                    place,
                    subject.called() + where + problem.says() + "; the provider would refuse it.",
                    List.of(subject.cite(problem.at(), ""))));
        }
        return verdicts;
    }
}
