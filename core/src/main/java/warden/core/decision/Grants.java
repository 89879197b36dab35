package warden.core.decision;

import java.util.List;
import warden.core.decision.IdentitySide.Opinion;
import warden.core.decision.PolicyMatch.Hit;
import warden.core.policy.Truth;

/**
 * Puts together what a resource-based policy grants to one of the account's own principals with what its own side says.
 * Source: IAM User Guide, "Policy evaluation logic", section on requests within a single account, and "How permissions
 * boundaries work with resource-based policies".
 */
final class Grants {
    private Grants() {}

    /** Returns whether the resource's policy or the identity's policies allow: either will do. */
    static Truth either(List<Hit> hits, Opinion own) {
        return own.allowed().and(own.bounded()).or(byResource(hits, own));
    }

    /**
     * Returns whether the resource's policy itself admits the caller: for keys and for assuming roles, where identity-based policies count
     * only as far as the resource's policy delegates to the account.
     */
    static Truth strict(List<Hit> hits, Opinion own) {
        Truth allowed = byResource(hits, own);
        for (Hit hit : hits) {
            if (hit.naming() == warden.core.policy.PrincipalElement.Naming.ACCOUNT) {
                allowed = allowed.or(hit.truth().and(own.allowed()).and(own.bounded()));
            }
        }
        return allowed;
    }

    /** A grant to the account delegates to identity-based policies, so by itself it gives its members nothing. */
    private static Truth byResource(List<Hit> hits, Opinion own) {
        Truth allowed = Truth.FALSE;
        for (Hit hit : hits) {
            allowed = allowed.or(
                    switch (hit.naming()) {
                        case ITSELF -> hit.truth();
                        case ROLE -> hit.truth().and(own.bounded());
                        case EVERYONE -> hit.truth().and(everyone(hit, own));
                        case ACCOUNT -> Truth.FALSE;
                    });
        }
        return allowed;
    }

    /**
     * A boundary does not limit what everyone gets under a condition on the caller's ARN. Whether it limits what everyone gets
     * without one is not said in the guide.
     */
    private static Truth everyone(Hit hit, Opinion own) {
        return !own.hasBoundary() || hit.pinsPrincipal() || own.isRoot()
                ? Truth.TRUE
                : own.bounded().or(Truth.UNKNOWN);
    }
}
