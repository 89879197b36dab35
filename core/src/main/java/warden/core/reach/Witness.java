package warden.core.reach;

import java.util.Map;
import java.util.TreeMap;
import warden.core.decision.Request;
import warden.core.policy.Actor;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;

/**
 * A concrete request that would succeed, in the words of a question.
 *
 * @param context condition keys and their values
 */
public record Witness(Actor who, String action, String on, Map<String, String> context) {
    public Witness {
        context = java.util.Collections.unmodifiableMap(new TreeMap<>(context));
    }

    /** Returns the request. */
    public Request request() {
        Map<String, ContextValue> values = new TreeMap<>();
        context.forEach((key, value) -> values.put(key, ContextValue.Known.of(value)));
        return new Request(who, action, on, Context.given(values));
    }
}
