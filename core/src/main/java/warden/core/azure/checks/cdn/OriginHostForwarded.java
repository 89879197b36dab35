package warden.core.azure.checks.cdn;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.azure.site.AzureCloud;
import warden.core.checks.CdnCards;

/** Finds edges that send a storage account a host it does not answer to. */
final class OriginHostForwarded implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.ORIGIN_HOST_FORWARDED.told(
            "front-door-origin, cdn-endpoint",
            "Every visitor gets 400.",
            "Set the origin host header to the origin's own host.",
            "Azure Front Door, \"Origins and origin groups in Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        for (Edge.Origin origin : subject.edge().liveOrigins()) {
            Optional<AzureCloud.Storage> storage = subject.storage(origin);
            if (storage.isEmpty()) {
                continue;
            }
            StorageAccount account = storage.get().account();
            Optional<String> header = origin.hostHeader();
            boolean isKnown = header.filter(name -> account.hosts().anyMatch(name::equals)
                            || account.customDomain().filter(name::equals).isPresent())
                    .isPresent();
            if (!isKnown) {
                return List.of(new Verdict.Flagged(subject.finding(
                                CARD,
                                "The edge asks " + origin.host() + " as "
                                        + header.orElse("whatever host the visitor named")
                                        + ", which the storage account does not answer to: visitors get 400.",
                                List.of(origin.at()))
                        .mendedBy("Set the origin host header to " + origin.host() + ".")));
            }
        }
        return subject.open(subject.needs());
    }
}
