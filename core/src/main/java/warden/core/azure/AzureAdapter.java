package warden.core.azure;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.access.Matrix;
import warden.core.access.Questions;
import warden.core.azure.access.ContainerAnswers;
import warden.core.azure.access.Reach;
import warden.core.azure.account.Container;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.drift.AzureChanges;
import warden.core.azure.edge.Edge;
import warden.core.azure.principal.Principal;
import warden.core.azure.publishing.AzurePublisher;
import warden.core.azure.publishing.AzurePublishing;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.EndpointName;
import warden.core.azure.site.WebSite;
import warden.core.azure.trace.AzureTracer;
import warden.core.azure.trim.RoleTrim;
import warden.core.cloud.Changes;
import warden.core.cloud.Cloud;
import warden.core.cloud.Following;
import warden.core.document.DisplayText;
import warden.core.names.Zone;
import warden.core.pipeline.Pipeline;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.site.SiteFile.StatedSite;
import warden.core.survey.Need;

/** The second provider's answers to what is asked of every cloud. */
public record AzureAdapter(AzureCloud cloud) implements Cloud {
    private static final List<String> PRINCIPALS = List.of("servicePrincipals/", "users/", "groups/", "applications/");

    @Override
    public List<AzureAccount> accounts() {
        return cloud.accounts();
    }

    @Override
    public List<WebSite> sites() {
        return cloud.sites();
    }

    @Override
    public Optional<AzureAccount> accountOf(String subject) {
        return cloud.accountOf(subject);
    }

    @Override
    public List<String> oddities() {
        boolean allListed = cloud.accounts().stream()
                .allMatch(account -> account.subscription().unlistedAccounts().isEmpty());
        List<String> odd = new ArrayList<>();
        for (StatedSite site : cloud.file().sites()) {
            site.bucket()
                    .filter(bucket -> allListed && bucket.startsWith("/"))
                    .filter(bucket -> cloud.storageAccounts().stream().noneMatch(account -> ResourceId.accountIn(bucket)
                            .filter(id -> ResourceId.same(id, account.id()))
                            .isPresent()))
                    .ifPresent(bucket ->
                            odd.add("the site file's bucket \"" + DisplayText.name(bucket) + "\" of the site \""
                                    + DisplayText.name(site.name())
                                    + "\" is in none of the surveyed subscriptions; the site is judged without it"));
        }
        return odd;
    }

    @Override
    public boolean spells(String subject) {
        return subject.startsWith("/") || PRINCIPALS.stream().anyMatch(subject::startsWith);
    }

    @Override
    public Optional<String> shortName(String subject) {
        if (PRINCIPALS.stream().anyMatch(subject::startsWith)) {
            return Optional.of(cloud.accounts().stream()
                    .flatMap(account -> account.reach().principals().all().stream())
                    .filter(principal -> principal.id().equals(subject))
                    .map(Principal::called)
                    .findFirst()
                    .orElse(subject));
        }
        if (subject.endsWith("#key")) {
            return Optional.of("key of " + ResourceId.name(subject.substring(0, subject.length() - "#key".length())));
        }
        if (!subject.toLowerCase(Locale.ROOT).startsWith("/subscriptions/")) {
            return Optional.empty();
        }
        Optional<Edge> edge = cloud.accounts().stream()
                .flatMap(account -> account.edge(subject).stream())
                .findFirst();
        if (edge.isPresent()) {
            return edge.map(Edge::host);
        }
        Optional<String> blob = ResourceId.blobIn(subject);
        Optional<String> container = ResourceId.containerIn(subject).map(ResourceId::name);
        Optional<String> account = ResourceId.accountIn(subject).map(ResourceId::name);
        if (account.isPresent()) {
            return Optional.of(account.get()
                    + container.map(name -> "/" + name).orElse("")
                    + blob.map(name -> "/" + name).orElse(""));
        }
        return Optional.of(ResourceId.name(subject));
    }

    @Override
    public Optional<String> statedName(String store) {
        return ResourceId.accountIn(store).map(ResourceId::name);
    }

    @Override
    public Map<String, String> hostsOfParts() {
        Map<String, String> hosts = new LinkedHashMap<>();
        for (Edge edge : cloud.edges()) {
            Stream.concat(edge.hosts().stream(), Stream.of(edge.host()))
                    .filter(host -> !host.isEmpty())
                    .findFirst()
                    .ifPresent(host -> hosts.putIfAbsent(edge.id(), host));
            edge.domains().forEach(domain -> hosts.putIfAbsent(domain.id(), domain.host()));
        }
        return hosts;
    }

    @Override
    public boolean isStore(String subject) {
        return ResourceId.containerIn(subject).isPresent();
    }

    @Override
    public boolean isBeside(Need need, List<? extends Site> sites) {
        Optional<String> account = ResourceId.accountIn(need.of());
        return account.isPresent()
                && sites.stream()
                        .flatMap(site -> site.storeIds().stream())
                        .noneMatch(store -> ResourceId.covers(account.get(), store));
    }

