package warden.core.checks.exposure;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.check.Area;
import warden.core.check.BucketCheck;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.decision.AclSide;
import warden.core.policy.Actor;
import warden.core.policy.Truth;
import warden.core.reach.Ability;
import warden.core.reach.Extent;
import warden.core.reach.NamedCallers;
import warden.core.reach.NamedCallers.Caller;
import warden.core.survey.Need;

/** Finds buckets that an account outside the trusted ones can use. */
final class OutsideAccountAccess implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
                    "outside-account-access",
                    Area.EXPOSURE,
                    Severity.HIGH,
                    "an account, organization, canonical user or outside role that is not trusted in the site file has any ability, however it is named; critical if it can write, delete or change rules",
                    "bucket-policy, bucket-acl, object-acl, bucket-ownership, bucket-public-access, account-public-access",
                    "Whoever runs that account decides who of theirs uses the grant; you do not.",
                    "Remove the grant, or list the account or organization under trusted-accounts in the site file.",
                    "IAM User Guide, \"Cross account resource access in IAM\"")
            .atWorst(Severity.CRITICAL);

    private static final int MOST_NEEDS = 5;

    @Override
    public CheckCard card() {
        return CARD;
    }

    /**
     * The account through which the CDN delivers its older logs, and which it adds to the ACL of the bucket that takes them.
     * Source: CloudFront Developer Guide, "Access logs (standard logs)".
     */
    private static final String LOG_DELIVERY = "c4c1ede66af53448b93c283ce9448c4ba468c9432aa01d700d3878632f77d2d0";

    private static final Set<Ability> CHANGING = Set.of(Ability.WRITE, Ability.DELETE, Ability.CHANGE_RULES);

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<Need> unread = subject.bucket().policy().missing();
        if (unread.isPresent()) {
            return List.of(subject.unknown(List.of(unread.get())));
        }
        List<Verdict> verdicts = new ArrayList<>();
        for (Caller caller : NamedCallers.of(subject.account(), subject.bucket())) {
            if (trust(subject, caller) != Trust.OURS) {
                verdicts.addAll(judge(subject, caller));
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

    /** Whose somebody is. */
    private enum Trust {
        /** The account's own, or trusted. */
        OURS,
        /** Of an account or organization that is known and not trusted. */
        FOREIGN,
        /** It cannot be told. */
        UNKNOWN
    }

    private static Trust trust(Subject subject, Caller caller) {
        Actor who = caller.grantee().who();
        List<String> trusted = subject.estate().file().trustedAccounts();
        if (caller.organization().isPresent()) {
            String id = caller.organization().get();
            Optional<String> own = subject.account().directory().organizationId();
            return trusted.contains(id) || own.filter(id::equals).isPresent()
                    ? Trust.OURS
                    : own.isPresent() ? Trust.FOREIGN : Trust.UNKNOWN;
        }
        if (caller.account().isPresent()) {
            String number = caller.account().get();
            boolean isCdn = who.equals(new Actor.Service("cloudfront.amazonaws.com"));
            // Whose distribution the CDN acts for has a check of its own.
            return isCdn || number.equals(subject.account().number()) || trusted.contains(number)
                    ? Trust.OURS
                    : Trust.FOREIGN;
        }
        if (who instanceof Actor.CanonicalUser user) {
            return isOurs(subject, user.id())
                    ? Trust.OURS
                    : unreadNames(subject).isEmpty() ? Trust.FOREIGN : Trust.UNKNOWN;
        }
        // Services and identities as such have checks of their own.
        return Trust.OURS;
    }

    /** True for the ids of the surveyed and of the CDN's own accounts, and for trusted ones. */
    private static boolean isOurs(Subject subject, String id) {
        List<String> trusted = subject.estate().file().trustedAccounts();
        return id.equals(LOG_DELIVERY)
                || trusted.contains(id)
                || subject.estate().accounts().stream()
                        .filter(account -> account == subject.account() || trusted.contains(account.number()))
                        .anyMatch(account ->
                                account.canonicalId().filter(id::equals).isPresent());
    }

    /** Returns what would show that a canonical user id is a trusted account's, the account's own, or an identity's. */
    private static List<Need> unreadNames(Subject subject) {
        List<Need> needs = new ArrayList<>();
        for (String trusted : subject.estate().file().trustedAccounts()) {
            boolean shown = !trusted.matches("[0-9]{12}")
                    || subject.estate().accounts().stream()
                            .filter(account -> account.number().equals(trusted))
                            .anyMatch(account -> account.canonicalId().isPresent());
            if (!shown) {
                needs.add(new Need(
                        "bucket-list",
                        trusted,
                        "the trusted account's canonical user id is not known",
                        "s3:ListAllMyBuckets"));
            }
        }
        if (subject.account().canonicalId().isEmpty()) {
            needs.add(new Need(
                    "bucket-list",
                    subject.account().number(),
                    "the account's own canonical user id is not known",
                    "s3:ListAllMyBuckets"));
        }
        subject.estate().accounts().stream()
                .flatMap(account -> account.distributions().stream())
                .flatMap(distribution -> distribution.origins().stream())
                .flatMap(origin -> origin.identity().stream())
                .filter(identity -> !subject.account().originIdentities().containsKey(identity))
                .distinct()
                .forEach(identity -> subject.account()
                        .survey()
                        .missing("origin-identity", "origin-access-identity/" + identity)
                        .ifPresent(needs::add));
        return needs;
    }

    private static List<Verdict> judge(Subject subject, Caller caller) {
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
        if (trust(subject, caller) == Trust.UNKNOWN) {
            return List.of(subject.unknown(whose(subject, caller)));
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

    /** Returns what would tell whose somebody is. */
    private static List<Need> whose(Subject subject, Caller caller) {
        return caller.organization().isPresent()
                ? List.of(new Need(
                        "organization-policy",
                        subject.account().number(),
                        "whether " + caller.called()
                                + " is the account's own is not known; if it is, list it under trusted-accounts",
                        "organizations:DescribePolicy"))
                : unreadNames(subject);
    }
}
