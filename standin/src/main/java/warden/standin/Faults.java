package warden.standin;

import java.util.Random;
import java.util.Set;

/**
 * How the simulated account misbehaves. Chances are in percent; the same seed gives the same misfortunes for the same order of calls.
 *
 * @param latencyMillis waited before each answer
 * @param throttle how often a call is told to slow down
 * @param reset how often a connection is cut
 * @param truncate how often an answer ends in its middle
 * @param refused actions that are refused to everybody, in lower case
 */
public record Faults(int latencyMillis, int throttle, int reset, int truncate, Set<String> refused) {
    public Faults {
        refused = Set.copyOf(refused);
    }

    /** Returns no misbehaviour at all. */
    public static Faults none() {
        return new Faults(0, 0, 0, 0, Set.of());
    }

    /** What happens to one call. */
    enum Misfortune {
        NONE,
        THROTTLE,
        RESET,
        TRUNCATE
    }

    Misfortune next(Random random) {
        int die = random.nextInt(100);
        if (die < throttle) {
            return Misfortune.THROTTLE;
        }
        if (die < throttle + reset) {
            return Misfortune.RESET;
        }
        return die < throttle + reset + truncate ? Misfortune.TRUNCATE : Misfortune.NONE;
    }
}
