package warden.core.checks.credential;

import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.identity.HeldPolicy;
import warden.core.identity.Holdings;
import warden.core.policy.Context;
import warden.core.policy.Statement;
import warden.core.policy.Truth;

/** What the policies of one credential allow on every resource without a condition, as a set of actions. */
final class AdminRights {
    private static final Language ALL_OF_IAM = Language.matching(Glob.parse("iam:*"));
    private static final Language ALL_OF_STORAGE = Language.matching(Glob.parse("s3:*"));

    private AdminRights() {}

    /**
     * Returns whether the credential can do everything: its policies allow every action on every resource, and no boundary or deny takes
     * away the powers over identities and storage.
     */
    static Truth isAdmin(Holdings holdings) {
        Language allowed = Language.none();
        Language denied = Language.none();
        boolean opaque = !holdings.missing().isEmpty();
        for (HeldPolicy policy : holdings.policies()) {
            allowed = allowed.union(everywhere(policy));
            denied = denied.union(somewhere(policy));
            opaque |= policy.document().isPartlyOpaque();
        }
        if (!allowed.isEverything()) {
            return opaque ? Truth.UNKNOWN : Truth.FALSE;
        }
        if (holdings.boundaryMissing().isPresent() || opaque) {
            return Truth.UNKNOWN;
        }
        Language left = holdings.boundary()
                .map(boundary -> everywhere(boundary).minus(somewhere(boundary)))
                .orElse(Language.all())
                .minus(denied);
        return Truth.of(ALL_OF_IAM.isSubsetOf(left) && ALL_OF_STORAGE.isSubsetOf(left));
    }

    private static Language everywhere(HeldPolicy policy) {
        Language actions = Language.none();
        for (Statement statement : policy.document().statements()) {
            boolean unlimited = !statement.isOpaque()
                    && statement.mayAllow()
                    && statement.conditions().isEmpty()
                    && statement
                            .resources()
                            .filter(clause -> clause.language(Context.empty(), Language.none())
                                    .isEverything())
                            .isPresent();
            actions = unlimited ? actions.union(statement.actions().language()) : actions;
        }
        return actions;
    }

    private static Language somewhere(HeldPolicy policy) {
        Language actions = Language.none();
        for (Statement statement : policy.document().statements()) {
            actions = statement.mayDeny() && !statement.isOpaque()
                    ? actions.union(statement.actions().language())
                    : actions;
        }
        return actions;
    }
}
