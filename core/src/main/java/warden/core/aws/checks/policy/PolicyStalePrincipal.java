package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.checks.PolicyCards;

/** Finds principals that no longer exist. */
final class PolicyStalePrincipal implements PolicyCheck {
    private static final CheckCard CARD = PolicyCards.POLICY_STALE_PRINCIPAL;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(PolicySubject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Statement statement : subject.document().statements()) {
            statement.principals().stream()
                    .flatMap(clause -> clause.elements().stream())
                    .flatMap(element -> stale(subject.context(), element).stream())
                    .findFirst()
                    .ifPresent(name -> verdicts.add(subject.flagged(
                            CARD,
                            statement.at().toString(),
                            "The bucket policy names " + name + ", which no longer exists (" + statement.called()
                                    + ").",
                            List.of(subject.cite(statement)))));
        }
        return verdicts;
    }

    private static Optional<String> stale(AwsContext context, PrincipalElement element) {
        if (element instanceof PrincipalElement.Stale stale) {
            return Optional.of("the principal " + stale.id());
        }
        if (element instanceof PrincipalElement.OriginAccessIdentity identity) {
            boolean gone = context.cloud().accounts().stream()
                    .map(Account::survey)
                    .anyMatch(survey -> survey.reading("origin-identity", "origin-access-identity/" + identity.id())
                            .isAbsent());
            return gone ? Optional.of("the origin access identity " + identity.id()) : Optional.empty();
        }
        return Optional.empty();
    }
}
