package warden.core.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;

/** Finds steps of others that are named by something movable and see the secrets. */
final class PipelineUnpinnedStep implements PipelineCheck {
    private static final CheckCard CARD = new CheckCard(
            "pipeline-unpinned-step",
            Area.PIPELINE,
            Severity.MEDIUM,
            "a third-party step named by a movable tag or branch receives the secrets",
            "pipeline-file",
            "Whoever takes over that step's repository moves the tag and reads the publishing credential.",
            "Name the step by the whole commit hash, with the version in a comment.",
            "GitHub Docs, \"Security hardening for GitHub Actions\", section \"Using third-party actions\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** Owners whose steps are the host's or the provider's own. */
    private static final Set<String> OWN = Set.of("actions", "github", "aws-actions", "azure");

    @Override
    public List<Verdict> examine(Subject subject) {
        Set<String> jobsWithSecrets = subject.pipeline().steps().stream()
                .filter(step -> step.credential().isPresent())
                .map(DeploymentStep::job)
                .collect(Collectors.toSet());
        Set<String> ours = owners(subject);
        List<Finding> findings = new ArrayList<>();
        for (DeploymentStep step : subject.pipeline().steps()) {
            if (step.operation() instanceof Operation.Reusable reusable
                    && (reusable.receivesSecrets() || jobsWithSecrets.contains(step.job()))
                    && !reusable.isPinned()
                    && !OWN.contains(owner(reusable.name()))
                    && !ours.contains(owner(reusable.name()))) {
                String says = "The step " + reusable.name() + " of others is named by "
                        + (reusable.version().isEmpty()
                                ? "no version at all"
                                : "\"" + reusable.version() + "\", which can be moved,")
                        + (reusable.receivesSecrets()
                                ? " and is given secrets."
                                : " and runs in the job that has the publishing secrets.");
                findings.add(subject.finding(CARD, step, says));
            }
        }
        return subject.verdicts(findings, false);
    }

    private static Set<String> owners(Subject subject) {
        return subject.context().clouds().stream()
                .flatMap(cloud -> subject.context().publishing(cloud).repositoryOwners().stream())
                .collect(Collectors.toSet());
    }

    private static String owner(String name) {
        int slash = name.indexOf('/');
        return (slash < 0 ? name : name.substring(0, slash)).toLowerCase(Locale.ROOT);
    }
}
