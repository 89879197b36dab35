package warden.core.audit;

import java.util.Optional;
import warden.core.audit.Audit.UnknownAnswer;

/**
 * What keeps an audit from passing: findings of a severity, and questions about such findings that could not be answered.
 *
 * @param limit the least severity that fails; absent when none does
 */
public record Gate(Optional<Severity> limit, Unknowns unknowns) {
    /** Which questions that could not be answered hold an audit up. */
    public enum Unknowns {
        /** None. */
        ALLOWED,
        /** Those of checks that may find something at or above the limit. */
        AT_THE_LIMIT,
        /** Every one, whatever the limit is. */
        NONE_ALLOWED
    }

    /** Returns the gate's name, as the command line spells it. */
    public String word() {
        return limit.map(Severity::word).orElse("never");
    }

    /** True when an audit with this finding does not pass; with an earlier report, only one that is new. */
    boolean isFailedBy(Finding finding, Optional<Comparison> since) {
        return limit.isPresent()
                && finding.severity().isAtLeast(limit.get())
                && (since.isEmpty() || since.get().isNew(finding));
    }

    /** True when an audit does not pass before this question is answered; what counts is how bad the answer may be at worst. */
    public boolean isHeldUpBy(UnknownAnswer answer) {
        return switch (unknowns) {
            case ALLOWED -> false;
            case AT_THE_LIMIT -> limit.isPresent() && answer.card().worst().isAtLeast(limit.get());
            case NONE_ALLOWED -> true;
        };
    }

    /**
     * Judges an audit.
     *
     * @param since what an earlier report had already; its findings do not fail the audit again
     */
    public Judgement judge(Audit audit, Optional<Comparison> since) {
        return new Judgement(
                this,
                audit.findings().stream()
                        .filter(finding -> isFailedBy(finding, since))
                        .toList(),
                audit.unknowns().stream().filter(this::isHeldUpBy).toList(),
                since);
    }
}
