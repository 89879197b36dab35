package warden.core.checks.credential;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.check.Area;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Severity;
import warden.core.policy.Condition;
import warden.core.policy.PrincipalClause;
import warden.core.policy.PublicPolicy;
import warden.core.policy.Statement;

/** Finds roles that anyone can assume. */
final class TrustAnyPrincipal implements TrustCheck {
    private static final CheckCard CARD = new CheckCard(
            "trust-any-principal",
            Area.CREDENTIAL,
            Severity.CRITICAL,
            "a role anyone can assume",
            "iam-role",
            "Anyone with an account of their own at the provider takes the role and all it may do.",
            "Name the accounts, users or services that need the role.",
            "IAM User Guide, \"How to use trust policies with IAM roles\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** Keys that say who the caller is. */
    private static final Set<String> WHO = Set.of(
            "aws:principalarn",
            "aws:principalaccount",
            "aws:principalorgid",
            "aws:principalorgpaths",
            "aws:sourceaccount");

    @Override
    public Optional<List<Finding>> judge(Subject subject) {
        return Optional.of(subject.trust().statements().stream()
                .filter(statement -> !statement.isOpaque() && statement.mayAllow() && letsAnyoneIn(statement))
                .map(statement -> subject.finding(CARD, statement, says(subject, statement)))
                .toList());
    }

    private static String says(Subject subject, Statement statement) {
        boolean external = statement.conditions().stream()
                .anyMatch(each -> each.lowerCaseKey().equals("sts:externalid"));
        return subject.role().name() + " can be assumed by anyone who has an account at the provider"
                + (external ? " and knows the external id, which is no secret." : ".");
    }

    private static boolean letsAnyoneIn(Statement statement) {
        return statement.principals().filter(PrincipalClause::reachesEveryone).isPresent()
                && statement.actions().covers("sts:assumerole")
                && statement.conditions().stream().noneMatch(TrustAnyPrincipal::saysWho);
    }

    private static boolean saysWho(Condition condition) {
        boolean fixed = WHO.contains(condition.lowerCaseKey())
                && !condition.operator().isNegated()
                && !condition.ifExists()
                && condition.values().stream()
                        .noneMatch(value -> value.equals("*") || value.startsWith("arn:aws:iam::*"));
        return fixed || PublicPolicy.pins(condition);
    }
}
