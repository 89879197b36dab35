package warden.core.azure.checks.cdn;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.Container;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.azure.site.AzureCloud;
import warden.core.checks.CdnCards;

/** Finds origin paths under which there is nothing. */
final class OriginPathMissing implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.ORIGIN_PATH_MISSING.told(
            "cdn-endpoint, front-door-route, container-blobs",
            "Every visitor gets an error.",
            "Correct the origin path, or upload the site there.",
            "Azure Front Door, \"Origins and origin groups in Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        for (Edge.Route route : subject.edge().routes()) {
            String path =
                    route.originPath().startsWith("/") ? route.originPath().substring(1) : route.originPath();
            for (Edge.Origin origin : path.isEmpty() ? List.<Edge.Origin>of() : route.live()) {
                Optional<AzureCloud.Storage> storage = subject.storage(origin);
                if (storage.isEmpty()) {
                    continue;
                }
                int slash = path.indexOf('/');
                Container container = storage.get().isWeb()
                        ? storage.get().account().web()
                        : storage.get().account().container(slash < 0 ? path : path.substring(0, slash));
                String prefix = storage.get().isWeb() ? path : slash < 0 ? "" : path.substring(slash + 1);
                boolean any = container.blobs().names().stream()
                        .anyMatch(name -> prefix.isEmpty() || name.startsWith(prefix + "/"));
                if (any) {
                    continue;
                }
                if (container.blobs().open().isPresent()) {
                    return subject.open(container.blobs().open().get());
                }
                return subject.flagged(
                        CARD,
                        "The origin path " + route.originPath() + " leads where no blob is.",
                        List.of(route.at()));
            }
        }
        return subject.open(subject.needs());
    }
}
