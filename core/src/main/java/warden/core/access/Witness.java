package warden.core.access;

import java.util.Collections;
import java.util.Map;
import java.util.TreeMap;

/**
 * A concrete request that would succeed, in the words of a question.
 *
 * @param who the caller, as questions spell it
 * @param on what is asked for, by its identifier
 * @param context what the request carries, by name
 */
public record Witness(String who, String action, String on, Map<String, String> context) {
    public Witness {
        context = Collections.unmodifiableMap(new TreeMap<>(context));
    }
}
