package warden.core.azure.checks.cdn;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.EdgeCheck;
import warden.core.azure.edge.Edge;
import warden.core.azure.site.EndpointName;
import warden.core.checks.CdnCards;
import warden.core.survey.Need;

/** Finds edges whose origin is a storage account that does not exist. */
final class OriginBucketGone implements EdgeCheck {
    private static final CheckCard CARD = CdnCards.ORIGIN_BUCKET_GONE.told(
            "front-door-origin, cdn-endpoint, storage-account",
            "Whoever makes an account of that name serves whatever they like under your name.",
            "Create the account again, or take the origin out.",
            "Azure security documentation, \"Prevent dangling DNS entries and avoid subdomain takeover\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(EdgeCheck.Of subject) {

        List<Need> unlisted = subject.context().cloud().accounts().stream()
                .flatMap(account -> account.subscription().unlistedAccounts().stream())
                .toList();
        for (Edge.Origin origin : subject.edge().routes().stream()
                .flatMap(route -> route.origins().stream())
                .toList()) {
            Optional<EndpointName> name = EndpointName.parse(origin.host()).filter(EndpointName::isStorage);
            if (name.isEmpty() || subject.storage(origin).isPresent()) {
                continue;
            }
            if (!unlisted.isEmpty()) {
                return subject.open(unlisted);
            }
            boolean isOtherZone = subject.context().cloud().storageAccounts().stream()
                    .anyMatch(account -> account.name().equals(name.get().account()));
            return List.of(new Verdict.Flagged(subject.finding(
                            CARD,
                            "The edge fetches from " + origin.host() + ", "
                                    + (isOtherZone
                                            ? "which is not the name of the account's endpoint"
                                            : "of a storage account that is not in the surveyed subscription; another of yours may hold it")
                                    + ". Whoever makes an account of that name serves the site.",
                            List.of(origin.at()))
                    .mendedBy("Create the account again, or take the origin out.")));
        }
        return subject.open(subject.needs());
    }
}
