package warden.core.reach;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import warden.core.algebra.Effort;
import warden.core.algebra.Language;
import warden.core.algebra.Proposition;
import warden.core.algebra.RangeSet;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TextSet;
import warden.core.algebra.TooComplexException;
import warden.core.algebra.ValueSet;
import warden.core.decision.Decision;
import warden.core.decision.Evaluator;
import warden.core.identity.Principal;
import warden.core.policy.Actor;
import warden.core.policy.Condition;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;
import warden.core.policy.Effect;
import warden.core.policy.PolicyDocument;
import warden.core.policy.PublicPolicy;
import warden.core.policy.Statement;
import warden.core.storage.Bucket;
import warden.core.survey.Need;

/** Says how far abilities reach, over all requests that the policy language can tell apart. */
public final class Reach {
    /** More than any policy that is written for a purpose takes; some tenths of a second. */
    private static final long MOST_STEPS = 400_000;

    private final Evaluator evaluator;
    private final Map<Question, Extent> answers = new ConcurrentHashMap<>();
    private @Nullable Candidates candidates;
    private final Map<String, Memory> memories = new ConcurrentHashMap<>();

    /** What was asked before is not worked out again: many checks ask the same. */
    private record Question(String bucket, Grantee grantee, List<String> actions, Ability ability, Scope scope) {}

    public Reach(Evaluator evaluator) {
        this.evaluator = evaluator;
    }

    public Evaluator evaluator() {
        return evaluator;
    }

    /** Returns the buckets in which a user or role may be able to write or delete; in the others it surely is not. */
    public List<Bucket> candidates(Principal principal) {
        synchronized (answers) {
            if (candidates == null) {
                candidates = new Candidates(evaluator.account());
            }
        }
        return candidates.of(principal);
    }

    /** Which requests count. */
    private enum Scope {
        EVERY_REQUEST,
        STRANGERS_ONLY
    }

    /** Returns how far {@code ability} of {@code grantee} reaches in {@code bucket}, over every request. */
    public Extent extent(Bucket bucket, Grantee grantee, Ability ability) {
        return extent(bucket, grantee, ability.actions(), ability, Scope.EVERY_REQUEST);
    }

    /**
     * Returns how far an ability reaches for a stranger: somebody who does not come from where the policy pins its callers (a network, a
     * service's source, an organization). What can be chosen freely, such as a header, counts as the stranger's to choose.
     */
    public Extent strangersExtent(Bucket bucket, Actor who, Ability ability) {
        return extent(bucket, new Grantee(who), ability.actions(), ability, Scope.STRANGERS_ONLY);
    }

    /** Returns the stranger's extent for some of the ability's actions only. */
    public Extent strangersExtent(Bucket bucket, Actor who, Ability ability, List<String> actions) {
        return extent(bucket, new Grantee(who), actions, ability, Scope.STRANGERS_ONLY);
    }

    private Extent extent(Bucket bucket, Grantee grantee, List<String> actions, Ability ability, Scope scope) {
        return answers.computeIfAbsent(
                new Question(bucket.arn(), grantee, actions, ability, scope),
                question -> bounded(bucket, grantee, actions, ability, scope));
    }

    private Extent bounded(Bucket bucket, Grantee grantee, List<String> actions, Ability ability, Scope scope) {
        try {
            return Effort.within(MOST_STEPS, () -> {
                RequestSet counted = scope == Scope.STRANGERS_ONLY ? strangers(bucket) : RequestSet.all();
                return computed(bucket, grantee, actions, ability, counted);
            });
        } catch (TooComplexException tooComplex) {
            return Extent.unknown("too complex: " + tooComplex.getMessage(), List.of());
        }
    }

