package warden.standin.aws;

import java.util.function.Function;
import warden.core.access.Truth;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.Statement;

/** Weighs one policy by itself. */
final class Verdicts {
    private Verdicts() {}

    /**
     * Returns whether a policy surely allows: what it leaves open it does not, and a deny that may hold counts.
     *
     * @param covers whether a statement is about the request
     */
    static boolean surelyAllows(PolicyDocument policy, Function<Statement, Truth> covers) {
        boolean allowed = false;
        for (Statement statement : policy.statements()) {
            Truth about = covers.apply(statement);
            if (statement.isOpaque() || (statement.effect() == Effect.DENY && about != Truth.FALSE)) {
                return false;
            }
            allowed |= statement.effect() == Effect.ALLOW && about == Truth.TRUE;
        }
        return allowed;
    }
}
