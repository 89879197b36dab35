package warden.core.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.pipeline.TokenScope;

/** Finds pipelines whose own token may write where they only read. */
final class PipelineTokenTooWide implements PipelineCheck {
    private static final CheckCard CARD = new CheckCard(
            "pipeline-token-too-wide",
            Area.PIPELINE,
            Severity.MEDIUM,
            "the pipeline's own token may write where it only needs to read",
            "pipeline-file",
            "A step that goes wrong, or that others took over, can change the repository that the site is built from.",
            "Give the token \"contents: read\", and \"id-token: write\" where it assumes a role.",
            "GitHub Docs, \"Controlling permissions for GITHUB_TOKEN\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** What a publishing pipeline writes rightly: its identity token, pages of the host, and remarks about its own run. */
    private static final Set<String> HARMLESS = Set.of(
            "id-token",
            "pages",
            "deployments",
            "statuses",
            "checks",
            "pull-requests",
            "issues",
            "attestations",
            "security-events");

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Finding> findings = new ArrayList<>();
        for (TokenScope scope : subject.pipeline().tokenScopes()) {
            boolean used = subject.pipeline().steps().stream()
                    .map(step -> step.command())
                    .anyMatch(command -> command.contains("git push")
                            || command.contains("gh release")
                            || command.contains("docker push")
                            || command.matches("uses: .*(release|gh-pages|commit|push|changesets).*"));
            if (scope.writes() && !HARMLESS.contains(scope.scope()) && !used) {
                String says = (scope.scope().equals("*")
                                ? "The pipeline's own token may write everything of the repository"
                                : "The pipeline's own token may write \"" + scope.scope() + "\"")
                        + (scope.job().isEmpty() ? "" : " in the job " + scope.job()) + ", and no step of it does.";
                findings.add(subject.finding(CARD, scope.line(), scope.job() + " " + scope.scope(), says));
            }
        }
        return subject.verdicts(findings, true);
    }
}
