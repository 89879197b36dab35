package warden.core.aws.decision;

import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import warden.core.access.Witness;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;

/**
 * One request.
 *
 * @param action in any case, such as {@code s3:GetObject}
 * @param resource the ARN of what it is for
 * @param context the condition keys beside those that follow from {@code who} and {@code resource}
 */
public record Request(Actor who, String action, String resource, Context context) {
    /** Returns the action in lower case, in which actions are compared. */
    public String lowerCaseAction() {
        return action.toLowerCase(Locale.ROOT);
    }

    /** Returns the request that a witness is, of the caller that it names. */
    public static Request of(Actor who, Witness witness) {
        Map<String, ContextValue> values = new TreeMap<>();
        witness.context().forEach((key, value) -> values.put(key, ContextValue.Known.of(value)));
        return new Request(who, witness.action(), witness.on(), Context.given(values));
    }
}
