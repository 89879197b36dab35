package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import warden.core.access.Ability;
import warden.core.access.Decision;
import warden.core.access.Extent;
import warden.core.access.Gain;
import warden.core.access.Witness;
import warden.core.algebra.Effort;
import warden.core.algebra.Language;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TextSet;
import warden.core.algebra.TooComplexException;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Context;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * What a caller may do with a bucket in one state of an account and not in another, over all requests.
 *
 * @param more the state in which it may do it
 * @param less the state in which it may not
 */
public record ReachDifference(Side more, Side less) {
    private static final long MOST_STEPS = 800_000;
    private static final int MOST_WITNESSES = 60;

    /**
     * A caller in one state.
     *
     * @param bucket absent where there is surely no such bucket, so that nothing is allowed
     * @param grantee absent where there is surely no such caller
     */
    public record Side(Reach reach, Optional<Bucket> bucket, Optional<Grantee> grantee) {
        private boolean isNothing() {
            return bucket.isEmpty() || grantee.isEmpty();
        }
    }

    /**
     * The answer.
     *
     * @param gain absent where nothing is surely gained
     * @param open what keeps from telling whether more is
     * @param requests what is surely gained, by action
     */
    public record Result(Optional<Gain> gain, List<Need> open, Map<String, RequestSet> requests) {
        public Result {
            open = List.copyOf(open);
            requests = Map.copyOf(requests);
        }

        static Result nothing() {
            return unknown(List.of());
        }

        static Result unknown(List<Need> open) {
            return new Result(Optional.empty(), open, Map.of());
        }

        /** True when a request needs one of these values of a condition key, in lower case, to be among those that were gained. */
        public boolean needsOneOf(String key, Language values) {
            RequestSet others = RequestSet.where(key + "|text", new TextSet(values.complement(), true));
            return requests.values().stream()
                    .allMatch(each -> each.intersect(others).isEmpty());
        }

        /** True when whoever got this got no more than somebody else did. */
        public boolean isWithin(Result other) {
            return requests.entrySet().stream().allMatch(each -> each.getValue()
                    .isSubsetOf(other.requests.getOrDefault(each.getKey(), RequestSet.none())));
        }
    }

    /** What one action came to: the requests, their words, and the plainest that shows it. */
    private record OfAction(
            String action, RequestSet certain, List<StatementSets> sources, Confirmed confirmed, boolean isAll) {}

    private record Confirmed(Witness witness, List<Citation> because) {}

    /** Compares one ability. */
    public Result of(Ability ability) {
        if (more.isNothing()) {
            return Result.nothing();
        }
        Optional<Need> complex = more.reach().tooComplex(more.grantee().get().who());
        if (complex.isEmpty() && !less.isNothing()) {
            complex = less.reach().tooComplex(less.grantee().get().who());
        }
        if (complex.isPresent()) {
            return Result.unknown(List.of(complex.get()));
        }
        try {
            return Effort.apart(MOST_STEPS, () -> computed(ability));
        } catch (TooComplexException tooComplex) {
            return Result.unknown(List.of(new Need(
                    "bucket-policy", more.bucket().get().arn(), "too complex: " + tooComplex.getMessage(), "")));
        }
    }

    /** The requests with one action in one state, and what they were made of. */
    private record Computed(@Nullable AllowedRequests allowed, Bounds bounds) {
        static final Computed NONE = new Computed(null, Bounds.NONE);

        List<Need> needs() {
            return allowed == null ? List.of() : allowed.needs();
        }
    }

    private Result computed(Ability ability) {
        List<OfAction> gained = new ArrayList<>();
        Set<Need> open = new LinkedHashSet<>();
        List<String> actions = AbilityActions.of(ability).all();
        Map<String, Computed> ours = new HashMap<>();
        Map<String, Computed> theirs = new HashMap<>();
        for (String action : actions) {
            boolean onObjects = AbilityActions.of(ability).isOnObjects(action);
            Computed here = requests(more, action, onObjects, ours);
            Computed there = requests(less, action, onObjects, theirs);
            RequestSet certain = here.bounds().certain().minus(there.bounds().possible());
            RequestSet possible = here.bounds().isExact() && there.bounds().isExact()
                    ? certain
                    : here.bounds().possible().minus(there.bounds().certain());
            if (possible != certain && !possible.minus(certain).isEmpty()) {
                open.addAll(here.needs());
                open.addAll(there.needs());
            }
            if (certain.isEmpty() || here.allowed() == null) {
                continue;
            }
            Optional<Confirmed> confirmed = confirmed(certain, action, here.allowed(), there.allowed());
            if (confirmed.isEmpty()) {
                open.addAll(here.needs());
                open.addAll(there.needs());
                continue;
            }
            List<StatementSets> sources = new ArrayList<>(List.of(here.allowed().sets()));
            if (there.allowed() != null) {
                sources.add(there.allowed().sets());
            }
            gained.add(new OfAction(action, certain, sources, confirmed.get(), Reach.isEverything(certain, onObjects)));
        }
        Map<String, RequestSet> requests = new HashMap<>();
        gained.forEach(each -> requests.put(each.action(), each.certain()));
        return new Result(gain(ability, actions, gained), List.copyOf(open), requests);
    }

