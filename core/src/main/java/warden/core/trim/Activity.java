package warden.core.trim;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import warden.core.pipeline.Needed;
import warden.core.pipeline.Needed.Evidence;

/**
 * What the account's log shows users and roles to have done, summed up.
 *
 * @param uses by user or role ARN, then by action and resource: how often
 * @param events how many events were read
 * @param refused how many of them the account had refused
 * @param problems what could not be read, a sentence each
 */
public record Activity(Map<String, Map<Use, Count>> uses, long events, long refused, List<String> problems) {
    public Activity {
        uses = java.util.Collections.unmodifiableMap(new TreeMap<>(uses));
        problems = List.copyOf(problems);
    }

    /** Returns what no log tells. */
    public static Activity none() {
        return new Activity(Map.of(), 0, 0, List.of());
    }

    /**
     * An action on a resource.
     *
     * @param on an ARN; objects of a bucket are taken together
     */
    public record Use(String action, String on) implements Comparable<Use> {
        @Override
        public int compareTo(Use other) {
            int byAction = action.compareTo(other.action);
            return byAction != 0 ? byAction : on.compareTo(other.on);
        }
    }

    /** How often, and when last, as the log writes it. */
    public record Count(long times, String last) {
        public Count plus(Count other) {
            return new Count(times + other.times, last.compareTo(other.last) >= 0 ? last : other.last);
        }
    }

    /** Returns what a user or role used, by ARN, as permissions that it needs. */
    public List<Needed> usedBy(String arn) {
        List<Needed> used = new ArrayList<>();
        new TreeMap<>(uses.getOrDefault(arn, new LinkedHashMap<>()))
                .forEach((use, count) -> used.add(new Needed(
                        use.action(),
                        use.on(),
                        "used " + count.times() + (count.times() == 1 ? " time" : " times") + ", last "
                                + count.last().replaceFirst("T.*", ""),
                        Evidence.ACTIVITY)));
        return used;
    }
}
