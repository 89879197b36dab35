package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import warden.core.access.Ability;
import warden.core.access.Decision;
import warden.core.access.Extent;
import warden.core.access.Truth;
import warden.core.algebra.Effort;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.Proposition;
import warden.core.algebra.RangeSet;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TextSet;
import warden.core.algebra.TooComplexException;
import warden.core.algebra.ValueSet;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PublicPolicy;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Need;

/** Says how far abilities reach, over all requests that the policy language can tell apart. */
public final class Reach {
    /** More than any policy that is written for a purpose takes; some tenths of a second. */
    private static final long MOST_STEPS = 400_000;

    private final Evaluator evaluator;
    private final Map<Question, Extent> answers = new ConcurrentHashMap<>();
    private @Nullable Candidates candidates;
    private @Nullable List<Bucket> openToPrincipals;
    private final DocumentWork documents = new DocumentWork();
    private final Map<String, ResourceWork> memories = new ConcurrentHashMap<>();

    private final Map<String, Optional<Need>> complexities = new ConcurrentHashMap<>();

    /** What was asked before is not worked out again: many checks ask the same. */
    private record Question(String bucket, Grantee grantee, List<String> actions, Ability ability, Scope scope) {}

    public Reach(Evaluator evaluator) {
        this.evaluator = evaluator;
    }

    public Evaluator evaluator() {
        return evaluator;
    }

    /** Returns the buckets in which a user or role, of this account or another, may be able to write or delete; in the others it surely is not. */
    public List<Bucket> candidates(Principal principal) {
        synchronized (answers) {
            if (candidates == null) {
                candidates = new Candidates(evaluator.account());
            }
        }
        return principal.arn().account().equals(evaluator.account().number())
                ? candidates.of(principal)
                : candidates.ofOutsider(principal);
    }

    /** True unless a user or role of the account surely may do nothing with the bucket. */
    public boolean mayConcern(Principal principal, Bucket bucket) {
        return Candidates.mayConcern(principal, bucket);
    }

    /** True for a user or role whose rights on the bucket hang on the bucket's documents alone. */
    public boolean isNobodyInParticular(Principal principal, Bucket bucket) {
        return Candidates.isNobodyInParticular(principal, bucket);
    }

    /** Returns the buckets that something of their own may open to users or roles of the account, or to everyone. */
    public synchronized List<Bucket> openToPrincipals() {
        if (openToPrincipals == null) {
            openToPrincipals = evaluator.account().buckets().stream()
                    .filter(Candidates::mayBeOpen)
                    .toList();
        }
        return openToPrincipals;
    }

    /** Returns the texts that a pattern matches, worked out once for the account. */
    public Language matching(Glob pattern) {
        return documents.matching(pattern);
    }

    DocumentWork documents() {
        return documents;
    }

    /** Which requests count. */
    private enum Scope {
        EVERY_REQUEST,
        STRANGERS_ONLY
    }

    /** Returns how far {@code ability} of {@code grantee} reaches in {@code bucket}, over every request. */
    public Extent extent(Bucket bucket, Grantee grantee, Ability ability) {
        return extent(bucket, grantee, AbilityActions.of(ability).all(), ability, Scope.EVERY_REQUEST);
    }

