package warden.core.azure.site;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ForkJoinTask;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.azure.account.Container;
import warden.core.azure.account.Item;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.account.WebHosting;
import warden.core.azure.edge.Edge;
import warden.core.names.HostDirectory;
import warden.core.names.Lead;
import warden.core.names.Zone;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.StatedSite;
import warden.core.site.SitePattern;
import warden.core.survey.Need;

/** All surveyed subscriptions together, with the sites that were found in them. Safe for use by several threads. */
public final class AzureCloud {
    private final List<AzureAccount> accounts;
    private final SiteFile file;
    private final Optional<Instant> at;
    private final HostDirectory hosts;
    private final Map<String, Storage> storageByHost = new HashMap<>();
    private final Map<String, List<Edge>> edgesByHost = new HashMap<>();
    private final Map<String, List<EdgeOrigin>> originsByAccount = new HashMap<>();
    private final List<WebSite> sites;
    private final Map<String, WebSite> sitesByHost = new HashMap<>();
    private final Map<String, WebSite> sitesByContainer = new HashMap<>();
    private final Map<String, WebSite> sitesByEdge = new HashMap<>();
    private final List<Need> unreadOrigins;

    /** A storage account's endpoint. */
    public record Storage(StorageAccount account, boolean isWeb) {}

    /** An origin, with its edge and route. */
    public record EdgeOrigin(Edge edge, Edge.Route route, Edge.Origin origin, boolean isWeb) {
        /** Returns the container that the origin's path leads to; absent where the path names none. */
        public Optional<String> container() {
            String path = route.originPath();
            if (isWeb) {
                return Optional.of(ResourceId.WEB);
            }
            String first = path.startsWith("/") ? path.substring(1) : path;
            return first.isEmpty()
                    ? Optional.empty()
                    : Optional.of(first.contains("/") ? first.substring(0, first.indexOf('/')) : first);
        }
    }

    /**
     * Finds the sites.
     *
     * @param otherZones the zones of other providers, whose records may lead here
     * @param at the instant as of which requests are taken to be sent; absent when nothing tells
     */
    public AzureCloud(List<AzureAccount> accounts, List<Zone> otherZones, SiteFile file, Optional<Instant> at) {
        this.accounts = List.copyOf(accounts);
        this.file = file;
        this.at = at;
        List<Zone> zones = new ArrayList<>();
        accounts.forEach(account -> zones.addAll(account.zones()));
        zones.addAll(otherZones);
        ForkJoinTask<HostDirectory> records =
                ForkJoinTask.adapt(() -> new HostDirectory(zones)).fork();
        for (AzureAccount account : accounts) {
            // What tells a site is parsed side by side; sites are put together in their order below.
            account.subscription().accounts().parallelStream().forEach(AzureCloud::readAhead);
            for (StorageAccount storage : account.subscription().accounts()) {
                storage.webHosts().forEach(host -> storageByHost.putIfAbsent(host, new Storage(storage, true)));
                storage.blobHosts().forEach(host -> storageByHost.putIfAbsent(host, new Storage(storage, false)));
            }
            account.edges().byHost().forEach((host, edges) -> edgesByHost
                    .computeIfAbsent(host, key -> new ArrayList<>())
                    .addAll(edges));
        }
        this.hosts = records.join();
        for (Edge edge : edges()) {
            for (Edge.Route route : edge.routes()) {
                for (Edge.Origin origin : route.origins()) {
                    Storage storage = storageByHost.get(origin.host());
                    if (storage != null) {
                        originsByAccount
                                .computeIfAbsent(
                                        ResourceId.key(storage.account().id()), key -> new ArrayList<>())
                                .add(new EdgeOrigin(edge, route, origin, storage.isWeb()));
                    }
                }
            }
        }
        this.sites = find();
        for (WebSite site : sites) {
            site.hosts().forEach(host -> sitesByHost.putIfAbsent(host, site));
            site.container().ifPresent(container -> sitesByContainer.put(ResourceId.key(container.id()), site));
            site.edges().forEach(edge -> sitesByEdge.putIfAbsent(ResourceId.key(edge.id()), site));
        }
        this.unreadOrigins = Stream.concat(
                        unreadEdges().stream(),
                        edges().stream()
                                .filter(edge -> siteOf(edge).isEmpty())
                                .flatMap(edge -> edge.unknowns().stream()))
                .toList();
    }

    private static void readAhead(StorageAccount storage) {
        storage.webHosts();
        storage.blobHosts();
        storage.hosting();
        storage.web().blobs();
    }

