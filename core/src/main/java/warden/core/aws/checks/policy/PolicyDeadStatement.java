package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TextSet;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.PublicPolicy;
import warden.core.aws.policy.Statement;

/** Finds statements without effect: those that match nothing, and those that another covers wholly. */
final class PolicyDeadStatement implements PolicyCheck {
    private static final CheckCard CARD = new CheckCard(
            "policy-dead-statement",
            Area.POLICY,
            Severity.LOW,
            "a statement that can never match or is wholly covered by another",
            "bucket-policy",
            "Readers think that the statement does something; the next change may rest on that.",
            "Remove the statement, or correct what it was meant to say.",
            "IAM User Guide, \"Policy evaluation logic\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(PolicySubject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        List<Requests> all = requests(subject);
        for (Requests each : all) {
            Statement statement = each.statement();
            why(each, all)
                    .ifPresent(why -> verdicts.add(subject.flagged(
                            CARD,
                            statement.at().toString(),
                            "In the bucket policy, " + statement.called() + " has no effect: " + why + ".",
                            List.of(subject.cite(statement)))));
        }
        return verdicts;
    }

    /** The requests that a statement speaks of. */
    private record Requests(Statement statement, RequestSet set) {}

    private static List<Requests> requests(PolicySubject subject) {
        Language inBucket = Language.of(subject.bucket()).union(Language.matching(Glob.parse(subject.bucket() + "/*")));
        return subject.document().statements().stream()
                .filter(statement -> !statement.isOpaque())
                .map(statement -> new Requests(statement, requests(statement, inBucket)))
                .toList();
    }

    private static Optional<String> why(Requests each, List<Requests> all) {
        Statement statement = each.statement();
        RequestSet own = each.set();
        if (own.isEmpty()) {
            return Optional.of("no request can match it");
        }
        for (Requests another : all) {
            Statement other = another.statement();
            if (other.index() == statement.index()) {
                continue;
            }
            boolean sameEffect = other.effect() == statement.effect();
            boolean overruled = other.effect() == Effect.DENY && statement.effect() == Effect.ALLOW;
            // A narrow grant beside a public one is what is left when the public one goes, so it is no dead weight.
            boolean onlyByPublicGrant = sameEffect
                    && PublicPolicy.isPublic(other) == Truth.TRUE
                    && PublicPolicy.isPublic(statement) != Truth.TRUE;
            boolean covered = !onlyByPublicGrant && (sameEffect || overruled) && own.isSubsetOf(another.set());
            // Of two statements that cover each other the first is kept.
            boolean mutual = sameEffect && covered && another.set().isSubsetOf(own);
            if (covered && !(mutual && statement.index() < other.index())) {
                return Optional.of(
                        (sameEffect ? "it is covered by " : "all that it allows is denied by ") + other.called());
            }
        }
        return Optional.empty();
    }

    private static RequestSet requests(Statement statement, Language inBucket) {
        RequestSet set = RequestSet.where(
                        "action", TextSet.present(statement.actions().language()))
                .intersect(RequestSet.where("principal", TextSet.present(principals(statement))));
        if (statement.resources().isPresent()) {
            Language resources = statement.resources().get().language(Context.empty(), Language.all());
            set = set.intersect(RequestSet.where("resource", TextSet.present(resources.intersect(inBucket))));
        }
        for (Condition condition : statement.conditions()) {
            Condition.Side side = condition.side(Context.empty());
            set = set.intersect(RequestSet.where(side.dimension(), side.values()));
        }
        return set;
    }

    /** Principals are compared by their spelling: one that stands for another is not known here to cover it. */
    private static Language principals(Statement statement) {
        Optional<PrincipalClause> clause = statement.principals();
        if (clause.isEmpty()) {
            return Language.all();
        }
        Language named = Language.none();
        for (PrincipalElement element : clause.get().elements()) {
            named = named.union(
                    element instanceof PrincipalElement.Everyone ? Language.all() : Language.of(element.toString()));
        }
        return clause.get().negated() ? named.complement() : named;
    }
}
