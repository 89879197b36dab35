package warden.standin.azure;

import java.util.Locale;
import java.util.Set;
import warden.core.access.Decision;
import warden.core.azure.access.AccessRules;
import warden.core.azure.access.Caller;
import warden.core.azure.access.RequestContext;
import warden.core.azure.site.AzureAccount;
import warden.standin.Refusal;

/** Lets a call of the simulated subscription pass, or refuses it, as the core decides. */
final class Permits {
    private final AccessRules rules;
    private final AzureAccount account;
    private final Set<String> refused;

    /**
     * Makes it.
     *
     * @param refused permissions, in lower case, that nobody has
     */
    Permits(AzureAccount account, Set<String> refused) {
        this.account = account;
        this.rules = account.reach().rules();
        this.refused = refused;
    }

    /** True for a permission that the one who started the stand-in takes from everybody. */
    boolean isRefused(String permission) {
        return refused.contains(permission.toLowerCase(Locale.ROOT));
    }

    /** Refuses a call of the management API that is not allowed. */
    void demand(Caller caller, String permission, String resource) {
        Decision decision = rules.decide(caller, permission, resource, RequestContext.PLAIN, true);
        if (isRefused(permission) || decision.outcome() == Decision.Outcome.DENY) {
            throw new Refusal(
                    403,
                    "AuthorizationFailed",
                    "The client '" + caller.objectId() + "' does not have authorization to perform action '"
                            + permission + "' over scope '" + resource + "'");
        }
        demandDecided(decision);
    }

    /** Refuses a call of a storage service that is not allowed. */
    void demandData(Caller caller, String action, String resource, RequestContext context) {
        Decision decision = rules.decide(caller, action, resource, context, true);
        if (isRefused(action) || decision.outcome() == Decision.Outcome.DENY) {
            boolean byKey = caller.kind() == Caller.Kind.KEY;
            boolean keysAreOff = byKey
                    && account.subscription()
                            .account(resource)
                            .filter(each -> !each.acceptsSharedKeys().isPossible())
                            .isPresent();
            if (keysAreOff) {
                throw new Refusal(
                        403,
                        "KeyBasedAuthenticationNotPermitted",
                        "Key based authentication is not permitted on this storage account.");
            }
            if (caller.kind() == Caller.Kind.ANYONE) {
                throw new Refusal(
                        401,
                        "NoAuthenticationInformation",
                        "Server failed to authenticate the request. Please refer to the information in the"
                                + " www-authenticate header.");
            }
            throw new Refusal(
                    403,
                    byKey ? "AuthorizationFailure" : "AuthorizationPermissionMismatch",
                    "This request is not authorized to perform this operation"
                            + (byKey ? "." : " using this permission."));
        }
        demandDecided(decision);
    }

    /** Nothing is allowed or refused on a guess. */
    private static void demandDecided(Decision decision) {
        if (decision.outcome() != Decision.Outcome.ALLOW) {
            throw new Refusal(
                    501,
                    "NotImplemented",
                    "Whether this is allowed is not known, so it is not simulated: " + decision.says());
        }
    }
}
