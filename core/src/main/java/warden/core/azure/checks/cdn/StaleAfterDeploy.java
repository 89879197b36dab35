package warden.core.azure.checks.cdn;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.BlobList;
import warden.core.azure.account.Container;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.publishing.AzureDeployments;
import warden.core.azure.site.WebSite;
import warden.core.checks.CdnCards;
import warden.core.survey.Need;

/** Finds pages that an edge keeps for long after they were replaced. */
final class StaleAfterDeploy implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.STALE_AFTER_DEPLOY.told(
            "cdn-endpoint, front-door-route, container-blobs",
            "Visitors see the old pages for days.",
            "Purge the edge after a deployment, or store pages with a short Cache-Control.",
            "Azure CDN, \"Manage expiration of web content\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        Optional<WebSite> site = subject.context().cloud().siteOf(subject.edge());
        boolean caches =
                subject.edge().routes().stream().anyMatch(route -> route.isOn() != Truth.FALSE && route.caches());
        if (!caches || subject.edge().serves() == Truth.FALSE) {
            return List.of();
        }
        if (site.isEmpty() || site.get().container().isEmpty()) {
            return subject.mayServeSite().isEmpty() ? List.of() : subject.open(subject.mayServeSite());
        }
        boolean purges = subject.context().publishing().deployments().purges(site.get(), subject.edge());
        if (purges) {
            return subject.clean();
        }
        AzureDeployments deployments = subject.context().publishing().deployments();
        List<Need> unclear = deployments.pipelines().stream()
                .filter(pipeline -> deployments.sitesOf(pipeline).contains(site.get()))
                .flatMap(pipeline -> Stream.concat(
                        deployments.openPurges(pipeline).stream(),
                        pipeline.notUnderstood().stream()
                                .map(step -> new Need(
                                        pipeline.aspect(),
                                        pipeline.subject(),
                                        "a step is not understood: " + pipeline.place(step),
                                        ""))))
                .distinct()
                .toList();
        if (!unclear.isEmpty()) {
            return subject.open(unclear);
        }
        boolean setByRule = subject.edge().routes().stream()
                .flatMap(route -> route.rules().stream())
                .anyMatch(rule -> !rule.actions("CacheExpiration").isEmpty()
                        || !rule.actions("RouteConfigurationOverride").isEmpty());
        Container web = site.get().container().get();
        List<BlobList.Blob> pages = web.blobs().blobs().values().stream()
                .filter(blob -> blob.name().endsWith(".html"))
                .toList();
        if (setByRule) {
            return subject.open(
                    new Need("front-door-rule", subject.id(), "how long its rules keep pages is not modelled", ""));
        }
        List<BlobList.Blob> unset = pages.stream()
                .filter(blob -> blob.text("cacheControl")
                        .filter(text -> !text.isEmpty())
                        .isEmpty())
                .toList();
        if (!unset.isEmpty()) {
            return subject.edge().isFrontDoor()
                    ? subject.open(new Need(
                            "front-door-route",
                            subject.id(),
                            "how long the edge keeps pages without a Cache-Control is not certain",
                            ""))
                    : subject.flagged(
                            CARD,
                            "The page " + unset.get(0).name()
                                    + " says nothing of how long it may be kept: the edge keeps it for 7 days after it was replaced.",
                            List.of(unset.get(0).at()));
        }
        return subject.open(web.blobs().open().stream().toList());
    }
}
