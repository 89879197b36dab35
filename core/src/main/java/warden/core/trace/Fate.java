package warden.core.trace;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Function;

/**
 * All that may come of a request.
 *
 * @param outcomes what it could be, without repetition
 * @param open true when it could be something else as well
 */
record Fate(List<Outcome> outcomes, boolean open) {
    Fate {
        outcomes = List.copyOf(outcomes);
    }

    static Fate of(Outcome... outcomes) {
        return new Fate(List.of(outcomes), false);
    }

    /** Returns what could be anything; {@code likely} is what it would be without the thing that is not known. */
    static Fate anything(Fate likely) {
        return new Fate(likely.outcomes(), true);
    }

    static Fate anything() {
        return new Fate(List.of(), true);
    }

    Fate or(Fate other) {
        Set<Outcome> all = new LinkedHashSet<>(outcomes);
        all.addAll(other.outcomes);
        return new Fate(List.copyOf(all), open || other.open);
    }

    /** Replaces each outcome by what comes of it. */
    Fate then(Function<Outcome, Fate> next) {
        Fate result = new Fate(List.of(), open);
        for (Outcome outcome : new ArrayList<>(outcomes)) {
            result = result.or(next.apply(outcome));
        }
        return result;
    }

    boolean isCertain() {
        return !open && outcomes.size() == 1;
    }
}
