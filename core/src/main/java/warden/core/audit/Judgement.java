package warden.core.audit;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Audit.UnknownAnswer;

/**
 * What a gate makes of an audit.
 *
 * @param failing the findings that fail it, worst first; with an earlier report only those that are new
 * @param unanswered the questions that hold it up, in the audit's order
 * @param since what changed against an earlier report; absent when none was given
 */
public record Judgement(Gate gate, List<Finding> failing, List<UnknownAnswer> unanswered, Optional<Comparison> since) {
    public Judgement {
        failing = List.copyOf(failing);
        unanswered = List.copyOf(unanswered);
    }

    /** True when this finding fails the audit. */
    public boolean isFailedBy(Finding finding) {
        return gate.isFailedBy(finding, since);
    }

    /** True for a finding that the earlier report did not have; false for all where none was given. */
    public boolean isNew(Finding finding) {
        return since.isPresent() && since.get().isNew(finding);
    }

    /** True when a finding fails the audit. */
    public boolean isFailed() {
        return !failing.isEmpty();
    }

    /** True when no finding fails the audit, and a question that could not be answered might. */
    public boolean isOpen() {
        return failing.isEmpty() && !unanswered.isEmpty();
    }
}
