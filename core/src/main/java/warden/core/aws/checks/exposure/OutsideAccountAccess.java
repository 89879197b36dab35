package warden.core.aws.checks.exposure;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.audit.Familiar;
import warden.core.aws.audit.Familiar.Whose;
import warden.core.aws.decision.AclSide;
import warden.core.aws.policy.Actor;
import warden.core.aws.reach.NamedCallers;
import warden.core.aws.reach.NamedCallers.Caller;
import warden.core.checks.ExposureCards;
import warden.core.survey.Need;

/** Finds buckets that an account outside the trusted ones can use. */
final class OutsideAccountAccess implements BucketCheck {
    private static final CheckCard CARD = ExposureCards.OUTSIDE_ACCOUNT_ACCESS;

    private static final int MOST_NEEDS = 5;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final Set<Ability> CHANGING = Set.of(Ability.WRITE, Ability.DELETE, Ability.CHANGE_RULES);

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<Need> unread = subject.bucket().policy().missing();
        if (unread.isPresent()) {
            return List.of(subject.unknown(List.of(unread.get())));
        }
        List<Verdict> verdicts = new ArrayList<>();
        Familiar familiar = new Familiar(subject.cloud(), subject.account());
        for (Caller caller : NamedCallers.of(subject.account(), subject.bucket())) {
            Whose whose = familiar.of(caller);
            if (whose != Whose.OURS) {
                verdicts.addAll(
                        judge(subject, caller, whose == Whose.FOREIGN ? List.of() : familiar.whatWouldTell(caller)));
            }
        }
        List<Need> unreadLists = unreadLists(subject);
        if (verdicts.isEmpty() && !unreadLists.isEmpty()) {
            return List.of(subject.unknown(unreadLists));
        }
        return verdicts.isEmpty() ? List.of(subject.clean()) : verdicts;
    }

    /** Returns the access lists, of the bucket and its objects, that were refused and count. */
    private static List<Need> unreadLists(Subject subject) {
        List<Need> needs = new ArrayList<>();
        if (AclSide.inForce(subject.bucket()) != Truth.FALSE) {
            subject.bucket().accessList().missing().ifPresent(needs::add);
            subject.bucket().keysWith("object-acl").stream()
                    .flatMap(key -> subject.bucket().objectAccessList(key).stream())
                    .flatMap(list -> list.missing().stream())
                    .limit(MOST_NEEDS)
                    .forEach(needs::add);
        }
        return needs;
    }

    /**
     * Judges one caller.
     *
     * @param whose what would tell whose the caller is; empty when it is known to be a stranger
     */
    private static List<Verdict> judge(Subject subject, Caller caller, List<Need> whose) {
        Map<Ability, Extent> can = new EnumMap<>(Ability.class);
        List<Need> needs = new ArrayList<>();
        boolean mayChange = false;
        for (Ability ability : Ability.values()) {
            Extent extent = subject.reach().extent(subject.bucket(), caller.grantee(), ability);
            boolean everybodyToo = subject.reach()
                    .strangersExtent(subject.bucket(), new Actor.AnyAccount(), ability)
                    .isSome();
            if (extent.isSome() && !everybodyToo) {
                can.put(ability, extent);
            } else if (extent.kind() == Extent.Kind.UNKNOWN && !everybodyToo) {
                needs.addAll(subject.needs(extent));
                mayChange |= CHANGING.contains(ability);
            }
        }
        if (can.isEmpty()) {
            return needs.isEmpty() ? List.of() : List.of(subject.unknown(needs));
        }
        if (!whose.isEmpty()) {
            return List.of(subject.unknown(whose));
        }
        Extent worst = can.entrySet().stream()
                .filter(entry -> CHANGING.contains(entry.getKey()))
                .findFirst()
                .or(() -> can.entrySet().stream().findFirst())
                .orElseThrow()
                .getValue();
        boolean changes = can.keySet().stream().anyMatch(CHANGING::contains);
        String who = Character.toUpperCase(caller.called().charAt(0))
                + caller.called().substring(1);
        String says = who + ", which is not trusted, can use the bucket: "
                + can.keySet().stream().map(Ability::word).collect(Collectors.joining(", ")) + ".";
        Finding finding = Finding.of(CARD, subject.bucket().arn(), subject.site(), says, worst.because())
                .at(caller.grantee().label())
                .with(worst.witness());
        return changes
                ? List.of(new Verdict.Flagged(finding.as(Severity.CRITICAL)))
                : mayChange
                        ? Verdict.atLeast(finding, Severity.CRITICAL, subject.unknown(needs))
                        : List.of(new Verdict.Flagged(finding));
    }
}
