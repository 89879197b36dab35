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
public record OutcomeSet(List<Outcome> outcomes, boolean open) {
    public OutcomeSet {
        outcomes = List.copyOf(outcomes);
    }

    public static OutcomeSet of(Outcome... outcomes) {
        return new OutcomeSet(List.of(outcomes), false);
    }

    /** Returns what could be anything; {@code likely} is what it would be without the thing that is not known. */
    public static OutcomeSet anything(OutcomeSet likely) {
        return new OutcomeSet(likely.outcomes(), true);
    }

    public static OutcomeSet anything() {
        return new OutcomeSet(List.of(), true);
    }

    public OutcomeSet or(OutcomeSet other) {
        Set<Outcome> all = new LinkedHashSet<>(outcomes);
        all.addAll(other.outcomes);
        return new OutcomeSet(List.copyOf(all), open || other.open);
    }

    /** Replaces each outcome by what comes of it. */
    public OutcomeSet then(Function<Outcome, OutcomeSet> next) {
        OutcomeSet result = new OutcomeSet(List.of(), open);
        for (Outcome outcome : new ArrayList<>(outcomes)) {
            result = result.or(next.apply(outcome));
        }
        return result;
    }

    public boolean isCertain() {
        return !open && outcomes.size() == 1;
    }
}
