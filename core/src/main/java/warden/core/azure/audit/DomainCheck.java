package warden.core.azure.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Verdict;
import warden.core.azure.edge.Edge;
import warden.core.azure.site.WebSite;

/** A check that asks its question of every custom domain of every edge. */
public interface DomainCheck extends AzureCheck<DomainCheck.Of> {
    /** One custom domain. */
    record Of(AzureContext context, Edge edge, Edge.Domain domain) implements Subject {
        @Override
        public String id() {
            return domain.id();
        }

        @Override
        public Optional<String> site() {
            return context.cloud()
                    .siteOf(domain.host())
                    .or(() -> context.cloud().siteOf(edge))
                    .map(WebSite::name);
        }
    }

    @Override
    default List<Of> subjects(AzureContext context) {
        return context.subjects(DomainCheck.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        List<Of> all = new ArrayList<>();
        for (Edge edge : context.cloud().edges()) {
            edge.domains().forEach(domain -> all.add(new Of(context, edge, domain)));
        }
        return List.copyOf(all);
    }

    /** Domains that a list would have named which was not read are open questions of their edge. */
    @Override
    default List<Verdict> unread(AzureContext context) {
        List<Verdict> open = new ArrayList<>(EdgeCheck.unlisted(context));
        for (Edge edge : context.cloud().edges()) {
            if (!edge.unread().isEmpty()) {
                open.add(new Verdict.Unknown(
                        edge.id(), context.cloud().siteOf(edge).map(WebSite::name), edge.unread()));
            }
        }
        return open;
    }
}
