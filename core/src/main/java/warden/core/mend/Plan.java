package warden.core.mend;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.survey.Survey;

/**
 * Steps that were proven, in their order, and what they do about the findings.
 *
 * @param start the audit of what was surveyed
 * @param end the audit of the state after the last step
 * @param steps may be none
 * @param mended the findings that are gone afterwards
 * @param left the findings that only a person can end, the worst first
 * @param patches changes of the owner's files: pipelines, the site file
 * @param after the surveys as they would be, in the order of those that were given
 */
public record Plan(
        Audit start,
        Audit end,
        List<Step> steps,
        List<Patch> patches,
        List<Mended> mended,
        List<Left> left,
        List<Survey> after) {
    public Plan {
        steps = List.copyOf(steps);
        patches = List.copyOf(patches);
        mended = List.copyOf(mended);
        left = List.copyOf(left);
        after = List.copyOf(after);
    }

    /** Returns the same plan with one more patch, before the others. */
    Plan with(Patch patch) {
        List<Patch> all = new ArrayList<>(List.of(patch));
        all.addAll(patches);
        return new Plan(start, end, steps, all, mended, left, after);
    }

    /**
     * A change of a file that is the owner's.
     *
     * @param path as it was given, or as the survey names it
     * @param before empty where there is no such file yet
     * @param findings those that it ends
     */
    public record Patch(String path, String before, String after, List<Finding> findings) {
        public Patch {
            findings = List.copyOf(findings);
        }
    }

    /**
     * A finding that is gone afterwards.
     *
     * @param steps the numbers of the steps that end it, from 1; none where a patch does, or it ends with others
     */
    public record Mended(Finding finding, List<Integer> steps) {
        public Mended {
            steps = List.copyOf(steps);
        }
    }

    /** A finding that is left, and what to do about it. */
    public record Left(Finding finding, Proposal.ByHand byHand) {}

    /** Returns the direct addresses of storage and edge that gave a page and give none afterwards. */
    public Set<String> closed() {
        Set<String> closed = new LinkedHashSet<>();
        steps.forEach(step -> closed.addAll(step.proof().closed()));
        return closed;
    }

    /** Returns what somebody outside gains because it is meant, over all steps. */
    public Set<String> allowed() {
        Set<String> allowed = new LinkedHashSet<>();
        steps.forEach(step -> allowed.addAll(step.proof().allowed()));
        return allowed;
    }
}
