package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Trigger;

/** Reads a pipeline of the second repository host. Source: GitLab Docs, "CI/CD YAML syntax reference". */
final class GitlabPipeline {
    private static final Set<String> NOT_JOBS = Set.of(
            "stages",
            "variables",
            "default",
            "include",
            "workflow",
            "image",
            "services",
            "before_script",
            "after_script",
            "cache",
            "pages:deploy",
            "spec");
    private static final int DEEPEST = 10;

    private final Yaml root;
    private final PipelineText text;

    private GitlabPipeline(Yaml root, PipelineText text) {
        this.root = root;
        this.text = text;
    }

    static boolean isOne(Yaml root) {
        // One that only includes others says nothing of itself.
        return root.members().containsKey("include")
                || root.members().values().stream()
                        .anyMatch(job -> job.members().containsKey("script"));
    }

    static Pipeline read(Yaml root, PipelineText text, JobContext begin) {
        return new GitlabPipeline(root, text).pipeline(begin);
    }

    private Pipeline pipeline(JobContext begin) {
        Scope global = begin.scope().inner();
        global.set("CI_PROJECT_DIR", PipelineValue.of("."));
        Commands.setAll(global, root.scalars("variables"));
        root.find("include")
                .ifPresent(include -> begin.add(
                        new Operation.NotUnderstood("what is included is not in this file"),
                        include.line(),
                        "include"));
        List<Trigger> triggers = new ArrayList<>();
        for (Map.Entry<String, Yaml> entry : inStages()) {
            job(entry.getKey(), merged(entry.getValue(), 0), begin, global, triggers);
        }
        return new Pipeline(
                text.path(), Pipeline.Kind.GITLAB_PIPELINE, text, Optional.empty(), triggers, List.of(), begin.steps());
    }

    /** Returns the jobs in the order in which their stages run. */
    private List<Map.Entry<String, Yaml>> inStages() {
        List<String> stages =
                new ArrayList<>(root.each("stages").stream().map(Yaml::text).toList());
        if (stages.isEmpty()) {
            stages.addAll(List.of("build", "test", "deploy"));
        }
        List<Map.Entry<String, Yaml>> jobs = new ArrayList<>(root.members().entrySet().stream()
                .filter(entry ->
                        !NOT_JOBS.contains(entry.getKey()) && !entry.getKey().startsWith("."))
                .filter(entry -> !entry.getValue().members().isEmpty())
                .toList());
        jobs.sort(java.util.Comparator.comparingInt(entry ->
                stages.indexOf(merged(entry.getValue(), 0).scalar("stage").orElse("test"))));
        return jobs;
    }

    /** Puts in what a job takes over from others; what it says itself goes before. */
    private Yaml merged(Yaml job, int depth) {
        List<Yaml> bases = job.each("extends");
        if (bases.isEmpty() || depth > DEEPEST) {
            return job;
        }
        Map<String, Yaml> members = new LinkedHashMap<>();
        for (Yaml base : bases) {
            root.find(base.text())
                    .ifPresent(other -> members.putAll(merged(other, depth + 1).members()));
        }
        members.putAll(job.members());
        return new Yaml(job.line(), false, "", job.line(), members, List.of());
    }

    private void job(String name, Yaml job, JobContext begin, Scope global, List<Trigger> triggers) {
        Scope scope = global.inner();
        Commands.setAll(scope, job.scalars("variables"));
        JobContext here = begin.job(name, scope);
        if (job.find("trigger").isPresent()) {
            here.add(
                    new Operation.NotUnderstood("what the pipeline that is triggered does is not in this file"),
                    job.find("trigger").get().line(),
                    "trigger");
        }
        List<Yaml> lines = new ArrayList<>();
        lines.addAll(first(job, "before_script"));
        lines.addAll(job.each("script"));
        lines.addAll(first(job, "after_script"));
        for (Yaml line : lines) {
            if (line.isScalar()) {
                new Commands(here).script(line.text(), line.textLine());
            }
        }
        job.each("only").forEach(only -> triggers.add(new Trigger(only.text(), only.line())));
        job.each("rules").forEach(rule -> rule.scalar("if").ifPresent(condition -> {
            if (condition.contains("merge_request_event")) {
                triggers.add(new Trigger("merge_request_event", rule.line()));
            }
        }));
    }

    private List<Yaml> first(Yaml job, String part) {
        return job.find(part).isPresent()
                ? job.each(part)
                : root.find("default", part).isPresent() ? root.each("default", part) : root.each(part);
    }
}
