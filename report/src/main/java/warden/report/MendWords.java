package warden.report;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.document.DisplayText;
import warden.core.mend.Plan;
import warden.core.mend.Plans;
import warden.core.mend.Step;

/** How a plan is told, on a screen and on its page. */
final class MendWords {
    private MendWords() {}

    /** Returns what the plan comes to, a sentence. */
    static String verdict(Plan plan) {
        int patched = plan.patches().stream()
                .mapToInt(patch -> patch.findings().size())
                .sum();
        int found = plan.mended().size() + plan.left().size() + patched;
        if (found == 0) {
            return "There is nothing to mend.";
        }
        if (plan.steps().isEmpty() && patched == 0) {
            return "Nothing can be mended by a change of settings that is proven; "
                    + Lines.count(plan.left().size(), "finding") + " "
                    + (plan.left().size() == 1 ? "is" : "are")
                    + " left to a person.";
        }
        List<String> means = new ArrayList<>();
        if (!plan.steps().isEmpty()) {
            means.add(Lines.count(plan.steps().size(), "step"));
        }
        if (patched > 0) {
            means.add(Lines.count(plan.patches().size(), "patch").replace("patchs", "patches"));
        }
        boolean isOne = plan.steps().size() + plan.patches().size() == 1;
        return String.join(" and ", means) + (isOne ? " ends " : " end ")
                + (plan.mended().size() + patched) + " of "
                + Lines.count(found, "finding") + "; " + plan.left().size() + " "
                + (plan.left().size() == 1 ? "is" : "are") + " left to a person.";
    }

    /** Returns what has to be decided, and what there is for each answer. */
    static String choice(Plans plans) {
        long sites = plans.choices().stream()
                .map(choice -> choice.site().name())
                .distinct()
                .count();
        String what = "Whether visitors are meant to read the bucket themselves is not stated for "
                + Lines.count((int) sites, "site") + ". ";
        return what
                + (plans.answers().isEmpty()
                        ? "Not both answers can be proven; the steps here let nobody in."
                        : "The steps here take it as not meant; if-open and if-sealed each hold a whole plan instead, with a patch that states the"
                                + " answer in the site file. Apply one of them, and only one"
                                + (sites > 1 ? "; where the sites differ, mend each with --site." : "."));
    }

    /** Returns what was proven, a sentence each. */
    static List<String> proven(Plan plan) {
        List<String> lines = new ArrayList<>();
        lines.add(
                "After every step, not only the last: nobody outside can do anything that they could not do before"
                        + (plan.allowed().isEmpty() ? "" : ", but for what is meant (below)")
                        + "; every address of the sites that answered well answers as well; publishers lack nothing that they had.");
        lines.add("At the end: the findings are gone, none is new, and nothing that was known has become unknown.");
        return lines;
    }

    /** Returns what ends a finding, such as {@code steps 3, 4}. */
    static String by(Plan.Mended mended) {
        if (mended.steps().isEmpty()) {
            return "ends with the others";
        }
        return (mended.steps().size() == 1 ? "step " : "steps ")
                + mended.steps().stream().map(Object::toString).collect(Collectors.joining(", "));
    }

    /** Returns the steps that cannot be taken back as they were, a sentence each. */
    static List<String> lasting(Plan plan) {
        List<String> lasting = new ArrayList<>();
        for (Step step : plan.steps()) {
            Optional<String> undo = step.edited().undo().flatMap(call -> call.file());
            boolean isOther = undo.isPresent()
                    && step.edited().before().isPresent()
                    && !undo.equals(step.edited().before())
                    && step.edited()
                            .apply()
                            .name()
                            .equals(step.edited().undo().orElseThrow().name())
                    && step.edited().apply().file().equals(step.edited().after());
            if (step.edited().undo().isEmpty()) {
                lasting.add("Step " + step.number() + " cannot be undone.");
            } else if (step.edited().remade().isPresent()) {
                lasting.add("Step " + step.number() + " takes "
                        + step.edited().remade().get().id()
                        + " away; undoing it makes one of the same settings under another identifier.");
            } else if (isOther) {
                lasting.add(
                        "Step " + step.number()
                                + " is undone as far as the service lets it: versioning that was never on can only be suspended.");
            }
        }
        return lasting;
    }

    /** Returns a step as a person reads it. */
    static String step(Step step) {
        return DisplayText.clean(step.edited().title());
    }
}
