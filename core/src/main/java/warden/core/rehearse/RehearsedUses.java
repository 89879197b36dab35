package warden.core.rehearse;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import warden.core.pipeline.Needed;
import warden.core.pipeline.Needed.Evidence;

/**
 * What the calls of a rehearsal add up to, in memory that does not grow with their number: objects are taken together under the folder that they
 * share. What somebody else needed, such as a role that the deployment assumed, is not what the rehearsed one needs. Safe for use by several threads.
 */
public final class RehearsedUses {
    private static final int MOST_REFUSALS = 1_000;

    /**
     * A permission that was refused.
     *
     * @param call the number of the first call that needed it, counted from 1
     * @param operation of that call
     * @param times how many calls needed it
     * @param says what decided
     */
    public record Refused(String action, String on, long call, String operation, long times, String says) {
        private Refused again() {
            return new Refused(action, on, call, operation, times + 1, says);
        }
    }

    private final String as;
    private final Function<String, Optional<String>> storeOf;
    private final Map<String, Refused> refusals = new LinkedHashMap<>();
    private final Map<String, Use> uses = new TreeMap<>();
    private final Map<String, Use> refusedUses = new TreeMap<>();
    private final Map<String, Integer> notSimulated = new TreeMap<>();
    private long calls;
    private long refusedCalls;
    private boolean isCut;

    /**
     * What was used of an action in one place.
     *
     * @param on the one resource that it was used on; the place where there were several
     */
    private record Use(String action, String place, String on, String folder, boolean isOfObjects, long times) {
        Use with(Use other) {
            return new Use(
                    action,
                    place,
                    on.equals(other.on) ? on : place,
                    shared(folder, other.folder),
                    isOfObjects,
                    times + other.times);
        }

        /** Returns the resource; of objects the folder, since the next deployment's have other names. */
        String asNeeded() {
            return isOfObjects ? place + "/" + folder + "*" : place;
        }

        /** Returns the one resource, or where there were several, as {@link #asNeeded}. */
        String asRefused() {
            return on.equals(place) ? asNeeded() : on;
        }
    }

    /**
     * Begins to add up.
     *
     * @param as the ARN of who is rehearsed
     * @param storeOf the store that an object is in, by the object's identifier, which begins with the store's and a slash; absent for what is no object
     */
    public RehearsedUses(String as, Function<String, Optional<String>> storeOf) {
        this.as = as;
        this.storeOf = storeOf;
    }

    /** Adds a call and returns its number, counted from 1. */
    public synchronized long add(RehearsedCall call) {
        calls++;
        if (!call.isSimulated()) {
            notSimulated(call);
        }
        if (call.isRefused()) {
            refusedCalls++;
        }
        boolean isOwn = call.who().equals(as);
        for (RehearsedCall.Need need : call.needs()) {
            if (isOwn) {
                use(need, uses);
            }
            if (!need.allowed() && call.isSimulated()) {
                if (isOwn) {
                    use(need, refusedUses);
                }
                refused(need, call);
            }
        }
        return calls;
    }

    /** What is not known to be allowed or refused is not simulated either; then the reason is told. */
    private void notSimulated(RehearsedCall call) {
        String name = call.service() + " " + (call.operation().isEmpty() ? "a call" : call.operation());
        String why = call.needs().stream()
                .filter(need -> !need.allowed())
                .findFirst()
                .map(need -> ": whether " + need.action() + " is allowed is not known: " + need.says())
                .orElse("");
        boolean hasRoom = notSimulated.size() < MOST_REFUSALS;
        notSimulated.merge(hasRoom ? name + why : name, 1, Integer::sum);
    }

    private void refused(RehearsedCall.Need need, RehearsedCall call) {
        String key = need.action() + " " + need.on();
        Refused before = refusals.get(key);
        if (before != null) {
            refusals.put(key, before.again());
        } else if (refusals.size() < MOST_REFUSALS) {
            refusals.put(key, new Refused(need.action(), need.on(), calls, call.operation(), 1, need.says()));
        } else {
            isCut = true;
        }
    }

    private void use(RehearsedCall.Need need, Map<String, Use> uses) {
        Optional<String> store = storeOf.apply(need.on());
        String place = store.orElse(need.on());
        String folder =
                store.map(of -> folder(need.on().substring(of.length() + 1))).orElse("");
        uses.merge(
                need.action() + " " + place,
                new Use(need.action(), place, need.on(), folder, store.isPresent(), 1),
                Use::with);
    }

    private static String folder(String key) {
        return key.substring(0, key.lastIndexOf('/') + 1);
    }

    /** Returns the deepest folder that both are in. */
    private static String shared(String one, String other) {
        int same = 0;
        while (same < one.length() && same < other.length() && one.charAt(same) == other.charAt(same)) {
            same++;
        }
        return folder(one.substring(0, same));
    }

    public synchronized long calls() {
        return calls;
    }

    /** Returns how many calls were refused, in whole or in part. */
    public synchronized long refusedCalls() {
        return refusedCalls;
    }

    /** Returns the permissions that were refused, in the order in which they were first needed. */
    public synchronized List<Refused> refusals() {
        return List.copyOf(refusals.values());
    }

    /** True where more was refused than is kept. */
    public synchronized boolean isCut() {
        return isCut;
    }

    /** Returns what was asked and is not simulated, by service and operation: how often. */
    public synchronized Map<String, Integer> notSimulated() {
        return new TreeMap<>(notSimulated);
    }

    /** Returns what was needed, whether it was allowed or not. */
    public synchronized List<Needed> needed() {
        return needed(uses, Use::asNeeded);
    }

    /** Returns what was needed and refused. */
    public synchronized List<Needed> missing() {
        return needed(refusedUses, Use::asRefused);
    }

    private static List<Needed> needed(Map<String, Use> uses, Function<Use, String> on) {
        List<Needed> needed = new ArrayList<>();
        uses.values()
                .forEach(use -> needed.add(new Needed(
                        use.action(),
                        on.apply(use),
                        "rehearsed " + use.times() + (use.times() == 1 ? " time" : " times"),
                        Evidence.REHEARSAL,
                        Optional.empty())));
        return needed;
    }
}