    private Extent computed(Bucket bucket, Grantee grantee, List<String> actions, Ability ability, RequestSet counted) {
        boolean byAction = ability == Ability.CHANGE_RULES;
        Map<String, List<String>> which = new LinkedHashMap<>();
        List<StatementSets> sources = new ArrayList<>();
        RequestSet certain = RequestSet.none();
        boolean possible = false;
        boolean allActions = true;
        Optional<WitnessFinder.Confirmed> confirmed = Optional.empty();
        boolean unconfirmed = false;
        Memory memory = memory(bucket);
        Context context = AllowedRequests.context(evaluator, bucket, grantee);
        Map<String, Computed> byKind = new HashMap<>();
        for (String action : actions) {
            if (AllowedRequests.isOutOfQuestion(evaluator.account(), bucket, grantee, action, memory)) {
                allActions = false;
                continue;
            }
            boolean onObjects = ability.isOnObjects(action);
            AllowedRequests fresh = new AllowedRequests(evaluator, bucket, grantee, action, onObjects, context, memory);
            Computed same = byKind.computeIfAbsent(
                    fresh.kind(), kind -> new Computed(fresh, fresh.compute().intersect(Bounds.exactly(counted))));
            AllowedRequests allowed = same.allowed();
            Bounds bounds = same.bounds();
            possible |= !bounds.possible().isEmpty();
            allActions &= isEverything(bounds.certain(), onObjects);
            if (bounds.certain().isEmpty()) {
                continue;
            }
            Optional<WitnessFinder.Confirmed> found =
                    new WitnessFinder(evaluator, bucket, grantee, allowed).find(bounds.certain(), action, onObjects);
            if (found.isEmpty()) {
                unconfirmed = true;
                continue;
            }
            confirmed = confirmed.isPresent() ? confirmed : found;
            sources.add(allowed.sets());
            if (byAction) {
                List<String> phrases = Phrases.describe(bounds.certain(), List.of(allowed.sets()), onObjects);
                which.put(
                        action,
                        phrases.stream()
                                .map(phrase -> phrase.startsWith("* when ") ? phrase.substring(2) : phrase)
                                .map(phrase -> onObjects && !phrase.startsWith("when") && !phrase.equals("*")
                                        ? "on " + phrase
                                        : phrase)
                                .toList());
            } else {
                certain = certain.union(bounds.certain());
            }
        }
        if (!possible) {
            return Extent.none();
        }
        if (confirmed.isEmpty()) {
            return unknown(bucket, grantee, actions, ability, unconfirmed);
        }
        boolean onObjects = ability.isOnObjects(actions.get(0));
        boolean all = byAction ? allActions : isEverything(certain, onObjects);
        List<String> phrases = byAction
                ? (all ? List.of("*") : actionPhrases(which, actions))
                : Phrases.describe(certain, sources, onObjects);
        return new Extent(
                all ? Extent.Kind.ALL : Extent.Kind.SOME,
                phrases,
                Optional.of(confirmed.get().witness()),
                confirmed.get().decision().because(),
                List.of(),
                "");
    }

    /** The requests of one kind of action, worked out once. */
    private record Computed(AllowedRequests allowed, Bounds bounds) {}

    /** Says for which actions and under which conditions; conditions that all actions share are said once. */
    private static List<String> actionPhrases(Map<String, List<String>> byAction, List<String> actions) {
        Map<String, List<String>> byPhrase = new LinkedHashMap<>();
        byAction.forEach((action, phrases) -> phrases.forEach(phrase ->
                byPhrase.computeIfAbsent(phrase, key -> new ArrayList<>()).add(action)));
        List<String> said = new ArrayList<>();
        byPhrase.forEach((phrase, which) -> {
            String names = which.size() == actions.size() ? "*" : String.join(", ", which);
            said.add(phrase.equals("*") ? names : names + " " + phrase);
        });
        return said;
    }

    private static boolean isEverything(RequestSet set, boolean onObjects) {
        // The plainest request is left out of most sets that are not everything, and that is seen at once.
        if (!set.holdsPlainest(StatementSets.KEY, "\u0001")) {
            return false;
        }
        RequestSet all =
                onObjects ? RequestSet.where(StatementSets.KEY, TextSet.present(KeyPatterns.KEYS)) : RequestSet.all();
        return all.isSubsetOf(set);
    }

