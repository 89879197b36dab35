package warden.core.checks.exposure;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.check.Area;
import warden.core.check.BucketCheck;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.decision.AclSide;
import warden.core.policy.Actor;
import warden.core.policy.PrincipalElement;
import warden.core.policy.Statement;
import warden.core.policy.Truth;
import warden.core.reach.Ability;
import warden.core.reach.Extent;
import warden.core.reach.Grantee;
import warden.core.reach.Reach;
import warden.core.survey.Need;

/** Finds buckets that an account outside the trusted ones can use. */
final class OutsideAccountAccess implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "outside-account-access",
            Area.EXPOSURE,
            Severity.HIGH,
            "an account that is not trusted in the site file has any ability; critical if it can write, delete or change rules",
            "bucket-policy, bucket-acl, bucket-public-access, account-public-access",
            "Whoever runs that account decides who of theirs uses the grant; you do not.",
            "Remove the grant, or list the account under trusted-accounts in the site file.",
            "IAM User Guide, \"Cross account resource access in IAM\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<Need> unread = subject.bucket().policy().missing();
        if (unread.isPresent()) {
            return List.of(subject.unknown(List.of(unread.get())));
        }
        List<Verdict> verdicts = new ArrayList<>();
        for (Actor outsider : outsiders(subject)) {
            judge(subject, outsider).ifPresent(verdicts::add);
        }
        CanonicalOutsiders.of(subject).forEach((id, outsider) -> verdicts.add(judge(subject, id, outsider)));
        Optional<Need> unreadList = AclSide.inForce(subject.bucket()) == Truth.FALSE
                ? Optional.empty()
                : subject.bucket().accessList().missing();
        if (verdicts.isEmpty() && unreadList.isPresent()) {
            return List.of(subject.unknown(List.of(unreadList.get())));
        }
        return verdicts.isEmpty() ? List.of(subject.clean()) : verdicts;
    }

    private static Verdict judge(Subject subject, String canonicalId, CanonicalOutsiders.Outsider outsider) {
        if (!outsider.needs().isEmpty()) {
            return subject.unknown(outsider.needs());
        }
        List<String> can = outsider.can().keySet().stream().map(Ability::word).toList();
        boolean changes = outsider.can().keySet().stream().anyMatch(OutsideAccountAccess::changes);
        String says = "The account with the canonical user id " + canonicalId
                + ", which is not known to be trusted, can use the bucket: " + String.join(", ", can) + ".";
        Finding finding = Finding.of(
                        CARD,
                        subject.bucket().arn(),
                        subject.site(),
                        says,
                        outsider.can().values().stream().distinct().toList())
                .at(canonicalId);
        return new Verdict.Flagged(changes ? finding.as(Severity.CRITICAL) : finding);
    }

    private static boolean changes(Ability ability) {
        return ability != Ability.READ && ability != Ability.LIST;
    }

    private static Optional<Verdict> judge(Subject subject, Actor outsider) {
        Reach reach = subject.reach();
        List<String> can = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        Extent worst = null;
        for (Ability ability : Ability.values()) {
            Extent extent = reach.extent(subject.bucket(), new Grantee(outsider), ability);
            boolean everybodyToo = reach.strangersExtent(subject.bucket(), new Actor.AnyAccount(), ability)
                    .isSome();
            if (extent.isSome() && !everybodyToo) {
                can.add(ability.word());
                worst = worst == null || changes(ability) ? extent : worst;
            }
            needs.addAll(subject.needs(extent));
        }
        if (worst == null) {
            return needs.isEmpty() ? Optional.empty() : Optional.of(subject.unknown(needs));
        }
        boolean changes = can.stream().anyMatch(word -> !word.equals("read") && !word.equals("list"));
        String says = "The account " + outsider.home().orElseThrow() + ", which is not trusted, can use the bucket: "
                + String.join(", ", can) + ".";
        Finding finding = Finding.of(CARD, subject.bucket().arn(), subject.site(), says, worst.because())
                .at(outsider.spelled())
                .with(worst.witness());
        return Optional.of(new Verdict.Flagged(changes ? finding.as(Severity.CRITICAL) : finding));
    }

    /** Returns the principals of other accounts that the policy names; of an account named as a whole, its root. */
    private static Set<Actor> outsiders(Subject subject) {
        Set<Actor> outsiders = new LinkedHashSet<>();
        Set<String> trusted = new LinkedHashSet<>(subject.estate().file().trustedAccounts());
        trusted.add(subject.account().number());
        subject.bucket().policy().found().ifPresent(policy -> {
            for (Statement statement : policy.statements()) {
                if (statement.mayAllow()) {
                    statement.principals().ifPresent(clause -> clause.elements().stream()
                            .flatMap(element -> actor(element).stream())
                            .filter(actor -> actor.home()
                                    .filter(home -> !trusted.contains(home))
                                    .isPresent())
                            .forEach(outsiders::add));
                }
            }
        });
        return outsiders;
    }

    private static Optional<Actor> actor(PrincipalElement element) {
        if (element instanceof PrincipalElement.Account account) {
            return Optional.of(new Actor.AccountRoot(account.account()));
        }
        if (element instanceof PrincipalElement.UserArn user) {
            return Optional.of(new Actor.User(user.arn()));
        }
        if (element instanceof PrincipalElement.RoleArn role) {
            return Optional.of(new Actor.Role(role.arn()));
        }
        return element instanceof PrincipalElement.SessionArn session
                ? Actor.parse(session.arn().toString())
                : Optional.empty();
    }
}
