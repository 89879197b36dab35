package warden.core.trim;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Pattern;
import warden.core.pipeline.Needed;
import warden.core.pipeline.Needed.Evidence;

/**
 * What the account's log shows users and roles to have done, summed up.
 *
 * @param uses by user or role ARN, by action, and by resource (an ARN; objects of a bucket are taken together): how often
 * @param events how many events were read
 * @param refused how many of them the account had refused
 * @param problems what could not be read, a sentence each
 */
public record Activity(
        Map<String, Map<String, Map<String, Count>>> uses, long events, long refused, List<String> problems) {
    private static final Pattern ROLE_WITH_PATH = Pattern.compile("^(arn:aws:iam::[0-9]{12}:role/)(?:[^/]+/)+([^/]+)$");

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

    /** How often, and on which day last, as the log writes it. */
    public record Count(long times, String last) {
        public Count plus(Count other) {
            return new Count(times + other.times, last.compareTo(other.last) >= 0 ? last : other.last);
        }
    }

    /** Returns what a user or role used, by ARN, as permissions that it needs. */
    public List<Needed> usedBy(String arn) {
        List<Needed> used = new ArrayList<>();
        Map<Use, Count> own = new TreeMap<>();
        put(arn, own);
        String pathless = ROLE_WITH_PATH.matcher(arn).replaceFirst("$1$2");
        if (!pathless.equals(arn)) {
            // A session tells its role's name without the path; an account has one role of that name.
            put(pathless, own);
        }
        own.forEach((use, count) -> used.add(new Needed(
                use.action(),
                use.on(),
                "used " + count.times() + (count.times() == 1 ? " time" : " times") + ", last " + count.last(),
                Evidence.ACTIVITY)));
        return used;
    }

    private void put(String arn, Map<Use, Count> all) {
        uses.getOrDefault(arn, Map.of())
                .forEach((action, places) ->
                        places.forEach((on, count) -> all.merge(new Use(action, on), count, Count::plus)));
    }
}
