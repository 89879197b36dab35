package warden.core.aws.reach;

import java.util.HashMap;
import java.util.Map;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.ContextValue;

/**
 * A row of the matrix: who, and what is known of every request that they send.
 *
 * @param label how the row is called: the actor as questions spell it, or a distribution's ARN
 * @param settled condition keys that each of their requests carries, by name
 */
public record Grantee(String label, Actor who, Map<String, ContextValue> settled) {
    public Grantee {
        settled = Map.copyOf(settled);
    }

    public Grantee(Actor who) {
        this(who.spelled(), who, Map.of());
    }

    /** Returns what each of their requests carries with one certain value, by name. */
    Map<String, String> carried() {
        Map<String, String> carried = new HashMap<>();
        settled.forEach((name, value) -> {
            if (value instanceof ContextValue.Known known && known.values().size() == 1) {
                carried.put(name, known.values().get(0));
            }
        });
        return carried;
    }
}