    private List<WebSite> find() {
        List<WebSite> found = new ArrayList<>();
        for (AzureAccount account : accounts) {
            for (StorageAccount storage : account.subscription().accounts()) {
                site(account, storage).ifPresent(found::add);
            }
            for (Item front : account.managedFronts()) {
                found.add(managed(account, front));
            }
        }
        Set<String> names = new HashSet<>();
        List<WebSite> named = new ArrayList<>();
        for (WebSite site : found) {
            String name = site.name();
            for (int i = 2; !names.add(name); i++) {
                name = site.name() + " (" + i + ")";
            }
            named.add(site.named(name));
        }
        named.sort(Comparator.comparing(WebSite::name));
        return List.copyOf(named);
    }

    private Optional<WebSite> site(AzureAccount account, StorageAccount storage) {
        Container web = storage.web();
        List<EdgeOrigin> origins = originsOf(storage).stream()
                .filter(origin ->
                        origin.container().filter(ResourceId.WEB::equals).isPresent())
                .toList();
        List<Edge> edges = origins.stream().map(EdgeOrigin::edge).distinct().toList();
        Set<String> own = new LinkedHashSet<>();
        edges.forEach(edge -> own.addAll(edge.hosts()));
        for (Edge edge : edges) {
            hosts.hostsLeadingTo(edge.host()).forEach(own::add);
        }
        storage.webHosts().forEach(host -> own.addAll(hosts.hostsLeadingTo(host)));
        storage.customDomain().ifPresent(own::add);
        Optional<StatedSite> stated = stated(storage, own);
        Truth isOn = storage.hosting().found().map(WebHosting::enabled).orElse(Truth.UNKNOWN);
        boolean isSite = isOn == Truth.TRUE
                || web.blobs().hasAny() == Truth.TRUE
                || !own.isEmpty()
                || !origins.isEmpty()
                || stated.isPresent();
        if (!isSite) {
            return Optional.empty();
        }
        stated.ifPresent(each -> own.addAll(each.hosts()));
        if (own.isEmpty()) {
            storage.webHosts().stream().findFirst().ifPresent(own::add);
        }
        boolean isBehind = edges.stream().anyMatch(edge -> edge.serves() != Truth.FALSE);
        SitePattern pattern = isBehind ? SitePattern.WEB_CONTAINER_BEHIND_CDN : SitePattern.WEB_CONTAINER;
        String name = stated.map(StatedSite::name)
                .orElse(own.isEmpty() ? storage.name() : own.iterator().next());
        return Optional.of(
                new WebSite(name, account, Optional.of(pattern), stated, List.copyOf(own), Optional.of(web), edges));
    }

    private Optional<StatedSite> stated(StorageAccount storage, Set<String> own) {
        return file.sites().stream()
                .filter(site ->
                        site.bucket().filter(bucket -> isOf(bucket, storage)).isPresent()
                                || (site.bucket().isEmpty()
                                        && site.hosts().stream().anyMatch(own::contains)))
                .findFirst();
    }

    /** An account goes by its name, its web container by its identifier. */
    static boolean isOf(String bucket, StorageAccount storage) {
        return bucket.equalsIgnoreCase(storage.name())
                || ResourceId.same(bucket, storage.id())
                || ResourceId.same(bucket, ResourceId.container(storage.id(), ResourceId.WEB));
    }

    private WebSite managed(AzureAccount account, Item front) {
        Set<String> own = new LinkedHashSet<>();
        front.texts("customDomains").forEach(host -> own.add(host.toLowerCase(Locale.ROOT)));
        Optional<String> given = front.text("defaultHostname").map(host -> host.toLowerCase(Locale.ROOT));
        given.ifPresent(host -> own.addAll(hosts.hostsLeadingTo(host)));
        if (own.isEmpty()) {
            given.ifPresent(own::add);
        }
        Optional<StatedSite> stated = file.sites().stream()
                .filter(site -> site.hosts().stream().anyMatch(own::contains))
                .findFirst();
        return new WebSite(
                stated.map(StatedSite::name)
                        .orElse(own.isEmpty() ? front.name() : own.iterator().next()),
                account,
                Optional.of(SitePattern.MANAGED_FRONT),
                stated,
                List.copyOf(own),
                Optional.empty(),
                List.of());
    }

    public List<AzureAccount> accounts() {
        return accounts;
    }

    public SiteFile file() {
        return file;
    }

    public Optional<Instant> at() {
        return at;
    }

    public HostDirectory hosts() {
        return hosts;
    }

    public List<WebSite> sites() {
        return sites;
    }

