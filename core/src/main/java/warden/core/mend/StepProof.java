package warden.core.mend;

import java.util.List;
import warden.core.survey.Need;

/**
 * What holds in the state after a step, beside the state that was surveyed.
 *
 * @param gained who outside can do more, a sentence each; none in a plan
 * @param allowed what somebody outside gains because it is meant, a sentence each
 * @param visits addresses that answer worse, a sentence each; none in a plan
 * @param lacking what publishers cannot do any more, a sentence each; none in a plan
 * @param open what keeps from proving it
 * @param closed direct addresses of storage and edge that gave a page and give none any more
 */
public record StepProof(
        List<String> gained,
        List<String> allowed,
        List<String> visits,
        List<String> lacking,
        List<Need> open,
        List<String> closed) {
    public StepProof {
        gained = List.copyOf(gained);
        allowed = List.copyOf(allowed);
        visits = List.copyOf(visits);
        lacking = List.copyOf(lacking);
        open = List.copyOf(open);
        closed = List.copyOf(closed);
    }

    /** True when nothing speaks against it and nothing is open. */
    public boolean holds() {
        return gained.isEmpty() && visits.isEmpty() && lacking.isEmpty() && open.isEmpty();
    }

    /** Returns what speaks against it, a sentence. */
    public String why() {
        if (!gained.isEmpty()) {
            return "somebody outside would gain by it: " + gained.get(0);
        }
        if (!visits.isEmpty()) {
            return "visitors would notice it: " + visits.get(0);
        }
        if (!lacking.isEmpty()) {
            return "a publisher could not publish any more: " + lacking.get(0);
        }
        return open.isEmpty()
                ? ""
                : "it cannot be proven: " + open.get(0).aspect() + " of "
                        + open.get(0).of() + ": " + open.get(0).why();
    }
}
