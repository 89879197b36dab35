package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.algebra.Effort;
import warden.core.algebra.Language;
import warden.core.algebra.TooComplexException;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.Statement;
import warden.core.survey.Need;

/**
 * Whether what a user or role holds can be weighed as sets at all. It is found out once, by putting the sets of its statements together, so
 * that hundreds of them with hostile patterns do not cost the bound of every single question over and over.
 */
final class Complexity {
    /** Ten times what the most involved policies that were made for a purpose take; some milliseconds. */
    private static final long MOST_STEPS = 100_000;

    private Complexity() {}

    /** Returns that the principal's own policies or its boundary are too complex; absent when they are not. */
    static Optional<Need> of(Principal principal) {
        try {
            Effort.apart(MOST_STEPS, () -> putTogether(principal));
            return Optional.empty();
        } catch (TooComplexException tooComplex) {
            return Optional.of(new Need(
                    principal.aspect(), principal.arn().toString(), "too complex: " + tooComplex.getMessage(), ""));
        }
    }

    private static Language putTogether(Principal principal) {
        List<HeldPolicy> held = new ArrayList<>(principal.holdings().policies());
        principal.holdings().boundary().ifPresent(held::add);
        Language allowed = Language.none();
        Language denied = Language.none();
        for (HeldPolicy policy : held) {
            for (Statement statement : policy.document().statements()) {
                if (statement.isOpaque()) {
                    continue;
                }
                for (Condition condition : statement.conditions()) {
                    condition.side(Context.empty());
                }
                statement.actions().language();
                Language resources = statement
                        .resources()
                        .map(clause -> clause.language(Context.empty(), Language.all()))
                        .orElse(Language.all());
                if (statement.effect() == Effect.ALLOW) {
                    allowed = allowed.union(resources);
                } else {
                    denied = denied.union(resources);
                }
            }
        }
        return allowed.minus(denied);
    }
}
