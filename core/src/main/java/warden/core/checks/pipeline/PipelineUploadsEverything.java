package warden.core.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;

/** Finds uploads of the whole repository. */
final class PipelineUploadsEverything implements PipelineCheck {
    private static final CheckCard CARD = new CheckCard(
            "pipeline-uploads-everything",
            Area.PIPELINE,
            Severity.HIGH,
            "the folder uploaded is the repository itself, without excluding its history and settings",
            "pipeline-file",
            "The history, the settings and whatever else lies in the repository can be fetched from the site.",
            "Upload the folder that the build makes, or exclude .git, settings and sources.",
            "AWS CLI Command Reference, \"s3 sync\", options --exclude and --include");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final List<String> DELICATE =
            List.of(".git/config", ".git/HEAD", ".github/workflows/publish.yml", ".env");

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Finding> findings = new ArrayList<>();
        for (DeploymentStep step : subject.pipeline().steps()) {
            if (step.operation() instanceof Operation.Upload upload
                    && upload.many()
                    && isCheckedOut(subject, step)
                    && isRepository(upload.source().text())) {
                Optional<String> taken = DELICATE.stream().filter(upload::takes).findFirst();
                taken.ifPresent(path -> findings.add(subject.finding(
                        CARD,
                        step,
                        "The upload takes the repository itself, " + path.replaceFirst("/.*", "") + " and all.")));
            }
        }
        return subject.verdicts(findings, false);
    }

    /** A workflow's job begins in an empty folder until it checks the repository out; other hosts' begin in the repository. */
    private static boolean isCheckedOut(Subject subject, DeploymentStep upload) {
        return subject.pipeline().kind() != Pipeline.Kind.GITHUB_WORKFLOW
                || subject.pipeline().steps().stream()
                        .anyMatch(step ->
                                step.job().equals(upload.job()) && step.operation() instanceof Operation.Checkout);
    }

    private static boolean isRepository(String source) {
        String plain = source.endsWith("/") ? source.substring(0, source.length() - 1) : source;
        return List.of(
                        ".",
                        "./.",
                        "*",
                        "./*",
                        "$PWD",
                        "$(pwd)",
                        "$GITHUB_WORKSPACE",
                        "$CI_PROJECT_DIR",
                        "$WORKSPACE",
                        "$CODEBUILD_SRC_DIR",
                        "$(Build.SourcesDirectory)",
                        "$(System.DefaultWorkingDirectory)",
                        "${{ Build.SourcesDirectory }}",
                        "${{ System.DefaultWorkingDirectory }}",
                        "$BUILD_SOURCESDIRECTORY")
                .contains(plain);
    }
}
