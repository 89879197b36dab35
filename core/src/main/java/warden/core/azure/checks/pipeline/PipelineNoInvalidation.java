package warden.core.azure.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.azure.audit.DeploymentCheck;
import warden.core.azure.edge.Edge;
import warden.core.azure.edge.Edge.Route;
import warden.core.azure.site.WebSite;
import warden.core.checks.PipelineCards;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.survey.Need;

/** Finds pipelines that publish behind an edge that keeps pages, and do not purge it. */
final class PipelineNoInvalidation implements DeploymentCheck {
    private static final CheckCard CARD = PipelineCards.PIPELINE_NO_INVALIDATION.told(
            "pipeline-file, cdn-endpoint, front-door-route",
            "Visitors see the old version until each edge forgets it by itself: up to 7 days behind the classic edge.",
            "Purge the endpoint after the upload, or store pages with Cache-Control: no-cache.",
            "Azure CDN documentation, \"Purge an Azure CDN endpoint\"; Front Door documentation, \"Cache purging in Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DeploymentCheck.Of subject) {
        Pipeline pipeline = subject.pipeline();
        List<DeploymentStep> uploads = subject.steps().stream()
                .filter(step -> step.operation() instanceof Operation.Upload)
                .toList();
        if (uploads.isEmpty()) {
            return List.of();
        }
        List<Finding> findings = new ArrayList<>();
        List<Need> open = new ArrayList<>(subject.deployments().openStores(pipeline, DeploymentStep::publishes));
        for (WebSite site : subject.sites()) {
            for (Edge edge : site.edges()) {
                if (subject.deployments().purges(site, edge)
                        || uploads.stream().anyMatch(DeploymentStep::uploadsFresh)) {
                    continue;
                }
                Truth keeps = keeps(edge);
                if (keeps == Truth.TRUE) {
                    findings.add(subject.asked()
                            .finding(
                                    CARD,
                                    uploads.get(0),
                                    "The pipeline publishes behind the endpoint " + edge.host()
                                            + ", which keeps pages, and never purges it.")
                            .restingOn(edge.at())
                            .inSite(site.name())
                            .at(edge.id()));
                } else if (keeps == Truth.UNKNOWN) {
                    open.addAll(
                            edge.unread().isEmpty()
                                    ? List.of(new Need(
                                            edge.isFrontDoor() ? "front-door-route" : "cdn-endpoint",
                                            edge.id(),
                                            "how long its rules keep pages is not modelled",
                                            ""))
                                    : edge.unread());
                }
            }
            open.addAll(subject.context().cloud().unknownEdges(site));
        }
        // A purge of an endpoint that is not known, or a step that is not understood, may be just the one.
        List<Need> unclear = new ArrayList<>(subject.deployments().openPurges(pipeline));
        if (!findings.isEmpty() && !unclear.isEmpty()) {
            return List.of(subject.unknown(unclear));
        }
        if (!findings.isEmpty() && !pipeline.notUnderstood().isEmpty()) {
            return subject.asked().verdicts(List.of(), true);
        }
        return subject.asked().verdictsUnless(open, findings, !pipeline.invalidates());
    }

    /** The classic edge keeps everything for a week unless a rule says otherwise; the other keeps what a route is told to. */
    private static Truth keeps(Edge edge) {
        if (!edge.isModelled()) {
            return Truth.UNKNOWN;
        }
        boolean isSetByRule = false;
        boolean caches = false;
        for (Route route : edge.routes()) {
            boolean isOn = route.isOn() != Truth.FALSE;
            caches |= isOn && (!edge.isFrontDoor() || route.caches());
            isSetByRule |= isOn
                    && route.rules().stream()
                            .anyMatch(rule -> !rule.actions("CacheExpiration").isEmpty()
                                    || !rule.actions("RouteConfigurationOverride")
                                            .isEmpty());
        }
        return isSetByRule || (!edge.unread().isEmpty() && !caches) ? Truth.UNKNOWN : Truth.of(caches);
    }
}
