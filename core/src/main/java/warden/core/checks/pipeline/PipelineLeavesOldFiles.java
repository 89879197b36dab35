package warden.core.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;

/** Finds pipelines that never delete what is gone. */
final class PipelineLeavesOldFiles implements PipelineCheck {
    private static final CheckCard CARD = new CheckCard(
            "pipeline-leaves-old-files",
            Area.PIPELINE,
            Severity.LOW,
            "never deletes what is gone",
            "pipeline-file",
            "Pages that were taken back can still be fetched, and the bucket grows with each build.",
            "Let the upload delete what the build does not make any more, once versioning is on.",
            "AWS CLI Command Reference, \"s3 sync\", option --delete");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<DeploymentStep> uploads = subject.pipeline().uploads().stream()
                .filter(step -> ((Operation.Upload) step.operation()).many())
                .toList();
        if (uploads.isEmpty()) {
            return List.of();
        }
        boolean removes = subject.pipeline().steps().stream()
                .anyMatch(step -> step.operation() instanceof Operation.Remove
                        || (step.operation() instanceof Operation.Upload upload && upload.deletes()));
        List<Finding> findings = new ArrayList<>();
        if (!removes && subject.pipeline().notUnderstood().isEmpty()) {
            findings.add(subject.finding(
                    CARD,
                    uploads.get(0),
                    "The pipeline uploads and never deletes what the new version does not have."));
        }
        return subject.verdicts(findings, !removes);
    }
}