    /** Returns all storage accounts, in the order of the surveys. */
    public List<StorageAccount> storageAccounts() {
        return accounts.stream()
                .flatMap(account -> account.subscription().accounts().stream())
                .toList();
    }

    /** Returns all edges, in the order of the surveys. */
    public List<Edge> edges() {
        return accounts.stream()
                .flatMap(account -> account.edges().all().stream())
                .toList();
    }

    /** Returns the endpoint of a surveyed storage account that answers at a host of the provider's own. */
    public Optional<Storage> storage(String host) {
        return Optional.ofNullable(storageByHost.get(host));
    }

    /** Returns the edges that answer for a host: their own name, or one of the customer's. */
    public List<Edge> edgesOf(String host) {
        return edgesByHost.getOrDefault(host, List.of());
    }

    /** Returns the edge to which the provider gave this name. */
    public Optional<Edge> edgeNamed(String host) {
        return edgesOf(host).stream().filter(edge -> edge.host().equals(host)).findFirst();
    }

    /** Returns the origins that fetch from a storage account, in the order of the surveys. */
    public List<EdgeOrigin> originsOf(StorageAccount account) {
        return originsByAccount.getOrDefault(ResourceId.key(account.id()), List.of());
    }

    /** Returns the account that a storage account is in. */
    public AzureAccount accountOf(StorageAccount storage) {
        return accounts.stream()
                .filter(account -> account.subscription() == storage.subscription())
                .findFirst()
                .orElseThrow();
    }

    /** Returns the account whose survey shows an edge. */
    public AzureAccount accountOf(Edge edge) {
        return accounts.stream()
                .filter(account -> ResourceId.covers(account.subscription().id(), edge.id()))
                .findFirst()
                .orElse(accounts.get(0));
    }

    /** Returns the account that an identifier is of. */
    public Optional<AzureAccount> accountOf(String subject) {
        return accounts.stream()
                .filter(account -> subject.equalsIgnoreCase(account.number())
                        || (subject.startsWith("/") && account.reach().holds(subject)))
                .findFirst()
                .or(() -> accounts.stream()
                        .filter(account -> account.reach().principals().all().stream()
                                .anyMatch(each -> each.id().equals(subject)))
                        .findFirst());
    }

    public Optional<WebSite> siteOf(String host) {
        return Optional.ofNullable(sitesByHost.get(host));
    }

    public Optional<WebSite> siteOf(Container container) {
        return Optional.ofNullable(sitesByContainer.get(ResourceId.key(container.id())));
    }

    public Optional<WebSite> siteOf(Edge edge) {
        return Optional.ofNullable(sitesByEdge.get(ResourceId.key(edge.id())));
    }

    /** Returns the site whose web container is the account's. */
    public Optional<WebSite> siteOf(StorageAccount account) {
        return siteOf(account.web());
    }

    /** Returns what keeps the edges from being known; none when they are. */
    public List<Need> unreadEdges() {
        return accounts.stream()
                .flatMap(account -> account.edges().unread().stream())
                .toList();
    }

    /** Returns what keeps from telling before which sites edges stand: that edges are unread, or what those fetch from that no site has. */
    public List<Need> unreadOrigins() {
        return unreadOrigins;
    }

    /** Returns what keeps from telling that no edge stands before a site of which none is known; none when one is, or surely none does. */
    public List<Need> unknownEdges(WebSite site) {
        if (!site.edges().isEmpty()) {
            return List.of();
        }
        // Edges fetch from hosts: by which hosts an account answers stands in its own reading.
        Optional<Need> hosts = site.container()
                .map(Container::account)
                .filter(account -> account.webHosts().isEmpty())
                .map(account -> account.settings()
                        .missing()
                        .orElseGet(() -> new Need(
                                "storage-account",
                                account.id(),
                                "its endpoints are not in the answer",
                                "Microsoft.Storage/storageAccounts/read")));
        return Stream.concat(hosts.stream(), unreadOrigins.stream()).toList();
    }

    /** Returns the records that lead straight to a storage account's web endpoint. */
    public List<Lead> leadsTo(StorageAccount account) {
        return account.webHosts().stream()
                .flatMap(host -> hosts.hostsLeadingTo(host).stream())
                .distinct()
                .flatMap(host -> hosts.leads(host).stream())
                .filter(lead -> account.webHosts().contains(lead.target()))
                .toList();
    }

    /** Returns what keeps the names from being known as a whole. */
    public Stream<Need> unreadZones() {
        return accounts.stream()
                .flatMap(account -> Stream.concat(
                        account.unlistedZones().stream(),
                        account.zones().stream().flatMap(zone -> zone.unlisted().stream())));
    }
}
