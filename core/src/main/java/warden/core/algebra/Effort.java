package warden.core.algebra;

import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A bound on the work that one question may cost, so that hostile patterns end in "too complex" and never hang. The bound holds
 * for the thread that works inside it; outside of any bound, work is not counted.
 */
public final class Effort {
    private static final ThreadLocal<@Nullable Effort> CURRENT = new ThreadLocal<>();

    private long left;
    private final Set<Object> charged = Collections.newSetFromMap(new IdentityHashMap<>());

    private Effort(long left) {
        this.left = left;
    }

    /**
     * Does the work, within a bound.
     *
     * @param steps how many moves of automata the work may look at
     * @throws TooComplexException when it takes more
     */
    public static <T> T within(long steps, Supplier<T> work) {
        Effort outer = CURRENT.get();
        Effort inner = new Effort(outer == null ? steps : Math.min(steps, outer.left));
        long allowed = inner.left;
        try {
            return inner.around(work, outer);
        } finally {
            if (outer != null) {
                outer.left -= Math.max(0, allowed - inner.left);
            }
        }
    }

    /**
     * Does the work within a bound of its own, whatever is left of the one outside and without a charge to it: for answers that are worked
     * out once and kept, which must not depend on who asked first.
     *
     * @throws TooComplexException when it takes more
     */
    public static <T> T apart(long steps, Supplier<T> work) {
        return new Effort(steps).around(work, CURRENT.get());
    }

    private <T> T around(Supplier<T> work, @Nullable Effort outer) {
        CURRENT.set(this);
        try {
            return work.get();
        } finally {
            if (outer == null) {
                CURRENT.remove();
            } else {
                CURRENT.set(outer);
            }
        }
    }

    /**
     * What was worked out once for many questions. Each question that uses it is charged what it cost, once: else answers near the bound
     * would depend on which question came first.
     */
    public static final class Remembered<T> {
        private final T value;
        private final long cost;

        private Remembered(T value, long cost) {
            this.value = value;
            this.cost = cost;
        }

        /** Returns the value and charges its cost. */
        public T use() {
            Effort current = CURRENT.get();
            if (current != null && current.charged.add(this)) {
                current.charge(cost);
            }
            return value;
        }
    }

    /** Does work to be remembered, within the bound of the question that comes first; the question is charged when it uses the value. */
    public static <T> Remembered<T> remember(Supplier<T> work) {
        Effort outer = CURRENT.get();
        Effort inner = new Effort(outer == null ? Long.MAX_VALUE : outer.left);
        long allowed = inner.left;
        T value = inner.around(work, outer);
        return new Remembered<>(value, allowed - inner.left);
    }

    static void spend(long steps) {
        Effort current = CURRENT.get();
        if (current != null) {
            current.charge(steps);
        }
    }

    private void charge(long steps) {
        left -= steps;
        if (left < 0) {
            throw new TooComplexException("the patterns together take more work than one question is worth");
        }
    }
}
