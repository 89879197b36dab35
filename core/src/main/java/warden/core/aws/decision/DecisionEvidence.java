package warden.core.aws.decision;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Collects, while one request is decided, what speaks for it, what against it, what is missing, and the steps. */
final class DecisionEvidence {
    private final boolean explains;
    private final List<String> steps = new ArrayList<>();
    final List<Citation> allows = new ArrayList<>(2);
    final List<Citation> denies = new ArrayList<>(2);
    final List<Citation> limits = new ArrayList<>(2);
    final List<Need> needs = new ArrayList<>(2);
    final List<String> assumes = new ArrayList<>(1);

    DecisionEvidence(boolean explains) {
        this.explains = explains;
    }

    void step(Supplier<String> sentence) {
        if (explains) {
            steps.add(sentence.get());
        }
    }

    void need(Need need) {
        if (!needs.contains(need)) {
            needs.add(need);
        }
    }

    /** Notes that a statement's own meaning or a context value is what is not known. */
    void open(Citation statement, String why) {
        need(new Need(statement.aspect(), statement.subject(), why, ""));
    }

    List<String> steps() {
        return steps;
    }
}
