package warden.core.mend;

import java.util.List;
import warden.core.survey.Need;

/** What to do about a finding. */
public sealed interface Proposal {
    /** Changes of documents, in the order in which they have to be made. */
    record Changes(List<Change> changes) implements Proposal {
        public Changes {
            changes = List.copyOf(changes);
        }
    }

    /**
     * What only a person can do.
     *
     * @param why why it is not among the steps
     * @param todo the exact words of what to do
     * @param needs the readings that would settle it; none where no reading would
     */
    record ByHand(String why, String todo, List<Need> needs) implements Proposal {
        public ByHand {
            needs = List.copyOf(needs);
        }
    }

    static Proposal of(Change... changes) {
        return new Changes(List.of(changes));
    }

    static Proposal byHand(String why, String todo) {
        return new ByHand(why, todo, List.of());
    }
}