    private Extent unknown(Bucket bucket, Grantee grantee, List<String> actions, Ability ability, boolean unconfirmed) {
        List<Need> needs = new ArrayList<>();
        for (String action : actions) {
            String on = ability.isOnObjects(action) ? bucket.object("index.html") : bucket.arn();
            Decision decision = evaluator.decide(new Witness(grantee.who(), action, on, settled(grantee)).request());
            decision.needs().stream().filter(need -> !needs.contains(need)).forEach(needs::add);
        }
        String why = needs.isEmpty()
                ? (unconfirmed ? "no example could be confirmed" : "it hangs on conditions that are not settled")
                : Need.spelled(needs);
        return Extent.unknown(why, needs);
    }

    /**
     * Returns the stranger's reading extent when the requests that carry one of {@code secrets} are left out: values that the edge adds and
     * that nobody outside knows, by lower-case condition key.
     */
    public Extent strangersReading(Bucket bucket, Map<String, Set<String>> secrets) {
        try {
            RequestSet left = RequestSet.all();
            for (Map.Entry<String, Set<String>> secret : secrets.entrySet()) {
                TextSet values = TextSet.present(Language.of(secret.getValue()));
                left = left.minus(RequestSet.where(secret.getKey() + "|text", values));
            }
            RequestSet open = left;
            return Effort.within(
                    MOST_STEPS,
                    () -> computed(
                            bucket,
                            new Grantee(new Actor.Anyone()),
                            Ability.READ.actions(),
                            Ability.READ,
                            strangers(bucket).intersect(open)));
        } catch (TooComplexException tooComplex) {
            return Extent.unknown("too complex: " + tooComplex.getMessage(), List.of());
        }
    }

    private static Map<String, String> settled(Grantee grantee) {
        Map<String, String> values = new TreeMap<>();
        grantee.settled().forEach((key, value) -> {
            if (value instanceof ContextValue.Known known && known.values().size() == 1) {
                values.put(key, known.values().get(0));
            }
        });
        return values;
    }

    /**
     * Returns the requests that do not come from where the bucket's policy pins its callers: for each pinning key no value that a
     * pinning condition names.
     */
    private RequestSet strangers(Bucket bucket) {
        return memory(bucket).strangers(() -> notPinned(bucket));
    }

    private Memory memory(Bucket bucket) {
        return memories.computeIfAbsent(bucket.arn(), arn -> new Memory());
    }

    private RequestSet notPinned(Bucket bucket) {
        RequestSet strangers = RequestSet.all();
        Optional<PolicyDocument> policy = bucket.policy().found();
        if (policy.isEmpty()) {
            return strangers;
        }
        for (Statement statement : policy.get().statements()) {
            for (Condition condition : statement.isOpaque() ? List.<Condition>of() : statement.conditions()) {
                if (PublicPolicy.isPinningKey(condition.lowerCaseKey())) {
                    strangers = strangers.minus(pinned(condition, statement.effect()));
                }
            }
        }
        return strangers;
    }

    /** In an allow, what the condition names; in a deny, what a negated condition spares. */
    private RequestSet pinned(Condition condition, Effect effect) {
        boolean pins = effect == Effect.ALLOW && (PublicPolicy.pins(condition) || PublicPolicy.pinsSource(condition));
        boolean spares =
                effect == Effect.DENY && condition.operator().isNegated() && PublicPolicy.sparesFixed(condition);
        if (!pins && !spares) {
            return RequestSet.none();
        }
        Condition.Side side = condition.side(Context.empty());
        if (!(side.values() instanceof Proposition)) {
            return RequestSet.where(
                    side.dimension(),
                    pins ? side.values() : withoutAbsence(side.values().complement()));
        }
        return RequestSet.none();
    }

    private static ValueSet withoutAbsence(ValueSet values) {
        return values instanceof TextSet texts
                ? new TextSet(texts.texts(), false)
                : values instanceof RangeSet range ? range.withAbsence(false) : values;
    }
}