    @Override
    public List<Need> unreadPrincipals() {
        return cloud.accounts().stream()
                .flatMap(account -> account.reach().rules().roles().openAssignments().stream())
                .toList();
    }

    @Override
    public List<UnreadStore> unreadStores() {
        return cloud.storageAccounts().stream()
                .map(StorageAccount::web)
                .filter(web -> cloud.siteOf(web).isEmpty())
                .filter(web -> web.account().settings().isUnread())
                .map(web -> new UnreadStore(web.id(), web.account().name()))
                .toList();
    }

    @Override
    public List<SiteStore> siteStores() {
        return cloud.sites().stream()
                .flatMap(site -> site.container().stream().map(container -> new SiteStore(container, site)))
                .toList();
    }

    @Override
    public Set<String> closedStores() {
        return containers()
                .filter(container ->
                        !container.isWeb() || cloud.siteOf(container).stream().allMatch(WebSite::isMeantSealed))
                .map(Container::id)
                .collect(Collectors.toSet());
    }

    private Stream<Container> containers() {
        return cloud.storageAccounts().stream().flatMap(account -> account.containers().stream());
    }

    @Override
    public Set<String> sharedSecrets() {
        return Set.of();
    }

    @Override
    public AzurePublishing publishing(List<Pipeline> pipelines) {
        return new AzurePublishing(cloud, pipelines);
    }

    @Override
    public List<RoleTrim> trim(List<Pipeline> pipelines, Optional<String> credential, List<Site> sites) {
        AzurePublishing publishing = publishing(pipelines);
        List<AzurePublisher> publishers = new ArrayList<>(publishing.principals());
        Map<AzureAccount, String> wanted = new HashMap<>();
        for (AzureAccount account : credential.isPresent() ? cloud.accounts() : List.<AzureAccount>of()) {
            Optional<Principal> named = account.reach().principals().named(credential.get());
            named.ifPresent(each -> wanted.put(account, each.id()));
            named.filter(each -> publishers.stream()
                            .noneMatch(publisher -> publisher.id().equals(each.id())))
                    .ifPresent(each -> publishers.add(new AzurePublisher(account, each, List.of(), List.of())));
        }
        return publishers.stream()
                .filter(each -> credential.isEmpty() || each.id().equals(wanted.get(each.account())))
                .filter(each -> sites.isEmpty() || each.sites().stream().anyMatch(sites::contains))
                .map(each -> RoleTrim.of(each, publishing.deployments()))
                .toList();
    }

    @Override
    public List<Matrix> matrices(List<? extends Publisher> publishers, Predicate<String> wanted) {
        List<Matrix> all = new ArrayList<>();
        for (AzureAccount account : cloud.accounts()) {
            Set<String> always = new HashSet<>();
            publishers.stream()
                    .filter(publisher -> publisher.account() == account)
                    .forEach(publisher -> always.add(publisher.id()));
            List<Container> containers = account.subscription().accounts().stream()
                    .flatMap(storage -> storage.containers().stream())
                    .filter(container -> wanted.test(container.id()))
                    .filter(container -> !container.isWeb()
                            || !container.settings().isAbsent()
                            || cloud.siteOf(container).isPresent())
                    .toList();
            all.addAll(containers.parallelStream()
                    .map(container -> account.reach().matrix(container, always))
                    .toList());
        }
        return all;
    }

    @Override
    public UnaryOperator<String> questions(boolean explains) {
        List<Reach> reaches = cloud.accounts().stream().map(AzureAccount::reach).toList();
        return new Questions(new ContainerAnswers(reaches, explains))::answer;
    }

    @Override
    public boolean isAsked(String question) {
        return question.toLowerCase(Locale.ROOT).contains("\"/subscriptions/");
    }

    @Override
    public boolean answersFor(String host) {
        return EndpointName.parse(host).isPresent()
                || cloud.accounts().stream()
                        .flatMap(account -> account.zones().stream())
                        .flatMap(zone -> zone.name().stream())
                        .anyMatch(name -> host.equals(name) || host.endsWith("." + name));
    }

    @Override
    public boolean isOwnAddress(String host) {
        return cloud.accounts().stream()
                .flatMap(account -> account.subscription().accounts().stream())
                .anyMatch(storage -> storage.webHosts().contains(host));
    }

    @Override
    public Optional<Need> unknownHost(String host) {
        return cloud.accounts().stream()
                .flatMap(account -> Stream.of(
                                account.subscription().unlistedAccounts().stream(),
                                account.unlistedZones().stream(),
                                account.unlistedManagedFronts().stream())
                        .flatMap(needs -> needs))
                .findFirst()
                .or(() -> cloud.unreadOrigins().stream().findFirst())
                .or(() -> cloud.hosts().zoneOf(host).flatMap(Zone::unlisted));
    }

    @Override
    public Following following(boolean triesRemedies) {
        return new AzureTracer(cloud);
    }

    @Override
    public Changes since(Cloud old, Set<String> publishers) {
        return AzureChanges.between(((AzureAdapter) old).cloud(), cloud, publishers);
    }
}
