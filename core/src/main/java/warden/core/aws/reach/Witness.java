package warden.core.aws.reach;

import java.util.Map;
import java.util.TreeMap;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;

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
