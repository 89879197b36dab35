package warden.core.azure.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Verdict;
import warden.core.azure.edge.Edge;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.EndpointName;
import warden.core.azure.site.WebSite;
import warden.core.survey.Need;

/** A check that asks its question of every edge. */
public interface EdgeCheck extends AzureCheck<EdgeCheck.Of> {
    /** One edge. */
    record Of(AzureContext context, Edge edge) implements Subject {
        @Override
        public String id() {
            return edge.id();
        }

        @Override
        public Optional<String> site() {
            return context.cloud().siteOf(edge).map(WebSite::name);
        }

        /** Returns the endpoint of a storage account that an origin is; absent for anything else. */
        public Optional<AzureCloud.Storage> storage(Edge.Origin origin) {
            return context.cloud().storage(origin.host());
        }

        /** Returns what keeps from telling whether it serves a site: an origin of which the account was not read. Empty where that is known. */
        public List<Need> mayServeSite() {
            boolean isOfUnread = edge.liveOrigins().stream()
                    .anyMatch(origin -> storage(origin).isEmpty()
                            && EndpointName.parse(origin.host())
                                    .filter(EndpointName::isStorage)
                                    .isPresent());
            return site().isPresent() || !isOfUnread
                    ? List.of()
                    : context.cloud().accounts().stream()
                            .flatMap(account -> account.subscription().unlistedAccounts().stream())
                            .toList();
        }

        /** Returns what keeps what the edge does from being known: parts of it, and of its routes. */
        public List<Need> needs() {
            List<Need> all = new ArrayList<>(edge.unknowns());
            if (!edge.isModelled()) {
                all.add(new Need("cdn-profile", edge.profile(), "edges of other makers are not modelled", ""));
            }
            return all;
        }
    }

    @Override
    default List<Of> subjects(AzureContext context) {
        return context.subjects(EdgeCheck.class, () -> context.cloud().edges().stream()
                .map(edge -> new Of(context, edge))
                .toList());
    }

    @Override
    default List<Verdict> unread(AzureContext context) {
        return unlisted(context);
    }

    /** Returns the open verdicts for edges that a list would have named. */
    static List<Verdict> unlisted(AzureContext context) {
        List<Verdict> open = new ArrayList<>();
        for (AzureAccount account : context.cloud().accounts()) {
            List<Need> unread = account.edges().unread();
            if (!unread.isEmpty()) {
                open.add(new Verdict.Unknown(account.subscription().id(), Optional.empty(), unread));
            }
        }
        return open;
    }
}
