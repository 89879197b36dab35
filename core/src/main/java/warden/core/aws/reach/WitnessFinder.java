package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Predicate;
import warden.core.access.Decision;
import warden.core.access.Witness;
import warden.core.algebra.Language;
import warden.core.algebra.Proposition;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TextSet;
import warden.core.algebra.ValueSet;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Operator;

/** Picks concrete requests out of a set and keeps the first that the decision engine allows. */
final class WitnessFinder {
    private static final int MOST_TRIES = 40;

    private final Evaluator evaluator;
    private final Grantee grantee;
    private final AllowedRequests allowed;
    private final String action;

    /**
     * Makes ready.
     *
     * @param action the action to ask for, which is allowed as {@code allowed}'s own is
     */
    WitnessFinder(Evaluator evaluator, AllowedRequests allowed, String action) {
        this.evaluator = evaluator;
        this.grantee = allowed.grantee();
        this.allowed = allowed;
        this.action = action;
    }

    /** A witness and the decision that confirms it. */
    record Confirmed(Witness witness, Decision decision) {}

    /** Returns a confirmed member of the set; absent when none of those tried is allowed. */
    Optional<Confirmed> find(RequestSet set) {
        return first(
                set, decision -> decision.outcome() == Decision.Outcome.ALLOW || hangsOnItsOwnPolicyOnly(decision));
    }

    /** What the caller makes, a function say, has a policy of its own only once the caller gave it one. */
    private boolean hangsOnItsOwnPolicyOnly(Decision decision) {
        String lower = action.toLowerCase(Locale.ROOT);
        return decision.outcome() == Decision.Outcome.UNKNOWN
                && Evaluator.mayHaveOwnPolicy(lower)
                && decision.needs().stream()
                        .allMatch(need -> need.aspect().equals(lower.substring(0, lower.indexOf(':'))));
    }

    /** Returns what the decision on a member of the set hangs on; absent when none of those tried hangs on anything. */
    Optional<Decision> open(RequestSet set) {
        return first(set, decision -> decision.outcome() == Decision.Outcome.UNKNOWN)
                .map(Confirmed::decision);
    }

    /**
     * Returns plain members of the set, one for each of its boxes: what may be left out is, and of texts the first is taken, whatever exists.
     *
     * @param sources what the set was made of
     */
    List<Witness> plainMembers(RequestSet set, List<StatementSets> sources) {
        List<Witness> members = new ArrayList<>();
        for (RequestSet.Box box : set.boxes()) {
            Map<String, String> context = plainContext(box, sources);
            context.putAll(grantee.carried());
            Optional<String> key = allowed.target().onObjects() ? language(box).witness() : Optional.of("");
            key.ifPresent(found ->
                    members.add(new Witness(grantee.who().spelled(), action, allowed.resource(found), context)));
        }
        return members;
    }

    /** Returns what a plain member of a box carries: what may be left out is, and of texts the first is taken. */
    static Map<String, String> plainContext(RequestSet.Box box, List<StatementSets> sources) {
        return context(
                box, sources, (dimension, values) -> values.admitsAbsence() ? Optional.empty() : values.witness());
    }

    /**
     * Returns what a member of a box carries.
     *
     * @param pick a value for a dimension; absent where it may be left out
     */
    private static Map<String, String> context(
            RequestSet.Box box, List<StatementSets> sources, BiFunction<String, ValueSet, Optional<String>> pick) {
        Map<String, String> context = new HashMap<>();
        box.sides().forEach((dimension, values) -> {
            if (values instanceof Proposition proposition) {
                sources.stream()
                        .map(source -> source.propositions().get(dimension))
                        .filter(Objects::nonNull)
                        .findFirst()
                        .ifPresent(condition -> proposed(condition, proposition, context));
            } else if (!dimension.equals(StatementSets.KEY)) {
                String key = dimension.substring(0, dimension.lastIndexOf('|'));
                String spelled = sources.stream()
                        .map(source -> source.spellings().get(key))
                        .filter(Objects::nonNull)
                        .findFirst()
                        .orElse(key);
                pick.apply(dimension, values).ifPresent(value -> context.put(spelled, value));
            }
        });
        sources.forEach(source -> context.putAll(source.time()));
        return context;
    }

    private Optional<Confirmed> first(RequestSet set, Predicate<Decision> wanted) {
        int tries = 0;
        for (RequestSet.Box box : set.boxes()) {
            for (String key : allowed.target().onObjects() ? keys(box) : List.of("")) {
                if (tries++ >= MOST_TRIES) {
                    return Optional.empty();
                }
                Map<String, String> context = context(box, List.of(allowed.sets()), this::witness);
                context.putAll(grantee.carried());
                Witness witness = new Witness(grantee.who().spelled(), action, allowed.resource(key), context);
                Decision decision = evaluator.answer(Request.of(grantee.who(), witness), false);
                if (wanted.test(decision)) {
                    return Optional.of(new Confirmed(witness, decision));
                }
            }
        }
        return Optional.empty();
    }

    private static Language language(RequestSet.Box box) {
        return box.sides().get(StatementSets.KEY) instanceof TextSet texts ? texts.texts() : KeyPatterns.KEYS;
    }

    /** Returns keys of the box, those that exist or read well first. */
    private List<String> keys(RequestSet.Box box) {
        Language language = language(box);
        List<String> keys = new ArrayList<>();
        for (String known : allowed.knownKeys()) {
            if (language.contains(known)) {
                keys.add(known);
                break;
            }
        }
        language.witness().ifPresent(keys::add);
        return keys;
    }

    private static void proposed(Condition condition, Proposition proposition, Map<String, String> context) {
        String value = condition.operator() == Operator.NULL
                        || proposition.mayHold() == condition.operator().isNegated()
                ? ""
                : condition.values().get(0).replace("*", "").replace("?", "x");
        if (!value.isEmpty()) {
            context.put(condition.key(), value);
        }
    }

    /** Prefers absence, which is the plainest request, then a value that a document names, then any. */
    private Optional<String> witness(String dimension, ValueSet values) {
        if (values.admitsAbsence()) {
            return Optional.empty();
        }
        if (values instanceof TextSet texts) {
            Optional<String> named = allowed.sets().namedValues(dimension).stream()
                    .filter(glob -> glob.isLiteral() && texts.texts().contains(glob.toString()))
                    .map(Object::toString)
                    .findFirst();
            return named.isPresent() ? named : texts.witness();
        }
        return values.witness();
    }
}
