package warden.report;

import java.util.List;
import java.util.stream.Stream;
import warden.core.audit.Finding;
import warden.core.mend.Choice.Answer;
import warden.core.mend.Plan;
import warden.core.mend.Plans;
import warden.core.mend.Proposal;
import warden.core.mend.Step;
import warden.core.mend.StepProof;

/** A plan and its proof as JSON, after {@code docs/schema/proof.schema.json}. */
public final class MendJson {
    private MendJson() {}

    /** Returns the document of a plan, with what is to be chosen. */
    public static String of(Plans plans) {
        return Json.document(json -> {
            plan(json, plans.plan());
            if (!plans.choices().isEmpty()) {
                json.objects("choices", plans.choices(), choice -> {
                    json.text("site", choice.site().name());
                    json.object("finding", () -> finding(json, choice.finding()));
                    json.text("ifOpen", choice.pattern(Answer.OPEN).word());
                    json.text("ifSealed", choice.pattern(Answer.SEALED).word());
                });
                json.texts(
                        "folders",
                        Stream.of(Answer.values())
                                .filter(plans.answers()::containsKey)
                                .map(Answer::folder)
                                .toList());
            }
        });
    }

    /** Returns the document of a plan. */
    static String of(Plan plan) {
        return Json.document(json -> plan(json, plan));
    }

    private static void plan(Json json, Plan plan) {
        json.number("proof", 1)
                .text("at", plan.start().context().at().toString())
                .texts("survey", plan.start().context().surveyFiles())
                .objects("steps", plan.steps(), step -> step(json, step))
                .objects("mended", plan.mended(), mended -> {
                    json.object("finding", () -> finding(json, mended.finding()));
                    json.numbers("steps", mended.steps());
                })
                .objects("patches", plan.patches(), patch -> json.text("path", patch.path())
                        .text("patch", MendFiles.patchFile(plan, patch))
                        .objects("ends", patch.findings(), finding -> finding(json, finding)))
                .objects("byHand", plan.left(), left -> {
                    json.object("finding", () -> finding(json, left.finding()));
                    byHand(json, left.byHand());
                })
                .texts("closed", List.copyOf(plan.closed()))
                .texts("allowed", List.copyOf(plan.allowed()));
    }

    private static void step(Json json, Step step) {
        StepProof proof = step.proof();
        String folder = "steps/" + step.folder() + "/";
        json.number("n", step.number())
                .text("name", step.change().name())
                .text("says", step.edited().title())
                .text("account", step.change().account())
                .text("subject", step.edited().subject())
                .text("call", step.edited().apply().name())
                .text("before", step.edited().before().map(text -> folder + "before.json"))
                .text("after", step.edited().after().map(text -> folder + "after.json"))
                .truth("undoable", step.edited().undo().isPresent())
                .texts("strangers", proof.gained())
                .texts("visits", proof.visits())
                .truth("publishers", proof.lacking().isEmpty());
    }

    private static void finding(Json json, Finding finding) {
        json.text("check", finding.card().id())
                .text("severity", finding.severity().word())
                .text("subject", finding.subject())
                .text("site", finding.site())
                .text("fingerprint", finding.fingerprint())
                .text("says", finding.says());
    }

    private static void byHand(Json json, Proposal.ByHand byHand) {
        json.text("why", byHand.why()).text("do", byHand.todo()).needs(byHand.needs());
    }
}
