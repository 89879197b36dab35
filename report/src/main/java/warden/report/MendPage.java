package warden.report;

import java.util.List;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import warden.core.audit.Finding;
import warden.core.mend.Choice;
import warden.core.mend.Choice.Answer;
import warden.core.mend.Plan;
import warden.core.mend.Plans;
import warden.core.mend.Step;
import warden.core.survey.Need;

/** A plan as a page in Markdown, for the person who applies it. Source of the form: CommonMark 0.31. */
final class MendPage {
    private final StringBuilder out = new StringBuilder();
    private final Names names;

    private MendPage(Plan plan) {
        this.names = new Names(plan.start().context().clouds());
    }

    /** Returns the page of the plan for what is stated, which says what decides where something is not. */
    static String of(Plans plans) {
        return page(plans.plan(), page -> page.choices(plans));
    }

    /** Returns the page of a plan. */
    static String of(Plan plan) {
        return page(plan, page -> {});
    }

    private static String page(Plan plan, Consumer<MendPage> first) {
        MendPage page = new MendPage(plan);
        page.line("# What to change, and in which order");
        page.line("");
        page.line(escaped("As of " + plan.start().context().at() + ", from "
                + String.join(", ", plan.start().context().surveyFiles()) + ". " + MendWords.verdict(plan)));
        page.line("");
        first.accept(page);
        if (!plan.steps().isEmpty()) {
            page.proof(plan);
            page.steps(plan);
            page.howTo(plan);
        }
        page.patches(plan);
        page.mended(plan);
        page.left(plan);
        return page.out.toString();
    }

    private void line(String text) {
        out.append(text).append('\n');
    }

    /** Names from outside must not be taken for marks of the page, nor for HTML. */
    private static String escaped(String text) {
        return Lines.brief(text).replaceAll("[\\\\`*_\\[\\]<>|#]", "\\\\$0");
    }

    private void choices(Plans plans) {
        if (plans.choices().isEmpty()) {
            return;
        }
        line("## What you have to decide");
        line("");
        line(escaped(MendWords.choice(plans)));
        line("");
        for (Choice choice : plans.choices()) {
            line("- " + told(choice.finding()));
            line("  - If visitors are meant to read it so: `pattern: "
                    + choice.pattern(Answer.OPEN).word() + "` for the site "
                    + escaped(choice.site().name()));
            line("  - If only the edge is meant to read it: `pattern: "
                    + choice.pattern(Answer.SEALED).word() + "`");
        }
        line("");
        for (Answer answer : Answer.values()) {
            Plan plan = plans.answers().get(answer);
            if (plan != null) {
                line("- `" + answer.folder() + "`: " + escaped(MendWords.verdict(plan)));
            }
            String obstacle = plans.obstacles().get(answer);
            if (obstacle != null) {
                line("- There is no plan " + answer.folder() + ": " + escaped(obstacle) + ".");
            }
        }
        line("");
    }

    private void proof(Plan plan) {
        line("## What was proven");
        line("");
        MendWords.proven(plan).forEach(says -> line("- " + escaped(says)));
        line("- What visitors and publishers notice: nothing.");
        plan.allowed().forEach(says -> line("- Meant: " + escaped(says) + "."));
        plan.closed().forEach(url -> line("- Closed by design, since no site uses it: " + escaped(url)));
        line("");
        line(
                "It was proven on a copy of the survey: what the survey does not hold, or what was changed since, it does not speak of. "
                        + "`proof.json` has it for programs, and the survey as it would be lies beside it.");
        line("");
    }

    private void steps(Plan plan) {
        line("## The steps");
        line("");
        for (Step step : plan.steps()) {
            line(step.number() + ". " + escaped(MendWords.step(step)) + ".");
            String calls =
                    step.edited().program().name() + " " + step.edited().apply().name();
            String ends = plan.mended().stream()
                    .filter(mended -> mended.steps().contains(step.number()))
                    .map(mended -> mended.finding().card().id())
                    .distinct()
                    .collect(Collectors.joining(", "));
            line("   `" + calls + "`, documents in `steps/" + step.folder() + "`"
                    + (ends.isEmpty() ? "" : "; for " + ends) + ".");
        }
        line("");
    }

    private void howTo(Plan plan) {
        List<String> programs = plan.steps().stream()
                .map(step -> step.edited().program().name())
                .distinct()
                .toList();
        line("## How to apply it");
        line("");
        line(
                "`./apply.sh --dry-run` prints the calls, `./apply.sh` makes them with the official command line ("
                        + String.join(", ", programs)
                        + ") and the credentials of the shell. Before each step it reads the document again, and stops where that is no longer what was surveyed;"
                        + " so a change that somebody made meanwhile is not written over. Stopped or interrupted, it is started again and goes on.");
        line("");
        List<String> accounts = plan.steps().stream()
                .map(step -> step.change().account())
                .distinct()
                .sorted()
                .toList();
        if (accounts.size() > 1) {
            line(
                    "The steps are made in the accounts " + escaped(String.join(", ", accounts))
                            + ". The script stops where the credentials are of another than the next steps need; started again with the other's, it goes on.");
            line("");
        }
        line(
                "Where the service gives documents a version tag (distributions, controls), the change is bound to it. Elsewhere a moment lies between reading and writing.");
        line("");
        line("## How to take it back");
        line("");
        line("`./undo.sh` takes the steps back, the last one first, in the same way.");
        line("");
        MendWords.lasting(plan).forEach(says -> line("- " + escaped(says)));
        line("");
    }

    private String told(Finding finding) {
        return "**" + finding.severity().word() + "** " + escaped(names.of(finding.subject())) + ": "
                + escaped(finding.says()) + " (" + finding.card().id() + ")";
    }

    private void mended(Plan plan) {
        if (plan.mended().isEmpty()) {
            return;
        }
        line("## What is mended");
        line("");
        plan.mended().forEach(mended -> line("- " + told(mended.finding()) + " — " + MendWords.by(mended)));
        line("");
    }

    private void patches(Plan plan) {
        if (plan.patches().isEmpty()) {
            return;
        }
        line("## Patches");
        line("");
        line("Changes of your own files, each proven like the steps, after them. `git apply` takes them.");
        line("");
        for (Plan.Patch patch : plan.patches()) {
            line("- `" + MendFiles.patchFile(plan, patch) + "` changes " + escaped(patch.path())
                    + (patch.findings().isEmpty() ? ": it states what was decided." : ":"));
            patch.findings().forEach(finding -> line("  - " + told(finding)));
        }
        line("");
    }

    private void left(Plan plan) {
        if (plan.left().isEmpty()) {
            return;
        }
        line("## What is left to do by hand");
        line("");
        for (Plan.Left left : plan.left()) {
            line("- " + told(left.finding()));
            line("  - Why: " + escaped(left.byHand().why()) + ".");
            line("  - Do: " + escaped(left.byHand().todo()));
            for (Need need : left.byHand().needs()) {
                line("  - To settle it, read: " + escaped(need.aspect() + " of " + need.of())
                        + (need.permission().isEmpty() ? "" : " (" + escaped(need.permission()) + ")"));
            }
        }
        line("");
    }
}
