package warden.core.aws.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.aws.policy.Actor;
import warden.core.aws.reach.NamedCallers.Caller;
import warden.core.aws.site.AwsCloud;
import warden.core.survey.Need;

/** Whose a caller is that a policy or an access list names: the account's own, or trusted in the site file; or not. */
public final class Familiar {
    /**
     * The account through which the CDN delivers its older logs, and which it adds to the ACL of the bucket that takes them.
     * Source: CloudFront Developer Guide, "Access logs (standard logs)".
     */
    private static final String LOG_DELIVERY = "c4c1ede66af53448b93c283ce9448c4ba468c9432aa01d700d3878632f77d2d0";

    private final AwsCloud cloud;
    private final Account account;

    /** Judges callers of things that this account owns. */
    public Familiar(AwsCloud cloud, Account account) {
        this.cloud = cloud;
        this.account = account;
    }

    /** Whose somebody is. */
    public enum Whose {
        /** The account's own, or trusted. */
        OURS,
        /** Of an account or organization that is known and not trusted. */
        FOREIGN,
        /** It cannot be told. */
        UNKNOWN
    }

    /** Returns whose a caller is. */
    public Whose of(Caller caller) {
        Actor who = caller.grantee().who();
        List<String> trusted = cloud.file().trustedAccounts();
        if (caller.organization().isPresent()) {
            String id = caller.organization().get();
            Optional<String> own = account.directory().organizationId();
            return trusted.contains(id) || own.filter(id::equals).isPresent()
                    ? Whose.OURS
                    : own.isPresent() ? Whose.FOREIGN : Whose.UNKNOWN;
        }
        if (caller.account().isPresent()) {
            String number = caller.account().get();
            boolean isCdn = who.equals(new Actor.Service("cloudfront.amazonaws.com"));
            // Whose distribution the CDN acts for has a check of its own.
            return isCdn || number.equals(account.number()) || trusted.contains(number) ? Whose.OURS : Whose.FOREIGN;
        }
        if (who instanceof Actor.CanonicalUser user) {
            return isOurs(user.id()) ? Whose.OURS : unreadNames().isEmpty() ? Whose.FOREIGN : Whose.UNKNOWN;
        }
        // Services and identities as such have checks of their own.
        return Whose.OURS;
    }

    /** Returns what would tell whose somebody is. */
    public List<Need> whatWouldTell(Caller caller) {
        return caller.organization().isPresent()
                ? List.of(new Need(
                        "organization-policy",
                        account.number(),
                        "whether " + caller.called()
                                + " is the account's own is not known; if it is, list it under trusted-accounts",
                        "organizations:DescribePolicy"))
                : unreadNames();
    }

    /** True for the ids of the surveyed and of the CDN's own accounts, and for trusted ones. */
    private boolean isOurs(String id) {
        List<String> trusted = cloud.file().trustedAccounts();
        return id.equals(LOG_DELIVERY)
                || trusted.contains(id)
                || cloud.accounts().stream()
                        .filter(each -> each == account || trusted.contains(each.number()))
                        .anyMatch(each -> each.canonicalIds()
                                .canonicalId()
                                .filter(id::equals)
                                .isPresent());
    }

    /** Returns what would show that a canonical user id is a trusted account's, the account's own, or an identity's. */
    private List<Need> unreadNames() {
        List<Need> needs = new ArrayList<>();
        for (String trusted : cloud.file().trustedAccounts()) {
            boolean shown = !trusted.matches("[0-9]{12}")
                    || cloud.accounts().stream()
                            .filter(each -> each.number().equals(trusted))
                            .anyMatch(each -> each.canonicalIds().canonicalId().isPresent());
            if (!shown) {
                needs.add(new Need(
                        "bucket-list",
                        trusted,
                        "the trusted account's canonical user id is not known",
                        "s3:ListAllMyBuckets"));
            }
        }
        if (account.canonicalIds().canonicalId().isEmpty()) {
            needs.add(new Need(
                    "bucket-list",
                    account.number(),
                    "the account's own canonical user id is not known",
                    "s3:ListAllMyBuckets"));
        }
        cloud.accounts().stream()
                .flatMap(each -> each.edges().distributions().stream())
                .flatMap(distribution -> distribution.origins().stream())
                .flatMap(origin -> origin.identity().stream())
                .filter(identity -> !account.canonicalIds().originIdentities().containsKey(identity))
                .distinct()
                .forEach(identity -> account.survey()
                        .missing("origin-identity", "origin-access-identity/" + identity)
                        .ifPresent(needs::add));
        return needs;
    }
}
