package warden.core.aws.reach;

import java.util.List;
import warden.core.access.Decision;
import warden.core.access.Witness;
import warden.core.survey.Need;

/** Whether, of all requests with one action for one resource, some request is allowed. */
public sealed interface Possibility {
    /** This one is. */
    record Allowed(Witness witness, Decision decision) implements Possibility {}

    /** None is. */
    record Never() implements Possibility {}

    /** It is not known; {@code needs}, of which there is at least one, would settle it. */
    record Open(List<Need> needs) implements Possibility {
        public Open {
            needs = List.copyOf(needs);
            if (needs.isEmpty()) {
                throw new IllegalArgumentException("what is open says what would settle it");
            }
        }
    }
}
