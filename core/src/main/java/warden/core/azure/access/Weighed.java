package warden.core.azure.access;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Decision;
import warden.core.access.Truth;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Collects what a decision rests on while it is made. */
final class Weighed {
    final List<Citation> because = new ArrayList<>();
    final List<Need> needs = new ArrayList<>();
    final List<String> assumes = new ArrayList<>();
    final List<String> steps = new ArrayList<>();
    private String says = "";

    void step(String sentence) {
        steps.add(sentence);
    }

    /** Notes what decides; what is said last counts. */
    void says(String sentence) {
        says = sentence;
        steps.add(sentence);
    }

    void because(Optional<Citation> at) {
        at.filter(each -> !because.contains(each)).ifPresent(because::add);
    }

    void need(Need need) {
        if (!needs.contains(need)) {
            needs.add(need);
        }
    }

    void assume(String what) {
        if (!assumes.contains(what)) {
            assumes.add(what);
        }
    }

    /** Takes over what another decision rests on. */
    void add(Weighed other) {
        other.because.forEach(at -> because(Optional.of(at)));
        other.needs.forEach(this::need);
        other.assumes.forEach(this::assume);
        steps.addAll(other.steps);
        if (!other.says.isEmpty()) {
            says = other.says;
        }
    }

    Decision decided(Truth truth, boolean explicit, boolean explains) {
        Decision.Outcome outcome =
                switch (truth) {
                    case TRUE -> Decision.Outcome.ALLOW;
                    case FALSE -> Decision.Outcome.DENY;
                    case UNKNOWN -> Decision.Outcome.UNKNOWN;
                };
        List<Need> open = truth == Truth.UNKNOWN ? needs : List.of();
        return new Decision(outcome, explicit, says, because, open, assumes, explains ? steps : List.of());
    }
}
