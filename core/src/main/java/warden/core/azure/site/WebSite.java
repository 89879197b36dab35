package warden.core.azure.site;

import java.util.List;
import java.util.Optional;
import warden.core.azure.account.Container;
import warden.core.azure.edge.Edge;
import warden.core.site.Site;
import warden.core.site.SiteFile.StatedSite;
import warden.core.site.SitePattern;

/**
 * One site: a web container with what stands before it, or a managed front.
 *
 * @param container absent for a managed front
 * @param edges the edges that fetch from the container
 */
public record WebSite(
        String name,
        AzureAccount account,
        Optional<SitePattern> found,
        Optional<StatedSite> stated,
        List<String> hosts,
        Optional<Container> container,
        List<Edge> edges)
        implements Site {
    public WebSite {
        hosts = List.copyOf(hosts);
        edges = List.copyOf(edges);
    }

    @Override
    public List<String> storeIds() {
        return container.stream().map(Container::id).toList();
    }

    @Override
    public List<String> edgeIds() {
        return edges.stream().map(Edge::id).toList();
    }

    @Override
    public List<String> unreadEdgeIds() {
        return List.of();
    }

    @Override
    public boolean isMeantSealed() {
        return pattern().filter(SitePattern.WEB_CONTAINER_BEHIND_CDN::equals).isPresent();
    }

    /** Returns this site under another name. */
    WebSite named(String other) {
        return new WebSite(other, account, found, stated, hosts, container, edges);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof WebSite site && site.name.equals(name) && site.account == account;
    }

    /** Hashes the name only: the parts are whole documents. */
    @Override
    public int hashCode() {
        return name.hashCode();
    }
}
