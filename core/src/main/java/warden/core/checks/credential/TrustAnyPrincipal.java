package warden.core.checks.credential;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import warden.core.check.Area;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Severity;
import warden.core.policy.Condition;
import warden.core.policy.Effect;
import warden.core.policy.Operator.Family;
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

    /** The keys that say who the caller is, and how a value looks that names an account or an organization. */
    private static final Map<String, Pattern> FIXED = Map.of(
            "aws:principalarn", Pattern.compile("arn:[a-z-]+:(iam|sts)::[0-9]{12}:.*"),
            "aws:principalaccount", Pattern.compile("[0-9]{12}"),
            "aws:principalorgid", Pattern.compile("o-[a-z0-9]+"),
            "aws:principalorgpaths", Pattern.compile("o-[a-z0-9]+/.*"),
            "aws:sourceaccount", Pattern.compile("[0-9]{12}"));

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

    /** True for a condition that only callers meet who are named by account or organization. */
    private static boolean saysWho(Condition condition) {
        return (isAboutWho(condition)
                        && !condition.operator().isNegated()
                        && !condition.ifExists()
                        && condition.quantifier() != Condition.Quantifier.ALL)
                || PublicPolicy.pins(condition);
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
                                && isAboutWho(conditions.get(0))
                                && conditions.get(0).operator().isNegated()));
    }

    /** True for a comparison with fixed accounts or organizations; that a key is there, or begins so, says nothing about whose it is. */
    private static boolean isAboutWho(Condition condition) {
        Pattern fixed = FIXED.get(condition.lowerCaseKey());
        Family family = condition.operator().family();
        return fixed != null
                && (family == Family.TEXT
                        || family == Family.TEXT_IGNORING_CASE
                        || family == Family.PATTERN
                        || family == Family.ARN)
                && condition.values().stream()
                        .allMatch(value -> fixed.matcher(value).matches());
    }
}
