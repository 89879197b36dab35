package warden.core.algebra;

import java.util.function.Supplier;

/**
 * A bound on the work that one question may cost, so that hostile patterns end in "too complex" and never hang. The bound holds
 * for the thread that works inside it; outside of any bound, work is not counted.
 */
public final class Effort {
    private static final ThreadLocal<long[]> LEFT = new ThreadLocal<>();

    private Effort() {}

    /**
     * Does the work, within a bound.
     *
     * @param steps how many moves of automata the work may look at
     * @throws TooComplexException when it takes more
     */
    public static <T> T within(long steps, Supplier<T> work) {
        long[] outer = LEFT.get();
        LEFT.set(new long[] {outer == null ? steps : Math.min(steps, outer[0])});
        try {
            return work.get();
        } finally {
            if (outer == null) {
                LEFT.remove();
            } else {
                outer[0] -= Math.max(0, Math.min(steps, outer[0]) - LEFT.get()[0]);
                LEFT.set(outer);
            }
        }
    }

    static void spend(long steps) {
        long[] left = LEFT.get();
        if (left != null) {
            left[0] -= steps;
            if (left[0] < 0) {
                throw new TooComplexException("the patterns together take more work than one question is worth");
            }
        }
    }
}
