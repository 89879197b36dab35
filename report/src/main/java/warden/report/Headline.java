package warden.report;

import java.util.Optional;
import warden.core.audit.Audit;
import warden.core.audit.Severity;

/** What an audit comes to, in a few words; whatever the gate makes of it. */
record Headline(String words, State state) {
    /** How bad it is. */
    enum State {
        BAD,
        OPEN,
        GOOD
    }

    static Headline of(Audit audit) {
        Optional<Severity> worst = audit.findings().stream().findFirst().map(finding -> finding.severity());
        if (worst.isPresent()) {
            long many = audit.counts(Optional.empty()).get(worst.get());
            boolean isOpen = !audit.unknowns().isEmpty();
            String words =
                    switch (worst.get()) {
                        case CRITICAL -> Lines.count(many, "critical finding") + ": act today";
                        case HIGH -> Lines.count(many, "finding") + " of high severity";
                        // What is not known may be worse than what was found.
                        case MEDIUM, LOW ->
                            (isOpen ? "" : "Nothing urgent: ")
                                    + Lines.count(many, worst.get().word() + " finding")
                                    + (isOpen ? "" : " at worst");
                    };
            return new Headline(
                    isOpen
                            ? words + ", and " + Lines.count(audit.unknowns().size(), "question") + " not answered"
                            : words,
                    worst.get().isAtLeast(Severity.HIGH) ? State.BAD : State.OPEN);
        }
        if (!audit.unknowns().isEmpty()) {
            return new Headline(
                    Lines.count(audit.unknowns().size(), "question") + " could not be answered", State.OPEN);
        }
        return audit.everyCheck()
                ? new Headline("Nothing is wrong", State.GOOD)
                : new Headline("No findings of the checks asked", State.OPEN);
    }
}
