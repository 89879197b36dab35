package warden.core.pipeline;

import java.util.List;
import java.util.Optional;
import warden.core.survey.Citation;

/**
 * One pipeline as its file, or its description in the account, tells it.
 *
 * @param subject the file's path, or the delivery pipeline's ARN
 * @param problem why it could not be read; absent when it could
 * @param triggers what starts it; empty when the file does not tell
 * @param tokenScopes the rights of its own token that it names; empty when it names none
 */
public record Pipeline(
        String subject,
        Kind kind,
        PipelineText text,
        Optional<Problem> problem,
        List<Trigger> triggers,
        List<TokenScope> tokenScopes,
        List<DeploymentStep> steps) {
    /** What kind of file it is. */
    public enum Kind {
        GITHUB_WORKFLOW,
        GITLAB_PIPELINE,
        BUILD_SPECIFICATION,
        JENKINS_PIPELINE,
        DELIVERY_PIPELINE,
        PACKAGE_SCRIPTS,
        SHELL_SCRIPT,
        /** Something that is no pipeline that we know. */
        OTHER
    }

    /** What kept the file from being read, and at which line, counted from 1. */
    public record Problem(int line, String says) {}

    public Pipeline {
        triggers = List.copyOf(triggers);
        tokenScopes = List.copyOf(tokenScopes);
        steps = List.copyOf(steps);
    }

    /** Returns a pipeline that could not be read. */
    public static Pipeline unreadable(PipelineText text, Kind kind, int line, String says) {
        return new Pipeline(
                text.path(), kind, text, Optional.of(new Problem(line, says)), List.of(), List.of(), List.of());
    }

    /** Returns the aspect of a survey under which such a pipeline is read. */
    public String aspect() {
        return kind == Kind.DELIVERY_PIPELINE ? "delivery-pipeline" : "pipeline-file";
    }

    /** Cites a step. */
    public Citation cite(DeploymentStep step) {
        return text.cite(step.line(), step.command());
    }

    /** Cites a line, counted from 1. */
    public Citation cite(int line) {
        List<String> lines = text.lines();
        return text.cite(
                line, line >= 1 && line <= lines.size() ? lines.get(line - 1).strip() : "");
    }

    /** Returns the uploads, in the order of the file. */
    public List<DeploymentStep> uploads() {
        return steps.stream()
                .filter(step -> step.operation() instanceof Operation.Upload)
                .toList();
    }

    /** Returns the steps that could not be understood. */
    public List<DeploymentStep> notUnderstood() {
        return steps.stream()
                .filter(step -> step.operation() instanceof Operation.NotUnderstood)
                .toList();
    }

    /** True when some step is an invalidation. */
    public boolean invalidates() {
        return steps.stream().anyMatch(step -> step.operation() instanceof Operation.Invalidate);
    }

    /** Says where a step stands: {@code publish.yml:31}. */
    public String place(DeploymentStep step) {
        return subject + (step.line() > 0 ? ":" + step.line() : "");
    }
}
