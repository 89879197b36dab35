package warden.core.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.Trigger;

/** Finds pipelines that run an outsider's code beside the publishing secrets. */
final class PipelineUntrustedTrigger implements PipelineCheck {
    private static final CheckCard CARD = new CheckCard(
            "pipeline-untrusted-trigger",
            Area.PIPELINE,
            Severity.HIGH,
            "code from outside can run with the publishing secrets",
            "pipeline-file",
            "Anyone who opens a pull request runs their own code with the credential that publishes the site.",
            "Build what comes from outside under a trigger without secrets (pull_request), and publish in another pipeline that only the main branch starts.",
            "GitHub Docs, \"Events that trigger workflows\"; \"Security hardening for GitHub Actions\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** Triggers that outsiders can set off, and that run with the repository's own secrets. */
    private static final Set<String> WITH_SECRETS = Set.of(
            "pull_request_target", "workflow_run", "issue_comment", "issues", "discussion", "discussion_comment");

    /** What a checkout names when it fetches the outsider's code. */
    private static final String OUTSIDERS_CODE =
            "(?s).*(pull_request\\.head|head_ref|workflow_run\\.head|event\\.number|pull_request\\.number|issue\\.number|refs/pull/).*";

    @Override
    public List<Verdict> examine(Subject subject) {
        Pipeline pipeline = subject.pipeline();
        List<Trigger> open = pipeline.triggers().stream()
                .filter(trigger -> WITH_SECRETS.contains(trigger.event()))
                .toList();
        List<Finding> findings = new ArrayList<>();
        if (!open.isEmpty()) {
            Set<String> jobsWithSecrets = pipeline.steps().stream()
                    .filter(step -> step.credential().isPresent())
                    .map(DeploymentStep::job)
                    .collect(Collectors.toSet());
            outsidersCheckout(pipeline, jobsWithSecrets).ifPresent(step -> {
                String says = "Whoever sets off " + open.get(0).event()
                        + " has their own code checked out and run beside the publishing secrets.";
                Finding finding =
                        subject.finding(CARD, open.get(0).line(), open.get(0).event(), says);
                findings.add(finding.restingOn(pipeline.cite(step)));
            });
        }
        return subject.verdicts(findings, false);
    }

    private static Optional<DeploymentStep> outsidersCheckout(Pipeline pipeline, Set<String> jobsWithSecrets) {
        return pipeline.steps().stream()
                .filter(step -> jobsWithSecrets.contains(step.job()))
                .filter(step -> (step.operation() instanceof Operation.Checkout checkout
                                && checkout.ref().matches(OUTSIDERS_CODE))
                        || (step.command().contains("git ") && step.command().matches(OUTSIDERS_CODE))
                        || step.command().contains("gh pr checkout"))
                .findFirst();
    }
}
