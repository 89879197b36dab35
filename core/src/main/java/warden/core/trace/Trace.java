package warden.core.trace;

import java.util.List;
import warden.core.survey.Need;

/**
 * A request followed to its end.
 *
 * @param outcomes all that it could come to; one when it is certain
 * @param open true when it could come to something else as well
 * @param why one sentence: what decided
 * @param remedy what to do; empty when nothing is wrong
 * @param needs what would settle what is not certain
 * @param notes what was changed in the address before it was sent
 */
public record Trace(
        WebAddress address,
        List<Step> steps,
        List<Outcome> outcomes,
        boolean open,
        String why,
        String remedy,
        List<Need> needs,
        List<String> notes) {
    public Trace {
        steps = List.copyOf(steps);
        outcomes = List.copyOf(outcomes);
        needs = List.copyOf(needs);
        notes = List.copyOf(notes);
    }

    public Trace withRemedy(String other) {
        return new Trace(address, steps, outcomes, open, why, other, needs, notes);
    }

    public boolean isCertain() {
        return !open && outcomes.size() == 1;
    }

    /** True when it certainly comes to an outcome of this kind. */
    public boolean surely(java.util.function.Predicate<Outcome> kind) {
        return !open && !outcomes.isEmpty() && outcomes.stream().allMatch(kind);
    }

    /** True when it may come to an outcome of this kind. */
    public boolean possibly(java.util.function.Predicate<Outcome> kind) {
        return open || outcomes.stream().anyMatch(kind);
    }
}
