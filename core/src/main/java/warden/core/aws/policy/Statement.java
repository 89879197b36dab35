package warden.core.aws.policy;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.document.Pointer;

/**
 * One statement of a policy.
 *
 * @param index its place in the document, from 0
 * @param at where it stands
 * @param text its JSON text, shortened, for quoting
 * @param sid its name; empty when it has none
 * @param isOpaque true when its meaning could not be made out: it may allow or deny anything
 * @param principals absent in identity-based policies
 * @param resources absent in trust policies
 */
public record Statement(
        int index,
        Pointer at,
        String text,
        String sid,
        boolean isOpaque,
        Effect effect,
        Optional<PrincipalClause> principals,
        ActionClause actions,
        Optional<ResourceClause> resources,
        List<Condition> conditions) {
    public Statement {
        conditions = List.copyOf(conditions);
    }

    /** Returns whether action, resource and conditions match; the principal is not looked at. */
    public Truth covers(String lowerCaseAction, String resource, Context context) {
        if (isOpaque) {
            return Truth.UNKNOWN;
        }
        if (!actions.covers(lowerCaseAction)) {
            return Truth.FALSE;
        }
        Truth truth = resources.isPresent() ? resources.get().covers(resource, context) : Truth.TRUE;
        for (Condition condition : conditions) {
            if (truth == Truth.FALSE) {
                return truth;
            }
            truth = truth.and(condition.holds(context));
        }
        return truth;
    }

    /**
     * Returns a text that is the same for statements that mean the same however they are spelt: one value or a list, in whatever order, under
     * whatever name.
     */
    public String meaning() {
        if (isOpaque) {
            return text;
        }
        StringBuilder meaning = new StringBuilder(effect.name());
        principals.ifPresent(clause -> meaning.append(clause.negated() ? "|not principals " : "|principals ")
                .append(sorted(clause.elements().stream().map(Object::toString))));
        meaning.append(actions.negated() ? "|not actions " : "|actions ")
                .append(sorted(actions.patterns().stream()
                        .map(pattern -> pattern.glob().toString())));
        resources.ifPresent(clause -> meaning.append(clause.negated() ? "|not resources " : "|resources ")
                .append(sorted(clause.patterns().stream().map(ResourceClause.ResourcePattern::text))));
        meaning.append("|conditions ").append(sorted(conditions.stream().map(Condition::meaning)));
        return meaning.toString();
    }

    private static List<String> sorted(Stream<String> texts) {
        return texts.distinct().sorted().toList();
    }

    /** True for an allow, or a statement whose meaning is not known. */
    public boolean mayAllow() {
        return isOpaque || effect == Effect.ALLOW;
    }

    /** True for a deny, or a statement whose meaning is not known. */
    public boolean mayDeny() {
        return isOpaque || effect == Effect.DENY;
    }

    /** Names the statement in a sentence: its Sid when it has one, else its number, counted from 1. */
    public String called() {
        return sid.isEmpty() ? "statement " + (index + 1) : "statement \"" + sid + "\"";
    }
}
