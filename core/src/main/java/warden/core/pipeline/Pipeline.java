package warden.core.pipeline;

import java.util.List;
import java.util.Optional;
import warden.core.survey.Citation;
import warden.core.survey.Need;

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
        AZURE_PIPELINE,
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

    /** True when some step works with another provider's tools, and none is known to work with this one's. */
    public boolean isOfOthersThan(String provider) {
        return steps.stream().anyMatch(step -> !step.mayBeOf(provider))
                && steps.stream().noneMatch(step -> step.provider().equals(provider));
    }

    /** True for a path that names this pipeline's file, from wherever it is given. */
    public boolean isAt(String path) {
        return isAt(subject, path);
    }

    /** True for a path that names the same file as a subject, from wherever it is given. */
    public static boolean isAt(String subject, String path) {
        return subject.equals(path) || subject.endsWith("/" + path);
    }

    /** True when a name stands in the text, and is not the end of a longer one. */
    public boolean mentions(String name) {
        String all = text.text();
        for (int at = all.indexOf(name); !name.isEmpty() && at >= 0; at = all.indexOf(name, at + 1)) {
            char before = at == 0 ? ' ' : all.charAt(at - 1);
            if (before != '.' && before != '-' && !Character.isLetterOrDigit(before)) {
                return true;
            }
        }
        return false;
    }

    /** Returns that the place in which a step works hangs on a variable. */
    public Need openPlace(DeploymentStep step, String what, PipelineValue name) {
        String variable = name.open().get(0);
        boolean isName = variable.matches("[A-Za-z_][A-Za-z0-9_.-]*");
        return new Need(
                aspect(),
                subject,
                "the " + what + " of line " + step.line() + " is the variable " + name
                        + (isName ? "; --set " + variable + "=VALUE tells it" : ""),
                "");
    }

    /** Says where a step stands: {@code publish.yml:31}. */
    public String place(DeploymentStep step) {
        return subject + (step.line() > 0 ? ":" + step.line() : "");
    }
}
