package warden.core.mend;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.audit.Finding;
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

    /** Returns changes as what to do; absent where there are none. */
    static Optional<Proposal> ofAll(List<Change> changes) {
        return changes.isEmpty() ? Optional.empty() : Optional.of(new Changes(changes));
    }

    /**
     * Leaves a finding to a person, in the words of its check.
     *
     * @param reasons why, by the id of the check; for others the area tells
     */
    static Proposal byHand(Finding finding, Map<String, String> reasons) {
        String ofArea =
                switch (finding.card().area()) {
                    case PIPELINE -> "it is mended in the pipeline's own file";
                    case CONTENT -> "it is mended where the site is built";
                    case CERTIFICATE -> "a certificate is issued only when its names are proven";
                    case DNS -> "where the name is meant to lead is not stated";
                    default -> "which of its settings is meant is not stated";
                };
        return byHand(reasons.getOrDefault(finding.card().id(), ofArea), finding.remedy());
    }

    static Proposal byHand(String why, String todo) {
        return new ByHand(why, todo, List.of());
    }
}
