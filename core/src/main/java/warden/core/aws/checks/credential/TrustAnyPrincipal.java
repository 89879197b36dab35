package warden.core.aws.checks.credential;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.PublicPolicy;
import warden.core.aws.policy.Statement;

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

    @Override
    public Optional<List<Finding>> judge(Subject subject) {
        if (subject.trust().statements().stream().anyMatch(TrustAnyPrincipal::sparesOnlyNamed)) {
            return Optional.of(List.of());
        }
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
        return PublicPolicy.demandsNamedCallers(condition) || PublicPolicy.pins(condition);
    }

    /** True for a deny that holds for all but callers who are named by account or organization, or for all. */
    private static boolean sparesOnlyNamed(Statement statement) {
        boolean deniesMost = !statement.isOpaque()
                && statement.effect() == Effect.DENY
                && statement.actions().covers("sts:assumerole")
                && statement.principals().stream().anyMatch(clause -> clause.negated() || clause.reachesEveryone());
        List<Condition> conditions = statement.conditions();
        return deniesMost
                && (conditions.isEmpty()
                        || (conditions.size() == 1
                                && PublicPolicy.comparesWithNamedCallers(conditions.get(0))
                                && conditions.get(0).operator().isNegated()));
    }
}
