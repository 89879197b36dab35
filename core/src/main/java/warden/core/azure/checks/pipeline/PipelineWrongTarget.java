package warden.core.azure.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.azure.account.Container;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.audit.DeploymentCheck;
import warden.core.azure.edge.Edge;
import warden.core.azure.site.AzureAccount;
import warden.core.checks.PipelineCards;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Target;
import warden.core.survey.Need;

/** Finds pipelines that publish to an account, container or endpoint that the survey does not show, or beside the website's container. */
final class PipelineWrongTarget implements DeploymentCheck {
    private static final CheckCard CARD = PipelineCards.PIPELINE_WRONG_TARGET.told(
            "pipeline-file, storage-account-list, cdn-endpoint-list, front-door-endpoint-list",
            "The deployment goes nowhere, or to somebody else, and the site stays as it was.",
            "Name the storage account of the site, its container $web, and the endpoint in front of it.",
            "Storage documentation, \"Host a static website in Azure Storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DeploymentCheck.Of subject) {
        List<Finding> findings = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        for (DeploymentStep step : subject.steps()) {
            step.target().ifPresent(target -> storage(subject, step, target, findings, needs));
            if (step.operation() instanceof Operation.Invalidate invalidation
                    && invalidation.distribution().isKnown()
                    && !step.provider().isEmpty()) {
                endpoint(subject, step, invalidation, findings, needs);
            }
        }
        needs.addAll(subject.deployments().openStores(subject.pipeline(), step -> true));
        needs.addAll(subject.deployments().openPurges(subject.pipeline()));
        return subject.asked().verdictsUnless(needs, findings, false);
    }

    private static void storage(
            DeploymentCheck.Of subject, DeploymentStep step, Target target, List<Finding> findings, List<Need> needs) {
        // A client of any store names a place that may be another provider's.
        if (step.provider().isEmpty()
                || !target.account().isKnown()
                || target.account().text().isEmpty()) {
            return;
        }
        String name = target.account().text();
        Optional<StorageAccount> account = subject.deployments().named(name);
        if (account.isEmpty()) {
            List<Need> unlisted = accounts(subject)
                    .flatMap(each -> each.subscription().unlistedAccounts().stream())
                    .toList();
            needs.addAll(unlisted);
            if (unlisted.isEmpty()) {
                findings.add(subject.asked()
                        .finding(
                                CARD,
                                step,
                                "The pipeline publishes to the storage account " + name
                                        + ", which is in no surveyed subscription."));
            }
            return;
        }
        Optional<Container> container = subject.deployments().containerOf(subject.pipeline(), target);
        boolean holdsSite = subject.context().cloud().siteOf(account.get()).isPresent();
        if (container.isPresent() && !container.get().isWeb() && step.publishes() && holdsSite) {
            findings.add(subject.asked()
                    .finding(
                            CARD,
                            step,
                            "The pipeline publishes to the container " + name + "/"
                                    + container.get().name() + "; the site is served from $web."));
        }
    }

    private static Stream<AzureAccount> accounts(DeploymentCheck.Of subject) {
        return subject.context().cloud().accounts().stream();
    }

    private static void endpoint(
            DeploymentCheck.Of subject,
            DeploymentStep step,
            Operation.Invalidate invalidation,
            List<Finding> findings,
            List<Need> needs) {
        if (!subject.deployments()
                .edgesOf(subject.pipeline(), invalidation.distribution())
                .isEmpty()) {
            return;
        }
        List<Need> unlisted = subject.context().cloud().unreadEdges();
        needs.addAll(unlisted);
        if (unlisted.isEmpty()) {
            String others = subject.context().cloud().edges().stream()
                    .map(Edge::id)
                    .map(id -> id.replaceFirst("(?i).*/(profiles/)", "$1"))
                    .limit(3)
                    .collect(Collectors.joining(", "));
            findings.add(subject.asked()
                    .finding(
                            CARD,
                            step,
                            "The pipeline purges the endpoint " + invalidation.distribution()
                                    + ", which is in no surveyed subscription"
                                    + (others.isEmpty() ? "" : " (there are " + others + ")") + "."));
        }
    }
}
