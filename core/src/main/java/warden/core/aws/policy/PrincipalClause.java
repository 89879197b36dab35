package warden.core.aws.policy;

import java.util.List;
import warden.core.access.Truth;
import warden.core.aws.policy.PrincipalElement.Naming;

/**
 * The {@code Principal} or {@code NotPrincipal} of a statement.
 *
 * @param negated true for {@code NotPrincipal}
 */
public record PrincipalClause(boolean negated, List<PrincipalElement> elements) {
    public PrincipalClause {
        elements = List.copyOf(elements);
    }

    /** Whether a clause names a caller, and how. */
    public record Named(Truth truth, Naming naming) {}

    private static final Named NOT = new Named(Truth.FALSE, Naming.EVERYONE);

    /** True when the clause, in an allow, reaches callers that it does not name one by one. */
    public boolean reachesEveryone() {
        return negated || elements.stream().anyMatch(PrincipalElement.Everyone.class::isInstance);
    }

    /**
     * Returns whether an allow with this clause is meant for {@code actor}, by its strongest naming. {@code NotPrincipal} means
     * everybody who is not exactly named.
     */
    public Named allows(Actor actor, CanonicalIds ids) {
        if (negated) {
            return new Named(spares(actor, ids).not(), Naming.EVERYONE);
        }
        Named best = NOT;
        for (PrincipalElement element : elements) {
            Truth truth = element.standsFor(actor, ids);
            Naming naming = element.naming(actor);
            boolean better =
                    truth.compareTo(best.truth()) > 0 || (truth == best.truth() && naming.compareTo(best.naming()) > 0);
            if (truth.isPossible() && better) {
                best = new Named(truth, naming);
            }
        }
        return best;
    }

    /**
     * Returns whether a deny with this clause is meant for {@code actor}. An account stands for all its principals;
     * {@code NotPrincipal} spares exactly those named.
     */
    public Truth denies(Actor actor, CanonicalIds ids) {
        if (negated) {
            return spares(actor, ids).not();
        }
        Truth truth = Truth.FALSE;
        for (PrincipalElement element : elements) {
            truth = truth.or(element.standsFor(actor, ids));
        }
        return truth;
    }

    private Truth spares(Actor actor, CanonicalIds ids) {
        Truth spared = Truth.FALSE;
        for (PrincipalElement element : elements) {
            spared = spared.or(element.namesItself(actor, ids));
        }
        return spared;
    }
}
