package warden.report;

import warden.core.audit.Gate;
import warden.core.audit.Judgement;

/** What the gate makes of an audit, in words and as the program's exit code. */
final class GateWords {
    private GateWords() {}

    static String of(Judgement judgement) {
        String gate = judgement.gate().word();
        if (judgement.isFailed()) {
            int many = judgement.failing().size();
            return many + (judgement.since().isPresent() ? " new" : "") + " at or above the gate (" + gate
                    + "): exit code 1";
        }
        if (judgement.isOpen()) {
            return Lines.count(judgement.unanswered().size(), "question") + " not answered that could find something "
                    + (judgement.gate().limit().isPresent() && judgement.gate().unknowns() == Gate.Unknowns.AT_THE_LIMIT
                            ? "at or above the gate (" + gate + ")"
                            : "at all")
                    + ": exit code 5";
        }
        return gate.equals("never")
                ? "the gate lets everything pass (never): exit code 0"
                : "nothing" + (judgement.since().isPresent() ? " new" : "") + " at or above the gate (" + gate
                        + "): exit code 0";
    }
}
