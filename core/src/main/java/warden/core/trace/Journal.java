package warden.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.trace.Step.At;

/** Collects the steps while a request is followed, and which of them decided. */
final class Journal {
    private final boolean triesRemedies;

    Journal(boolean triesRemedies) {
        this.triesRemedies = triesRemedies;
    }

    boolean triesRemedies() {
        return triesRemedies;
    }

    private final List<Step> steps = new ArrayList<>();
    private final List<Need> needs = new ArrayList<>();
    private int deciding = -1;
    private String why = "";
    private Remedy remedy = Remedy.NONE;

    void step(At at, String says, Citation... because) {
        steps.add(new Step(at, says, List.of(because), false));
    }

    void step(At at, String says, Optional<Citation> because) {
        steps.add(new Step(at, says, because.stream().toList(), false));
    }

    void step(At at, String says, List<Citation> because) {
        steps.add(new Step(at, says, because.stream().limit(3).toList(), false));
    }

    /** Notes that the answer hangs on the step written last, unless an earlier one decided already. */
    void decides(Remedy remedyThen) {
        if (deciding < 0) {
            deciding = steps.size() - 1;
            why = steps.get(deciding).says();
            remedy = remedyThen;
        }
    }

    /** As above, where no survey can show what comes of the remedy, or where there is none. */
    void decides(String remedyThen) {
        decides(Remedy.inWords(remedyThen));
    }

    /** Notes that the answer hangs on the step written last, whatever came before. */
    void decidesInstead(String remedyThen) {
        deciding = -1;
        decides(remedyThen);
    }

    Remedy remedy() {
        return remedy;
    }

    void need(Need need) {
        if (!needs.contains(need)) {
            needs.add(need);
        }
    }

    void needs(List<Need> more) {
        more.forEach(this::need);
    }

    boolean hasDecided() {
        return deciding >= 0;
    }

    Trace close(WebAddress address, Fate fate) {
        List<Step> marked = new ArrayList<>();
        int decider = deciding < 0 ? steps.size() - 1 : deciding;
        for (int i = 0; i < steps.size(); i++) {
            Step step = steps.get(i);
            marked.add(new Step(step.at(), step.says(), step.because(), i == decider));
        }
        String said = why.isEmpty() ? steps.get(decider).says() : why;
        return new Trace(address, marked, fate.outcomes(), fate.open(), said, remedy.says(), needs, address.notes());
    }
}
