package warden.standin;

import java.util.Random;
import java.util.Set;
import java.util.concurrent.TimeUnit;

/**
 * How the simulated account misbehaves. Chances are in percent; the same seed gives the same misfortunes for the same order of calls.
 *
 * @param latencyMillis how long each call takes from its arrival to its answer, at least
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

    /**
     * Waits for what is left of a call's time.
     *
     * @param arrived when the call came, as {@link System#nanoTime}
     */
    void waitSince(long arrived) throws InterruptedException {
        long left = TimeUnit.MILLISECONDS.toNanos(latencyMillis) - (System.nanoTime() - arrived);
        if (left > 0) {
            TimeUnit.NANOSECONDS.sleep(left);
        }
    }
}
