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
import warden.core.pipeline.Pipeline;

/** Finds pipelines that upload without having built or tested anything. */
final class PipelineDeploysUntested implements PipelineCheck {
    private static final CheckCard CARD = new CheckCard(
            "pipeline-deploys-untested",
            Area.PIPELINE,
            Severity.LOW,
            "nothing is built or tested before the upload, though the pipeline could",
            "pipeline-file, delivery-pipeline",
            "A page that is broken goes out as it is.",
            "Check the pages before the upload: links, markup, that the index is there.",
            "CodePipeline User Guide, \"Best practices and use cases for CodePipeline\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Pipeline pipeline = subject.pipeline();
        boolean isPipeline =
                pipeline.kind() != Pipeline.Kind.SHELL_SCRIPT && pipeline.kind() != Pipeline.Kind.PACKAGE_SCRIPTS;
        if (pipeline.uploads().isEmpty() || !isPipeline) {
            return List.of();
        }
        DeploymentStep first = pipeline.uploads().get(0);
        List<DeploymentStep> before =
                pipeline.steps().subList(0, pipeline.steps().indexOf(first));
        boolean prepared = before.stream()
                .anyMatch(step ->
                        step.operation() instanceof Operation.Build || step.operation() instanceof Operation.Test);
        boolean unclear = before.stream().anyMatch(step -> step.operation() instanceof Operation.NotUnderstood);
        // What another pipeline has finished may have been built and tested there.
        boolean fromOther = before.stream().anyMatch(step -> step.command().contains("download-artifact"))
                || pipeline.triggers().stream()
                        .anyMatch(trigger -> trigger.event().equals("workflow_run"));
        List<Finding> findings = new ArrayList<>();
        if (!prepared && !unclear && !fromOther) {
            findings.add(subject.finding(
                    CARD, first, "The pipeline uploads what it checked out, and builds or tests nothing before."));
        }
        return subject.verdicts(findings, !prepared);
    }
}
