package warden.core.aws.reach;

import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import warden.core.access.Truth;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.Proposition;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TextSet;
import warden.core.aws.catalogue.ActionCatalogue;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.Operator.Family;
import warden.core.aws.policy.ResourceClause;
import warden.core.aws.policy.Statement;

/**
 * Turns statements into sets of requests, for one caller, one action and one bucket. The dimensions left are the object's key
 * and the condition keys that do not follow from the caller.
 */
final class StatementSets {
    /** The keys under which a request carries the time. */
    private static final Set<String> TIME = Set.of("aws:currenttime", "aws:epochtime");

    /** The dimension of object keys. */
    static final String KEY = "key";

    /** Keys that only some actions' requests carry; the catalogue says which. Other keys count as possible in every request. */
    private static final List<String> CARRIED_BY_SOME = List.of(
            "s3:prefix",
            "s3:delimiter",
            "s3:max-keys",
            "s3:versionid",
            "s3:x-amz-copy-source",
            "s3:x-amz-server-side-encryption",
            "s3:x-amz-storage-class");

    /** By action in lower case: the keys that its requests do not carry. A few actions only, and always the same. */
    private static final Map<String, Map<String, ContextValue>> NOT_CARRIED = new ConcurrentHashMap<>();

    /** The condition keys of the documents met so far, by lower-case name, in the spelling of the document. */
    private final Map<String, String> spellings = new TreeMap<>();
    /** The keys of the time that conditions ask for, by lower-case name, in the spelling of the document. */
    private final Map<String, String> times = new TreeMap<>();
    /** The conditions that became propositions, by dimension. */
    private final Map<String, Condition> propositions = new HashMap<>();
    /** The texts that conditions on a key name, for describing sets of its values. */
    private final Map<String, Set<Glob>> namedValues = new TreeMap<>();
    /** The patterns of object keys that documents name, for describing sets of keys. */
    private final Set<Glob> namedKeys = new LinkedHashSet<>();

    private final ResourceWork memory;
    private final String bucketArn;
    private final String action;
    private final boolean onObjects;
    private final Context context;

    /**
     * Makes ready.
     *
     * @param memory what was worked out about this bucket's documents before
     */
    StatementSets(String bucketArn, String action, boolean onObjects, Context context, ResourceWork memory) {
        this.memory = memory;
        this.bucketArn = bucketArn;
        this.action = action.toLowerCase(Locale.ROOT);
        this.onObjects = onObjects;
        this.context = context.withFacts(NOT_CARRIED.computeIfAbsent(this.action, StatementSets::absent));
    }

    /**
     * Returns the requests that a statement matches.
     *
     * @param means how surely it means the caller
     */
    Bounds meant(Statement statement, Truth means) {
        if (statement.isOpaque()) {
            return Bounds.UNKNOWN;
        }
        // Most statements of a long policy speak of somebody else, and their conditions need no work.
        return means == Truth.FALSE ? Bounds.NONE : matched(statement).intersect(Bounds.of(means));
    }

    private Bounds matched(Statement statement) {
        if (!statement.actions().covers(action)) {
            return Bounds.NONE;
        }
        Bounds result = statement.resources().map(this::resources).orElse(Bounds.ALL);
        for (Condition condition : statement.conditions()) {
            if (result.possible().isEmpty()) {
                return Bounds.NONE;
            }
            result = result.intersect(holding(condition));
        }
        return result;
    }

    private Bounds resources(ResourceClause clause) {
        if (onObjects) {
            for (Glob glob : clause.constants()) {
                KeyPatterns.within(bucketArn, glob).ifPresent(namedKeys::add);
            }
            return clause.isConstant() ? memory.clause(clause, this::keysOf) : keysOf(clause);
        }
        Truth covers = clause.covers(bucketArn, context);
        if (clause.isConstant()) {
            return Bounds.of(covers);
        }
        Language certain = clause.language(context, Language.none());
        Language possible = clause.language(context, Language.all());
        return Bounds.of(
                certain.contains(bucketArn) ? Truth.TRUE : possible.contains(bucketArn) ? Truth.UNKNOWN : Truth.FALSE);
    }

    private Bounds keysOf(ResourceClause clause) {
        String prefix = bucketArn + "/";
        RequestSet certain = keys(clause.languageAfter(prefix, context, Language.none()));
        return clause.isConstant()
                ? Bounds.exactly(certain)
                : new Bounds(certain, keys(clause.languageAfter(prefix, context, Language.all())));
    }

    /** Returns the requests for objects whose keys are in {@code language}. */
    static RequestSet keys(Language language) {
        Language keys = language.intersect(KeyPatterns.KEYS);
        return KeyPatterns.KEYS.isSubsetOf(keys) ? RequestSet.all() : RequestSet.where(KEY, TextSet.present(keys));
    }

    private Bounds holding(Condition condition) {
        if (context.settles(condition.lowerCaseKey())) {
            if (TIME.contains(condition.lowerCaseKey())) {
                times.put(condition.lowerCaseKey(), condition.key());
            }
            return Bounds.of(condition.holds(context));
        }
        DocumentWork.Held held = condition.isConstant()
                ? memory.held(condition, each -> each.side(context))
                : DocumentWork.Held.of(condition.side(context));
        Condition.Side side = held.side();
        spellings.putIfAbsent(condition.lowerCaseKey(), condition.key());
        // Whether a key is there at all is asked by a word that is no value of it.
        if (condition.operator().family() != Family.PRESENCE) {
            namedValues
                    .computeIfAbsent(condition.lowerCaseKey() + "|text", key -> new LinkedHashSet<>())
                    .addAll(memory.named(condition));
        }
        if (side.values() instanceof Proposition) {
            propositions.put(side.dimension(), condition);
        }
        return held.requests();
    }

    private static Map<String, ContextValue> absent(String lowerCaseAction) {
        Map<String, ContextValue> absent = new HashMap<>();
        listedNotCarried(lowerCaseAction).forEach(key -> absent.put(key, ContextValue.ABSENT));
        return Map.copyOf(absent);
    }

    /** Returns the condition keys that requests with this action cannot carry, though those with others can. */
    static Set<String> notCarried(String lowerCaseAction) {
        return NOT_CARRIED
                .computeIfAbsent(lowerCaseAction, StatementSets::absent)
                .keySet();
    }

    private static Set<String> listedNotCarried(String lowerCaseAction) {
        Set<String> keys = new TreeSet<>();
        ActionCatalogue.shipped().named(lowerCaseAction).ifPresent(action -> CARRIED_BY_SOME.stream()
                .filter(key -> !action.carries(key))
                .forEach(keys::add));
        return keys;
    }

    ResourceWork memory() {
        return memory;
    }

    Map<String, String> spellings() {
        return spellings;
    }

    /** Returns what an example has to carry so that it is allowed or refused as it would be then: the time, where a condition asks for it. */
    Map<String, String> time() {
        Map<String, String> time = new TreeMap<>();
        times.forEach((key, spelled) -> {
            if (context.get(key) instanceof ContextValue.Known known) {
                time.put(spelled, known.values().get(0));
            }
        });
        return time;
    }

    Map<String, Condition> propositions() {
        return propositions;
    }

    Set<Glob> namedKeys() {
        return namedKeys;
    }

    List<Glob> namedValues(String dimension) {
        return List.copyOf(namedValues.getOrDefault(dimension, Set.of()));
    }
}
