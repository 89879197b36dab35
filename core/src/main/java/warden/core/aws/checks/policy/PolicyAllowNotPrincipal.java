package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.Statement;

/** Finds allows that are made to everybody except those named. */
final class PolicyAllowNotPrincipal implements PolicyCheck {
    private static final CheckCard CARD = new CheckCard(
            "policy-allow-not-principal",
            Area.POLICY,
            Severity.HIGH,
            "Allow with NotPrincipal",
            "bucket-policy, key-policy, iam-role",
            "It allows everybody in the world who is not named, callers without credentials included.",
            "Name those who are meant with Principal, or turn the statement into a deny.",
            "IAM User Guide, \"AWS JSON policy elements: NotPrincipal\"");

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
        List<Verdict> verdicts = new ArrayList<>();
        for (Statement statement : subject.document().statements()) {
            boolean allowsAllOthers = !statement.isOpaque()
                    && statement.effect() == Effect.ALLOW
                    && statement.principals().filter(PrincipalClause::negated).isPresent();
            if (allowsAllOthers) {
                String says = subject.called() + " allows everybody who is not named, by NotPrincipal ("
                        + statement.called() + ").";
                verdicts.add(subject.flagged(CARD, statement.at().toString(), says, List.of(subject.cite(statement))));
            }
        }
        return verdicts;
    }
}