    private static Optional<Gain> gain(Ability ability, List<String> actions, List<OfAction> gained) {
        if (gained.isEmpty()) {
            return Optional.empty();
        }
        boolean onObjects = AbilityActions.of(ability).isOnObjects(actions.get(0));
        boolean byAction = ability == Ability.CHANGE_RULES;
        RequestSet certain = RequestSet.none();
        List<StatementSets> sources = new ArrayList<>();
        Map<String, List<String>> which = new LinkedHashMap<>();
        for (OfAction each : gained) {
            certain = certain.union(each.certain());
            sources.addAll(each.sources());
            which.put(each.action(), byAction ? Reach.phrases(each.certain(), each.sources(), onObjects) : List.of());
        }
        boolean isAll = byAction
                ? gained.size() == actions.size() && gained.stream().allMatch(OfAction::isAll)
                : Reach.isEverything(certain, onObjects);
        List<String> phrases = byAction
                ? (isAll ? List.of("*") : Reach.actionPhrases(which, actions))
                : Phrases.describe(certain, sources, onObjects);
        Confirmed plainest = gained.stream()
                .map(OfAction::confirmed)
                .min(Comparator.comparing(Confirmed::witness, PLAINEST))
                .orElseThrow();
        return Optional.of(
                new Gain(isAll ? Extent.Kind.ALL : Extent.Kind.SOME, phrases, plainest.witness(), plainest.because()));
    }

    private static Computed requests(Side side, String action, boolean onObjects, Map<String, Computed> byKind) {
        if (side.isNothing()) {
            return Computed.NONE;
        }
        Bucket bucket = side.bucket().get();
        Grantee grantee = side.grantee().get();
        ResourceWork memory = side.reach().memory(bucket);
        if (AllowedRequests.isOutOfQuestion(side.reach().evaluator().account(), bucket, grantee, action, memory)) {
            return Computed.NONE;
        }
        Context context = AllowedRequests.context(side.reach().evaluator(), bucket.object("x"), grantee);
        AllowedRequests allowed = new AllowedRequests(
                side.reach().evaluator(),
                AllowedRequests.Target.in(bucket, onObjects),
                grantee,
                action,
                context,
                memory);
        return byKind.computeIfAbsent(allowed.kind(), kind -> new Computed(allowed, allowed.compute()));
    }

    /** The plainest request: the shortest, then the first in code-point order. */
    private static final Comparator<Witness> PLAINEST = Comparator.<Witness>comparingInt(
                    witness -> witness.on().length()
                            + witness.context().entrySet().stream()
                                    .mapToInt(entry -> entry.getKey().length()
                                            + entry.getValue().length())
                                    .sum())
            .thenComparing(Witness::action)
            .thenComparing(Witness::on)
            .thenComparing(witness -> witness.context().toString());

    private Optional<Confirmed> confirmed(
            RequestSet certain, String action, AllowedRequests here, @Nullable AllowedRequests there) {
        Map<String, StatementSets> sources = new LinkedHashMap<>();
        sources.put("here", here.sets());
        if (there != null) {
            sources.put("there", there.sets());
        }
        List<Witness> candidates = new WitnessFinder(more.reach().evaluator(), here, action)
                .plainMembers(certain, List.copyOf(sources.values())).stream()
                        .sorted(PLAINEST)
                        .limit(MOST_WITNESSES)
                        .toList();
        for (Witness witness : candidates) {
            Decision allowed = decide(more, witness);
            if (allowed.outcome() != Decision.Outcome.ALLOW) {
                continue;
            }
            if (less.isNothing()) {
                return Optional.of(new Confirmed(witness, allowed.because()));
            }
            Decision denied = decide(less, witness);
            if (denied.outcome() == Decision.Outcome.DENY) {
                Set<Citation> because = new LinkedHashSet<>(allowed.because());
                because.addAll(denied.because());
                return Optional.of(new Confirmed(witness, List.copyOf(because)));
            }
        }
        return Optional.empty();
    }

    /** The caller is the same on both sides, though the identifiers that its requests carry may be others. */
    private static Decision decide(Side side, Witness witness) {
        Grantee grantee = side.grantee().orElseThrow();
        Map<String, String> context = new TreeMap<>(witness.context());
        context.putAll(grantee.carried());
        return side.reach()
                .evaluator()
                .answer(
                        Request.of(grantee.who(), new Witness(witness.who(), witness.action(), witness.on(), context)),
                        false);
    }
}
