package warden.core.aws.reach;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;

/**
 * An answer for each thing, told apart by what it is and not by what it says: comparing documents would cost more than asking again. Safe for use by
 * several threads, which do not wait for each other.
 */
final class ByIdentity<K, V> {
    private final Map<Same, V> answers = new ConcurrentHashMap<>();

    private record Same(Object thing) {
        @Override
        public boolean equals(Object other) {
            return other instanceof Same same && same.thing == thing;
        }

        @Override
        public int hashCode() {
            return System.identityHashCode(thing);
        }
    }

    /** Returns the answer; works it out, once, when it was not asked for before. */
    V get(K thing, Function<K, V> work) {
        return answers.computeIfAbsent(new Same(thing), same -> work.apply(thing));
    }
}