    /**
     * Returns how far an ability reaches for a stranger: somebody who does not come from where the policy pins its callers (a network, a
     * service's source, an organization). What can be chosen freely, such as a header, counts as the stranger's to choose.
     */
    public Extent strangersExtent(Bucket bucket, Actor who, Ability ability) {
        return extent(bucket, new Grantee(who), AbilityActions.of(ability).all(), ability, Scope.STRANGERS_ONLY);
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

    /** Returns that what a user or role of the account holds is too complex to be weighed; absent for all others. */
    public Optional<Need> tooComplex(Actor who) {
        Optional<Arn> arn = who instanceof Actor.User user
                ? Optional.of(user.arn())
                : who instanceof Actor.Role role ? Optional.of(role.arn()) : Optional.empty();
        return arn.flatMap(named -> complexities.computeIfAbsent(
                named.toString(),
                key -> evaluator.account().directory().principal(named).found().flatMap(Complexity::of)));
    }

    private Extent bounded(Bucket bucket, Grantee grantee, List<String> actions, Ability ability, Scope scope) {
        Optional<Need> complex = tooComplex(grantee.who());
        if (complex.isPresent()) {
            return Extent.unknown(complex.get().why(), List.of(complex.get()));
        }
        try {
            return Effort.apart(MOST_STEPS, () -> {
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
        boolean allActions = true;
        Optional<WitnessFinder.Confirmed> confirmed = Optional.empty();
        List<Open> open = new ArrayList<>();
        ResourceWork memory = memory(bucket);
        Context context = AllowedRequests.context(evaluator, bucket.object("x"), grantee);
        Map<String, Computed> byKind = new HashMap<>();
        for (String action : actions) {
            if (AllowedRequests.isOutOfQuestion(evaluator.account(), bucket, grantee, action, memory)) {
                allActions = false;
                continue;
            }
            boolean onObjects = AbilityActions.of(ability).isOnObjects(action);
            AllowedRequests fresh = new AllowedRequests(
                    evaluator, AllowedRequests.Target.in(bucket, onObjects), grantee, action, context, memory);
            Computed same = byKind.computeIfAbsent(
                    fresh.kind(), kind -> new Computed(fresh, fresh.compute().intersect(Bounds.exactly(counted))));
            AllowedRequests allowed = same.allowed();
            Bounds bounds = same.bounds();
            if (!bounds.isExact() && !bounds.open().isEmpty()) {
                open.add(new Open(allowed, action, bounds.open()));
            }
            allActions &= isEverything(bounds.certain(), onObjects);
            if (bounds.certain().isEmpty()) {
                continue;
            }
            Optional<WitnessFinder.Confirmed> found =
                    new WitnessFinder(evaluator, allowed, action).find(bounds.certain());
            if (found.isEmpty()) {
                open.add(new Open(allowed, action, bounds.certain()));
                continue;
            }
            confirmed = confirmed.isPresent() ? confirmed : found;
            sources.add(allowed.sets());
            if (byAction) {
                which.put(action, phrases(bounds.certain(), List.of(allowed.sets()), onObjects));
            } else {
                certain = certain.union(bounds.certain());
            }
        }
        if (confirmed.isEmpty()) {
            return open.isEmpty() ? Extent.none() : unknown(open);
        }
        boolean onObjects = AbilityActions.of(ability).isOnObjects(actions.get(0));
        boolean all = byAction ? allActions : isEverything(certain, onObjects);
        List<String> phrases = byAction
                ? (all ? List.of("*") : actionPhrases(which, actions))
                : Phrases.describe(certain, sources, onObjects);
        RequestSet sure = byAction ? RequestSet.none() : certain;
        List<Open> wider = all
                ? List.of()
                : open.stream().filter(each -> each.addsTo(sure)).toList();
        Extent rest = wider.isEmpty() ? Extent.none() : unknown(wider);
        return new Extent(
                all ? Extent.Kind.ALL : Extent.Kind.SOME,
                phrases,
                Optional.of(confirmed.get().witness()),
                confirmed.get().decision().because(),
                rest.needs(),
                rest.why());
    }

    /** Says which requests with one action a set holds. */
    static List<String> phrases(RequestSet set, List<StatementSets> sources, boolean onObjects) {
        return Phrases.describe(set, sources, onObjects).stream()
                .map(phrase -> phrase.startsWith("* when ") ? phrase.substring(2) : phrase)
                .map(phrase -> onObjects && !phrase.startsWith("when") && !phrase.equals("*") ? "on " + phrase : phrase)
                .toList();
    }

    /** Requests with one action of which it is not known whether they are allowed. */
    private record Open(AllowedRequests allowed, String action, RequestSet set) {
        boolean addsTo(RequestSet certain) {
            return !set.isSubsetOf(certain);
        }

        /** Returns what the decisions on examples hang on; where none tells, what was not read on the way. */
        List<Need> needs(Evaluator evaluator) {
            return new WitnessFinder(evaluator, allowed, action)
                    .open(set)
                    .map(Decision::needs)
                    .filter(needs -> !needs.isEmpty())
                    .orElseGet(allowed::needs);
        }
    }

    /** Returns an extent of which nothing is certain, and what would settle it. */
    private Extent unknown(List<Open> open) {
        List<Need> needs = open.stream()
                .flatMap(each -> each.needs(evaluator).stream())
                .distinct()
                .toList();
        return Extent.unknown(
                needs.isEmpty() ? "it hangs on conditions that are not settled" : Need.spelled(needs), needs);
    }

    /**
     * Returns whether some request with this action for this resource is allowed.
     *
     * @param settled what each request carries, by condition key
     */
    public Possibility can(Actor who, String action, String resource, Map<String, ContextValue> settled) {
        Optional<Need> complex = tooComplex(who);
        if (complex.isPresent()) {
            return new Possibility.Open(List.of(complex.get()));
        }
        try {
            return Effort.within(
                    MOST_STEPS, () -> possibility(new Grantee(who.spelled(), who, settled), action, resource));
        } catch (TooComplexException tooComplex) {
            String aspect = who instanceof Actor.User ? "iam-user" : "iam-role";
            return new Possibility.Open(
                    List.of(new Need(aspect, who.spelled(), "too complex: " + tooComplex.getMessage(), "")));
        }
    }

    private Possibility possibility(Grantee grantee, String action, String resource) {
        Optional<Bucket> bucket = action.toLowerCase(Locale.ROOT).startsWith("s3:")
                ? Bucket.nameIn(resource).map(evaluator.account()::bucket)
                : Optional.empty();
        if (bucket.isPresent() && evaluator.account().ownsBucket(bucket.get().name()) != Truth.TRUE) {
            Decision decision =
                    evaluator.decide(new Request(grantee.who(), action, resource, Context.given(grantee.settled())));
            return decision.outcome() == Decision.Outcome.DENY
                    ? new Possibility.Never()
                    : new Possibility.Open(decision.needs());
        }
        Optional<String> key = bucket.flatMap(in -> Bucket.keyIn(resource));
        AllowedRequests.Target target = bucket.map(in -> AllowedRequests.Target.in(in, key.isPresent()))
                .orElseGet(() -> AllowedRequests.Target.of(resource));
        ResourceWork memory = bucket.map(this::memory).orElseGet(() -> new ResourceWork(documents));
        AllowedRequests allowed = new AllowedRequests(
                evaluator, target, grantee, action, AllowedRequests.context(evaluator, resource, grantee), memory);
        RequestSet counted = key.map(AllowedRequests::oneKey).orElse(RequestSet.all());
        Bounds bounds = allowed.compute().intersect(Bounds.exactly(counted));
        Optional<WitnessFinder.Confirmed> confirmed =
                new WitnessFinder(evaluator, allowed, action).find(bounds.certain());
        if (confirmed.isPresent()) {
            return new Possibility.Allowed(
                    confirmed.get().witness(), confirmed.get().decision());
        }
        if (bounds.possible().isEmpty()) {
            return new Possibility.Never();
        }
        List<Need> needs = new Open(allowed, action, bounds.possible()).needs(evaluator);
        return new Possibility.Open(
                needs.isEmpty()
                        ? List.of(new Need("request", resource, "it hangs on conditions that are not settled", ""))
                        : needs);
    }

    /** The requests of one kind of action, worked out once. */
    private record Computed(AllowedRequests allowed, Bounds bounds) {}

    /** Says for which actions and under which conditions; conditions that all actions share are said once. */
    static List<String> actionPhrases(Map<String, List<String>> byAction, List<String> actions) {
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

    static boolean isEverything(RequestSet set, boolean onObjects) {
        // The plainest request is left out of most sets that are not everything, and that is seen at once.
        if (!set.holdsPlainest(StatementSets.KEY, "\u0001")) {
            return false;
        }
        RequestSet all =
                onObjects ? RequestSet.where(StatementSets.KEY, TextSet.present(KeyPatterns.KEYS)) : RequestSet.all();
        return all.isSubsetOf(set);
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
                            AbilityActions.READ.all(),
                            Ability.READ,
                            strangers(bucket).intersect(open)));
        } catch (TooComplexException tooComplex) {
            return Extent.unknown("too complex: " + tooComplex.getMessage(), List.of());
        }
    }

    /**
     * Returns the requests that do not come from where the bucket's policy pins its callers: for each pinning key no value that a
     * pinning condition names.
     */
    private RequestSet strangers(Bucket bucket) {
        return memory(bucket).strangers(() -> notPinned(bucket));
    }

    ResourceWork memory(Bucket bucket) {
        return memories.computeIfAbsent(bucket.arn(), arn -> new ResourceWork(documents));
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
