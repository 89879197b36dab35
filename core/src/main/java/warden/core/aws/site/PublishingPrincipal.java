package warden.core.aws.site;

import java.util.List;
import warden.core.aws.account.Account;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.site.Publisher;

/**
 * A user or role that publishes sites.
 *
 * @param sites the sites that it is known or taken to publish, by name or by what its policies name; empty when nothing tells
 */
public record PublishingPrincipal(Account account, Principal principal, List<BucketSite> sites) implements Publisher {
    public PublishingPrincipal {
        sites = List.copyOf(sites);
    }

    @Override
    public String id() {
        return arn();
    }

    /** Returns the credential's ARN. */
    public String arn() {
        return principal.arn().toString();
    }

    /** Returns the credential as a caller. */
    public Actor actor() {
        return principal.isRole() ? new Actor.Role(principal.arn()) : new Actor.User(principal.arn());
    }
}
