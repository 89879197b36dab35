package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.account.Account;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.identity.Principal;
import warden.core.policy.Condition;
import warden.core.policy.PrincipalClause;
import warden.core.policy.PublicPolicy;
import warden.core.policy.Statement;
import warden.core.site.Site;
import warden.core.survey.Citation;

/** Finds roles that anyone can assume. */
final class TrustAnyPrincipal implements Check {
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
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Principal role : account.directory().principals()) {
                role.trust().ifPresent(trust -> {
                    List<Verdict> found = trust.statements().stream()
                            .filter(statement -> !statement.isOpaque() && statement.mayAllow())
                            .filter(TrustAnyPrincipal::letsAnyoneIn)
                            .map(statement -> flagged(setup, role, statement))
                            .toList();
                    verdicts.addAll(
                            found.isEmpty()
                                    ? List.of(new Verdict.Clean(role.arn().toString(), site(setup, role)))
                                    : found);
                });
            }
        }
        return verdicts;
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

    private static Verdict flagged(Setup setup, Principal role, Statement statement) {
        Citation at = role.at().at(statement.at().toString(), statement.text());
        String says = role.name() + " can be assumed by anyone who has an account at the provider"
                + (statement.conditions().stream()
                                .anyMatch(each -> each.lowerCaseKey().equals("sts:externalid"))
                        ? " and knows the external id, which is no secret."
                        : ".");
        return new Verdict.Flagged(Finding.of(CARD, role.arn().toString(), site(setup, role), says, List.of(at))
                .at(statement.at().toString()));
    }

    private static Optional<String> site(Setup setup, Principal role) {
        return setup.publishers().stream()
                .filter(publisher -> publisher.principal().arn().equals(role.arn()))
                .flatMap(publisher -> publisher.sites().stream())
                .findFirst()
                .map(Site::name);
    }
}
