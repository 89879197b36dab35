package warden.core.site;

import java.util.List;
import warden.core.aws.account.Account;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;

/**
 * A user or role that publishes sites.
 *
 * @param sites the sites that it is known or taken to publish, by name or by what its policies name; empty when nothing tells
 */
public record Publisher(Account account, Principal principal, List<Site> sites) {
    public Publisher {
        sites = List.copyOf(sites);
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
