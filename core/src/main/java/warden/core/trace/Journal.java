package warden.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.trace.Step.At;

/** Collects the steps while a request is followed, and which of them decided. */
public final class Journal {
    private final boolean triesRemedies;

    public Journal(boolean triesRemedies) {
        this.triesRemedies = triesRemedies;
    }

    public boolean triesRemedies() {
        return triesRemedies;
    }

    private final List<Step> steps = new ArrayList<>();
    private final List<Need> needs = new ArrayList<>();
    private int deciding = -1;
    private String why = "";
    private Remedy remedy = Remedy.NONE;

    public void step(At at, String says, Citation... because) {
        steps.add(new Step(at, says, List.of(because), false));
    }

    public void step(At at, String says, Optional<Citation> because) {
        steps.add(new Step(at, says, because.stream().toList(), false));
    }

    public void step(At at, String says, List<Citation> because) {
        steps.add(new Step(at, says, because.stream().limit(3).toList(), false));
    }

    /** Notes that the answer hangs on the step written last, unless an earlier one decided already. */
    public void decides(Remedy remedyThen) {
        if (deciding < 0) {
            deciding = steps.size() - 1;
            why = steps.get(deciding).says();
            remedy = remedyThen;
        }
    }

    /** As above, where no survey can show what comes of the remedy, or where there is none. */
    public void decides(String remedyThen) {
        decides(Remedy.inWords(remedyThen));
    }

    /** Notes that what decided so far does not: something else is asked instead. */
    public void decidesNothing() {
        deciding = -1;
        why = "";
        remedy = Remedy.NONE;
    }

    /** Notes that the answer hangs on the step written last, whatever came before. */
    public void decidesInstead(String remedyThen) {
        deciding = -1;
        decides(remedyThen);
    }

    public Remedy remedy() {
        return remedy;
    }

    public void need(Need need) {
        if (!needs.contains(need)) {
            needs.add(need);
        }
    }

    public void needs(List<Need> more) {
        more.forEach(this::need);
    }

    public Trace close(WebAddress address, OutcomeSet fate) {
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
