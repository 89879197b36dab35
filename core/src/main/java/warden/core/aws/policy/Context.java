package warden.core.aws.policy;

import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.function.Predicate;

/**
 * The condition keys of one request. Keys are compared without regard to case. What follows from the caller and the resource
 * (the facts) goes before what was said beside them, save where a fact is only a range and what was said is definite. What every
 * request carries unless it is said otherwise (the defaults) comes last.
 */
public final class Context {
    private static final Predicate<String> NOTHING = key -> false;
    private static final Context EMPTY = new Context(Map.of(), Map.of(), Map.of(), NOTHING);

    private final Map<String, ContextValue> facts;
    private final Map<String, ContextValue> given;
    private final Map<String, ContextValue> defaults;
    private final Predicate<String> open;

    private Context(
            Map<String, ContextValue> facts,
            Map<String, ContextValue> given,
            Map<String, ContextValue> defaults,
            Predicate<String> open) {
        this.facts = facts;
        this.given = given;
        this.defaults = defaults;
        this.open = open;
    }

    /** Returns a context in which every key is absent. */
    public static Context empty() {
        return EMPTY;
    }

    /** Returns the context with these values; key names in any case. */
    public static Context given(Map<String, ? extends ContextValue> values) {
        return new Context(Map.of(), lowered(values), Map.of(), NOTHING);
    }

    /** Returns this context with facts that go before what was given; later facts before earlier ones. */
    public Context withFacts(Map<String, ContextValue> lowerCaseFacts) {
        if (lowerCaseFacts.isEmpty()) {
            return this;
        }
        if (facts.isEmpty()) {
            return new Context(lowerCaseFacts, given, defaults, open);
        }
        Map<String, ContextValue> all = new HashMap<>(facts);
        all.putAll(lowerCaseFacts);
        return new Context(all, given, defaults, open);
    }

    /** Returns this context with what holds under a key of which nothing else is said. */
    public Context withDefaults(Map<String, ContextValue> lowerCaseDefaults) {
        return new Context(facts, given, lowerCaseDefaults, open);
    }

    /** Returns this context for requests of which nothing more is known: these lower-case keys may be carried with any value. */
    public Context whereUnknown(Predicate<String> lowerCaseKeys) {
        return new Context(facts, given, defaults, lowerCaseKeys);
    }

    /** Returns this context where these lower-case keys, too, may be carried with any value. */
    public Context orUnknown(Predicate<String> lowerCaseKeys) {
        return new Context(facts, given, defaults, key -> open.test(key) || lowerCaseKeys.test(key));
    }

    /** Returns what the request carries under {@code lowerCaseKey}. */
    public ContextValue get(String lowerCaseKey) {
        ContextValue fact = facts.get(lowerCaseKey);
        if (fact != null && !(fact instanceof ContextValue.OneOf && given.containsKey(lowerCaseKey))) {
            return fact;
        }
        ContextValue value = given.get(lowerCaseKey);
        if (value == null) {
            value = defaults.get(lowerCaseKey);
        }
        return value != null ? value : open.test(lowerCaseKey) ? ContextValue.UNKNOWN : ContextValue.ABSENT;
    }

    /** Returns this context as another service sees it: of what was given, all but the kept keys is unknown there. */
    public Context forwarded(Predicate<String> kept) {
        Map<String, ContextValue> seen = new HashMap<>(given);
        seen.replaceAll((key, value) -> kept.test(key) ? value : ContextValue.UNKNOWN);
        return new Context(facts, seen, defaults, open);
    }

    /** True when the key was given or follows from the caller, the resource or the defaults. */
    public boolean settles(String lowerCaseKey) {
        return facts.containsKey(lowerCaseKey) || given.containsKey(lowerCaseKey) || defaults.containsKey(lowerCaseKey);
    }

    private static Map<String, ContextValue> lowered(Map<String, ? extends ContextValue> values) {
        Map<String, ContextValue> lowered = new HashMap<>();
        values.forEach((key, value) -> lowered.put(key.toLowerCase(Locale.ROOT), value));
        return lowered;
    }
}
