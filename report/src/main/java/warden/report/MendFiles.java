package warden.report;

import com.github.difflib.DiffUtils;
import com.github.difflib.UnifiedDiffUtils;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.mend.Call;
import warden.core.mend.Choice.Answer;
import warden.core.mend.Plan;
import warden.core.mend.Plans;
import warden.core.mend.Step;
import warden.core.survey.Survey;
import warden.core.survey.SurveyWriter;

/** The files of a plan, by their paths within its folder. */
public final class MendFiles {
    private static final int CONTEXT_LINES = 3;

    private MendFiles() {}

    /** Returns them; the plans of both answers, where there are such, in folders of their own. */
    public static Map<String, String> of(Plans plans) {
        Map<String, String> files = new LinkedHashMap<>();
        files.put("README.md", MendPage.of(plans));
        files.put("proof.json", MendJson.of(plans));
        put(plans.plan(), files);
        for (Answer answer : Answer.values()) {
            Plan plan = plans.answers().get(answer);
            if (plan != null) {
                Map<String, String> own = new LinkedHashMap<>();
                own.put("README.md", MendPage.of(plan));
                own.put("proof.json", MendJson.of(plan));
                put(plan, own);
                own.forEach((path, text) -> files.put(answer.folder() + "/" + path, text));
            }
        }
        return files;
    }

    /** True for what the next command reads, which has to stay word for word. */
    public static boolean isDocument(String path) {
        return path.startsWith("steps/")
                || path.contains("/steps/")
                || path.endsWith(".ndjson")
                || path.endsWith(".patch");
    }

    /** Puts in a plan's own; where nothing is to be done, without steps and scripts. */
    private static void put(Plan plan, Map<String, String> files) {
        if (!plan.steps().isEmpty()) {
            files.put("apply.sh", MendScript.apply(plan));
            files.put("undo.sh", MendScript.undo(plan));
            plan.steps().forEach(step -> documents(step, files));
        }
        for (int i = 0; i < plan.patches().size(); i++) {
            files.put(
                    patchFile(plan, plan.patches().get(i)), patch(plan.patches().get(i)));
        }
        for (Survey survey : plan.after()) {
            files.put(afterFile(plan, survey), survey(survey));
        }
    }

    /** Returns the path of a survey as it would be. */
    static String afterFile(Plan plan, Survey survey) {
        return plan.after().size() == 1
                ? "after.ndjson"
                : "after/" + survey.header().account().replaceAll("[^A-Za-z0-9-]", "-") + ".ndjson";
    }

    /** Returns the path of a patch: its place among them, and the name of the file that it changes. */
    static String patchFile(Plan plan, Plan.Patch patch) {
        String name = patch.path().replaceAll("[^A-Za-z0-9.-]+", "-").replaceFirst("^[.-]+", "");
        return String.format(
                Locale.ROOT, "patches/%02d-%s.patch", plan.patches().indexOf(patch) + 1, name);
    }

    /** Returns a unified diff, as {@code git apply} takes it. */
    private static String patch(Plan.Patch patch) {
        List<String> before = patch.before().lines().toList();
        List<String> after = patch.after().lines().toList();
        // Within a diff a path is never an absolute one.
        String path = patch.path().replaceFirst("^/+", "");
        return String.join(
                        "\n",
                        UnifiedDiffUtils.generateUnifiedDiff(
                                before.isEmpty() ? "/dev/null" : "a/" + path,
                                "b/" + path,
                                before,
                                DiffUtils.diff(before, after),
                                CONTEXT_LINES))
                + "\n";
    }

    /** True for what is to be run. */
    public static boolean isScript(String path) {
        return path.endsWith(".sh");
    }

    private static void documents(Step step, Map<String, String> files) {
        String folder = "steps/" + step.folder() + "/";
        step.edited().before().ifPresent(text -> files.put(folder + "before.json", pretty(text)));
        step.edited().after().ifPresent(text -> files.put(folder + "after.json", pretty(text)));
        step.edited().apply().file().ifPresent(text -> files.putIfAbsent(folder + callFile(step, false), pretty(text)));
        step.edited()
                .undo()
                .flatMap(Call::file)
                .ifPresent(text -> files.putIfAbsent(folder + callFile(step, true), pretty(text)));
    }

    /** Returns the name of the file that a step's call takes: the document itself, or one that is made for the call. */
    static String callFile(Step step, boolean undoes) {
        Optional<String> document =
                undoes ? step.edited().before() : step.edited().after();
        Optional<String> file =
                (undoes ? step.edited().undo() : Optional.of(step.edited().apply())).flatMap(Call::file);
        return file.equals(document) ? (undoes ? "before.json" : "after.json") : (undoes ? "undo.json" : "apply.json");
    }

    private static String pretty(String json) {
        JsonPart root = JsonReader.read(json).root().orElseThrow();
        return Json.part(root);
    }

    private static String survey(Survey survey) {
        return SurveyWriter.text(survey.header(), survey.lines());
    }
}
