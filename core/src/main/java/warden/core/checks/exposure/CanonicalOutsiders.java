package warden.core.checks.exposure;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Stream;
import warden.core.check.BucketCheck.Subject;
import warden.core.decision.AclSide;
import warden.core.decision.Decision;
import warden.core.decision.Request;
import warden.core.policy.Actor;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;
import warden.core.policy.PrincipalElement.CanonicalUser;
import warden.core.policy.Statement;
import warden.core.policy.Truth;
import warden.core.reach.Ability;
import warden.core.storage.AccessList;
import warden.core.storage.AccessList.Grant;
import warden.core.storage.AccessList.Grantee.Canonical;
import warden.core.storage.AccessList.Permission;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * Outside accounts that a bucket knows by their canonical user id only: in its ACL, or as principals of its policy. No reading tells an
 * account's number from such an id.
 * Source: S3 User Guide, "Access control list (ACL) overview"; IAM User Guide, "AWS JSON policy elements: Principal".
 */
final class CanonicalOutsiders {
    /**
     * The account through which the CDN delivers its older logs, and which it adds to the ACL of the bucket that takes them.
     * Source: CloudFront Developer Guide, "Access logs (standard logs)".
     */
    private static final String LOG_DELIVERY = "c4c1ede66af53448b93c283ce9448c4ba468c9432aa01d700d3878632f77d2d0";

    private final Subject subject;
    private final Map<String, Outsider> outsiders = new LinkedHashMap<>();

    /** What one of them may do, where that is granted, and what keeps from being sure. */
    record Outsider(Map<Ability, Citation> can, List<Need> needs) {}

    private CanonicalOutsiders(Subject subject) {
        this.subject = subject;
    }

    /** Returns those of a bucket that have, or may have, an ability, by canonical user id. */
    static Map<String, Outsider> of(Subject subject) {
        CanonicalOutsiders found = new CanonicalOutsiders(subject);
        if (subject.bucket().accessList() instanceof Reading.Found<AccessList> list) {
            found.byList(list);
        }
        subject.bucket().policy().found().ifPresent(policy -> policy.statements().stream()
                .filter(statement -> statement.mayAllow() && !statement.isOpaque())
                .forEach(found::byPolicy));
        found.outsiders.values().removeIf(outsider -> outsider.can().isEmpty());
        found.outsiders.forEach((id, outsider) -> outsider.needs().addAll(found.unreadNames()));
        return found.outsiders;
    }

    private void byList(Reading.Found<AccessList> list) {
        Truth inForce = AclSide.inForce(subject.bucket());
        for (Grant grant : list.value().grants()) {
            if (inForce == Truth.FALSE
                    || !(grant.grantee() instanceof Canonical canonical)
                    || list.value().ownerId().filter(canonical.id()::equals).isPresent()
                    || isKnown(canonical.id())) {
                continue;
            }
            Outsider outsider = outsider(canonical.id());
            Citation at = list.at().at(grant.at().toString(), "");
            granted(outsider, grant, Permission.READ, Ability.LIST, "s3:ListBucket", at);
            granted(outsider, grant, Permission.WRITE, Ability.WRITE, "s3:PutObject", at);
            granted(outsider, grant, Permission.WRITE_ACP, Ability.CHANGE_RULES, "s3:PutBucketAcl", at);
            if (inForce == Truth.UNKNOWN) {
                subject.bucket().ownership().missing().ifPresent(outsider.needs()::add);
            }
        }
    }

    private void granted(
            Outsider outsider, Grant grant, Permission permission, Ability ability, String action, Citation at) {
        if (grant.includes(permission)) {
            add(outsider, ability, action, at);
        }
    }

    private void byPolicy(Statement statement) {
        List<CanonicalUser> users = statement.principals().stream()
                .flatMap(clause -> clause.negated() ? Stream.empty() : clause.elements().stream())
                .flatMap(element -> element instanceof CanonicalUser user ? Stream.of(user) : Stream.empty())
                .filter(user -> !isKnown(user.id()))
                .toList();
        for (CanonicalUser user : users) {
            Outsider outsider = outsider(user.id());
            Citation at = subject.bucket()
                    .policy()
                    .citation()
                    .orElseThrow()
                    .at(statement.at().toString(), statement.text());
            for (Ability ability : Ability.values()) {
                ability.actions().stream()
                        .filter(action -> statement.actions().covers(action.toLowerCase(Locale.ROOT)))
                        .findFirst()
                        .ifPresent(action -> add(outsider, ability, action, at));
            }
            if (!statement.conditions().isEmpty()) {
                String why = "what it grants to a canonical user hangs on conditions";
                outsider.needs().add(new Need("bucket-policy", subject.bucket().arn(), why, ""));
            }
        }
    }

    private Outsider outsider(String id) {
        return outsiders.computeIfAbsent(id, key -> new Outsider(new LinkedHashMap<>(), new ArrayList<>()));
    }

    /** Adds an ability unless a deny takes it back, as it would from anybody else's account. */
    private void add(Outsider outsider, Ability ability, String action, Citation at) {
        String on = ability.isOnObjects(action)
                ? subject.bucket().object("index.html")
                : subject.bucket().arn();
        Context tls = Context.given(Map.of("aws:SecureTransport", ContextValue.Known.of("true")));
        Decision stranger = subject.reach().evaluator().decide(new Request(new Actor.AnyAccount(), action, on, tls));
        boolean denied = stranger.outcome() == Decision.Outcome.DENY && stranger.explicit();
        if (!denied) {
            outsider.can().putIfAbsent(ability, at);
        }
    }

    /** True for the ids of the surveyed and of the CDN's own accounts, and of the identities that were read. */
    private boolean isKnown(String id) {
        return id.equals(LOG_DELIVERY)
                || subject.account().originIdentities().containsValue(id)
                || subject.estate().accounts().stream()
                        .filter(account -> account == subject.account() || isTrusted(account.number()))
                        .anyMatch(account ->
                                account.canonicalId().filter(id::equals).isPresent());
    }

    private boolean isTrusted(String number) {
        return subject.estate().file().trustedAccounts().contains(number);
    }

    /** Returns what would show that an id is a trusted account's, or an identity's. */
    private List<Need> unreadNames() {
        List<Need> needs = new ArrayList<>();
        for (String trusted : subject.estate().file().trustedAccounts()) {
            boolean shown = subject.estate().accounts().stream()
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
}
