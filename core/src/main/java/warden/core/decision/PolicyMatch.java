package warden.core.decision;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.identity.HeldPolicy;
import warden.core.policy.CanonicalIds;
import warden.core.policy.Condition;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;
import warden.core.policy.PolicyDocument;
import warden.core.policy.PrincipalClause;
import warden.core.policy.PrincipalElement.Naming;
import warden.core.policy.Statement;
import warden.core.policy.Truth;
import warden.core.survey.Citation;

/** Looks through one policy for the statements that match a request. */
final class PolicyMatch {
    /** A statement that matches, or may. */
    record Hit(Truth truth, Naming naming, HeldPolicy policy, Optional<Statement> statement) {
        Citation cite() {
            return statement.map(policy::cite).orElse(policy.at());
        }

        /** True when the statement singles out callers by a condition on their ARN. */
        boolean pinsPrincipal() {
            return statement.isPresent()
                    && statement.get().conditions().stream()
                            .anyMatch(condition -> condition.lowerCaseKey().equals("aws:principalarn")
                                    && !condition.operator().isNegated());
        }
    }

    private PolicyMatch() {}

    /** Returns the allows that match or may match. An opaque document may allow anything. */
    static List<Hit> allows(HeldPolicy policy, Request request, String action, Context context, CanonicalIds ids) {
        List<Hit> hits = new ArrayList<>(1);
        PolicyDocument document = policy.document();
        if (document.isOpaque()) {
            hits.add(new Hit(Truth.UNKNOWN, Naming.ITSELF, policy, Optional.empty()));
        }
        for (Statement statement : document.statements()) {
            if (!statement.mayAllow()) {
                continue;
            }
            Truth covers = statement.covers(action, request.resource(), context);
            if (covers == Truth.FALSE) {
                continue;
            }
            PrincipalClause.Named named = statement
                    .principals()
                    .map(clause -> clause.allows(request.who(), ids))
                    .orElse(new PrincipalClause.Named(Truth.TRUE, Naming.ITSELF));
            Truth truth = covers.and(named.truth());
            if (truth.isPossible()) {
                hits.add(new Hit(truth, named.naming(), policy, Optional.of(statement)));
            }
        }
        return hits;
    }

    /** Returns the denies that match or may match. An opaque document may deny anything. */
    static List<Hit> denies(HeldPolicy policy, Request request, String action, Context context, CanonicalIds ids) {
        List<Hit> hits = new ArrayList<>(0);
        PolicyDocument document = policy.document();
        if (document.isOpaque()) {
            hits.add(new Hit(Truth.UNKNOWN, Naming.ITSELF, policy, Optional.empty()));
        }
        for (Statement statement : document.statements()) {
            if (!statement.mayDeny()) {
                continue;
            }
            Truth truth = statement.covers(action, request.resource(), context).and(() -> statement
                    .principals()
                    .map(clause -> clause.denies(request.who(), ids))
                    .orElse(Truth.TRUE));
            if (truth.isPossible()) {
                hits.add(new Hit(truth, Naming.ITSELF, policy, Optional.of(statement)));
            }
        }
        return hits;
    }

    /** Says what keeps a hit from being certain. */
    static String openPoint(Hit hit, Context context) {
        if (hit.statement().isEmpty() || hit.statement().get().isOpaque()) {
            return "the document is not one that the provider accepts, so what is in force is not known";
        }
        for (Condition condition : hit.statement().get().conditions()) {
            if (context.get(condition.lowerCaseKey()) instanceof ContextValue.OneOf) {
                return "the value of " + condition.key() + " is not known";
            }
            if (condition.holds(context) == Truth.UNKNOWN) {
                return "whether \"" + condition.spelled() + "\" holds is not settled";
            }
        }
        return "whether the principal named is this caller is not known";
    }
}
