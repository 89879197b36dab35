package warden.core.mend;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.audit.Audit;
import warden.core.audit.Check;
import warden.core.audit.Finding;
import warden.core.document.JsonEdit;
import warden.core.document.JsonSpelling;
import warden.core.mend.Proposal.ByHand;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;

/** Tries changes of pipelines' files after the steps, one finding after the other, and keeps those that end it and bring up nothing. */
final class Rewriting {
    private final Audit start;
    private final List<Check> checks;
    private final Planner.Opening opening;
    private final boolean hasSteps;
    private final Map<String, List<Finding>> ended = new LinkedHashMap<>();
    private List<Survey> surveys;
    private Audit audit;
    private Map<String, String> texts = new LinkedHashMap<>();

    /**
     * Makes ready.
     *
     * @param start the audit of what was surveyed
     * @param surveys as they would be after the steps
     * @param audit of these; the same as {@code start} where there are no steps
     */
    Rewriting(Audit start, List<Check> checks, Planner.Opening opening, List<Survey> surveys, Audit audit) {
        this.start = start;
        this.checks = checks;
        this.opening = opening;
        this.surveys = surveys;
        this.audit = audit;
        this.hasSteps = start != audit;
    }

    /** Tries to end a finding; returns what to say about it instead where it only can be ended without the steps. */
    Optional<ByHand> attempt(Finding finding) {
        Optional<PipelineEdits.Rewritten> rewritten = PipelineEdits.of(audit.context(), finding);
        if (rewritten.isEmpty()) {
            return Optional.empty();
        }
        String path = rewritten.get().pipeline().subject();
        Map<String, String> more = new LinkedHashMap<>(texts);
        more.put(path, rewritten.get().text());
        List<Survey> written = surveys.stream()
                .map(survey -> with(survey, path, rewritten.get().text()))
                .toList();
        Audit after = Audit.of(opening.of(written, more), checks, card -> true);
        if (isBetter(finding, audit, after)) {
            surveys = written;
            audit = after;
            texts = more;
            ended.computeIfAbsent(path, key -> new ArrayList<>()).add(finding);
            return Optional.empty();
        }
        // The steps are made for the pipeline as it is; with another they would be others.
        return hasSteps && isBetterAlone(finding)
                ? Optional.of(new ByHand(
                        "the steps are made for the pipeline as it is",
                        "Mend the pipeline first (--only " + finding.card().id()
                                + " writes its patch), and then the rest. " + finding.remedy(),
                        List.of()))
                : Optional.empty();
    }

    /** A text that changes moves what is said of it, so that findings are told apart by check and subject here. */
    static boolean isBetter(Finding finding, Audit before, Audit after) {
        Map<String, Long> were = byQuestion(before);
        Map<String, Long> are = byQuestion(after);
        String question = question(finding);
        return are.getOrDefault(question, 0L) < were.getOrDefault(question, 0L)
                && Planner.unknown(after, finding).isEmpty()
                && are.entrySet().stream().allMatch(each -> each.getValue() <= were.getOrDefault(each.getKey(), 0L))
                && Planner.questions(before).containsAll(Planner.questions(after));
    }

    static String question(Finding finding) {
        return finding.card().id() + "\n" + finding.subject() + "\n" + finding.severity();
    }

    private static Map<String, Long> byQuestion(Audit audit) {
        return Stream.concat(audit.findings().stream(), audit.waived().stream().map(Audit.Waived::finding))
                .collect(Collectors.groupingBy(Rewriting::question, Collectors.counting()));
    }

    private boolean isBetterAlone(Finding finding) {
        List<Survey> surveyed = start.context().surveys();
        return PipelineEdits.of(start.context(), finding)
                .map(each -> opening.of(surveyed, Map.of(each.pipeline().subject(), each.text())))
                .filter(context -> isBetter(finding, start, Audit.of(context, checks, card -> true)))
                .isPresent();
    }

    private static Survey with(Survey survey, String path, String text) {
        return survey.reading("pipeline-file", path)
                .found()
                .map(answer -> survey.with(new SurveyLine(
                        survey.header().file(),
                        1,
                        "pipeline-file",
                        path,
                        "",
                        SurveyLine.Outcome.FOUND,
                        JsonEdit.set(JsonSpelling.of(answer), "/Text", JsonSpelling.quoted(text)))))
                .orElse(survey);
    }

    /** Returns the surveys as they would be with what was kept. */
    List<Survey> surveys() {
        return surveys;
    }

    /** Returns their audit. */
    Audit audit() {
        return audit;
    }

    /** True for a finding that a kept change ends. */
    boolean ends(Finding finding) {
        return ended.values().stream().anyMatch(findings -> findings.contains(finding));
    }

    /** True for a pipeline whose file a kept change is of. */
    boolean rewrites(String pipeline) {
        return ended.containsKey(pipeline);
    }

    /** Returns the kept changes, one for each file. */
    List<Plan.Patch> patches() {
        List<Plan.Patch> patches = new ArrayList<>();
        ended.forEach((path, findings) -> start.context().pipelines().stream()
                .filter(pipeline -> pipeline.subject().equals(path))
                .findFirst()
                .ifPresent(pipeline ->
                        patches.add(new Plan.Patch(path, pipeline.text().text(), texts.get(path), findings))));
        return patches;
    }
}
