package warden.core.azure.publishing;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.azure.access.Actions;
import warden.core.azure.account.Container;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.principal.Principal;
import warden.core.azure.role.Roles;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.WebSite;
import warden.core.cloud.Publishing;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Pipeline;
import warden.core.site.Publisher;
import warden.core.survey.Need;
import warden.core.survey.SurveyedAccount;

/** Who publishes the sites: the account keys with which pipelines work, and the principals that the owner states, that a pipeline names, or whose rights look like it; never people. */
public final class AzurePublishing implements Publishing {
    private static final Pattern PUBLISHING_WORD = Pattern.compile(
            "(?i)publish|deploy|upload|release|pipeline|\\bci\\b|\\bcd\\b|github|gitlab|jenkins|actions");

    private static final Pattern REPOSITORY = Pattern.compile("^repo:([^/:]+)/");

    private final List<AzurePublisher> principals;
    private final List<KeyPublisher> keys;
    private final AzureDeployments deployments;
    private final List<Possible> possible = new ArrayList<>();
    private final List<Pipeline> pipelines;
    private final List<Searched> searched;

    public AzurePublishing(AzureCloud cloud, List<Pipeline> pipelines) {
        this.pipelines = List.copyOf(pipelines);
        this.searched = pipelines.stream()
                .map(each -> new Searched(each, each.text().text().toLowerCase(Locale.ROOT)))
                .toList();
        List<AzurePublisher> all = new ArrayList<>();
        for (AzureAccount account : cloud.accounts()) {
            all.addAll(of(cloud, account));
        }
        this.deployments = new AzureDeployments(cloud, all, pipelines);
        this.principals = all.stream().map(this::withItsPipelines).toList();
        List<KeyPublisher> byKey = new ArrayList<>();
        byKey.addAll(keyed(cloud, false, kind -> kind == Kind.STORE_KEY));
        byKey.addAll(keyed(cloud, true, kind -> kind.isByStoreKey() && kind != Kind.STORE_KEY));
        this.keys = List.copyOf(byKey);
    }

    /** A pipeline need not name its principal: where only one can sign in so, it is that. */
    private AzurePublisher withItsPipelines(AzurePublisher publisher) {
        Set<Pipeline> all = new LinkedHashSet<>(publisher.pipelines());
        Set<WebSite> sites = new LinkedHashSet<>(publisher.sites());
        for (AzureDeployments.StepOf of : deployments.stepsOf(publisher.principal())) {
            all.add(of.pipeline());
            // It is to publish there, whether or not it may.
            if (of.step().publishes()) {
                deployments.siteOf(of.pipeline(), of.step()).ifPresent(sites::add);
            }
        }
        return new AzurePublisher(publisher.account(), publisher.principal(), List.copyOf(sites), List.copyOf(all));
    }

    private List<KeyPublisher> keyed(AzureCloud cloud, boolean isSigned, Predicate<Kind> kinds) {
        Map<StorageAccount, List<KeyPublisher.Use>> uses = new LinkedHashMap<>();
        for (Pipeline pipeline : pipelines) {
            deployments.keyed(pipeline, kinds).forEach((storage, step) -> uses.computeIfAbsent(
                            storage, key -> new ArrayList<>())
                    .add(new KeyPublisher.Use(pipeline, step)));
        }
        List<KeyPublisher> all = new ArrayList<>();
        for (StorageAccount storage : cloud.storageAccounts()) {
            List<KeyPublisher.Use> own = uses.get(storage);
            if (own != null) {
                all.add(new KeyPublisher(
                        cloud.accountOf(storage),
                        storage,
                        isSigned,
                        cloud.siteOf(storage).stream().toList(),
                        own));
            }
        }
        return all;
    }

    private List<AzurePublisher> of(AzureCloud cloud, AzureAccount account) {
        List<WebSite> sites = cloud.sites().stream()
                .filter(site -> site.account() == account && site.container().isPresent())
                .toList();
        Map<String, Set<WebSite>> byPrincipal = new LinkedHashMap<>();
        for (WebSite site : sites) {
            site.stated().ifPresent(stated -> stated.credentials()
                    .forEach(word -> account.reach().principals().named(word).ifPresent(principal -> byPrincipal
                            .computeIfAbsent(principal.id(), id -> new LinkedHashSet<>())
                            .add(site))));
        }
        SitesInReach reached = new SitesInReach(account.reach().rules().roles(), sites);
        // Side by side, and put together in their order.
        List<Answer> answers = account.reach().principals().all().parallelStream()
                .map(principal ->
                        weigh(account, principal, byPrincipal.getOrDefault(principal.id(), Set.of()), reached))
                .toList();
        answers.forEach(each -> possible.addAll(each.possible()));
        return answers.stream().flatMap(each -> each.publisher().stream()).toList();
    }

    /** What one principal is: a publisher, none, or possibly one of some sites. */
    private record Answer(Optional<AzurePublisher> publisher, List<Possible> possible) {}

    private Answer weigh(AzureAccount account, Principal principal, Set<WebSite> stated, SitesInReach reached) {
        List<Pipeline> naming = naming(principal);
        boolean isKnown = !stated.isEmpty() || !naming.isEmpty();
        if (!isKnown && !principal.id().startsWith("servicePrincipals/")) {
            return new Answer(Optional.empty(), List.of());
        }
        Set<WebSite> own = new LinkedHashSet<>(stated);
        List<Possible> perhaps = new ArrayList<>();
        List<Need> open = new ArrayList<>();
        Set<String> letInAt = isKnown ? Set.of() : letInAt(account, principal);
        for (WebSite site : stated.isEmpty() ? reached.of(principal) : List.<WebSite>of()) {
            Truth writes = writes(account, principal, site.container().orElseThrow(), open);
            Truth looks = isKnown ? Truth.TRUE : looksLike(principal, letInAt, site);
            if (writes.and(looks) == Truth.TRUE) {
                own.add(site);
            } else if (writes.and(looks) == Truth.UNKNOWN) {
                open.addAll(principal.unread());
                perhaps.add(new Possible(account, principal, site, open));
            }
        }
        return new Answer(
                isKnown || !own.isEmpty()
                        ? Optional.of(new AzurePublisher(account, principal, List.copyOf(own), naming))
                        : Optional.empty(),
                perhaps);
    }

    /** @param lowerCased its text, in which identifiers are looked for */
    private record Searched(Pipeline pipeline, String lowerCased) {}

    private List<Pipeline> naming(Principal principal) {
        Optional<String> id = principal.clientId().map(each -> each.toLowerCase(Locale.ROOT));
        return id.isEmpty()
                ? List.of()
                : searched.stream()
                        .filter(each -> each.lowerCased().contains(id.get()))
                        .map(Searched::pipeline)
                        .toList();
    }

    private static Truth writes(AzureAccount account, Principal principal, Container web, List<Need> open) {
        return account.reach().rules().byRoles(principal.objectId(), Actions.WRITE, web.blob("index.html"), open);
    }

    /** Returns the scopes of the assignments that name a principal itself, in the form in which scopes are compared. */
    private static Set<String> letInAt(AzureAccount account, Principal principal) {
        return account.reach().rules().roles().of(principal.objectId()).stream()
                .filter(own -> own.assignment().principalId().equals(principal.objectId()))
                .map(Roles.Own::scope)
                .collect(Collectors.toSet());
    }

    /** A principal that signs in by a pipeline's token, is let in just there, or is called so. */
    private static Truth looksLike(Principal principal, Set<String> letInAt, WebSite site) {
        Container web = site.container().orElseThrow();
        boolean isLetInHere = letInAt.contains(ResourceId.key(web.id()))
                || letInAt.contains(web.account().key());
        String name = principal.name().toLowerCase(Locale.ROOT);
        boolean isCalledSo = PUBLISHING_WORD.matcher(name).find()
                && (name.contains(web.account().name().toLowerCase(Locale.ROOT))
                        || site.hosts().stream().anyMatch(host -> name.contains(firstLabel(host))));
        return !principal.federated().isEmpty() || isLetInHere || isCalledSo
                ? Truth.TRUE
                : principal.unread().isEmpty() ? Truth.FALSE : Truth.UNKNOWN;
    }

    private static String firstLabel(String host) {
        return host.contains(".") ? host.substring(0, host.indexOf('.')) : host;
    }

    @Override
    public List<Publisher> publishers() {
        return Stream.<Publisher>concat(principals.stream(), keys.stream()).toList();
    }

    /** Returns the principals that publish. */
    public List<AzurePublisher> principals() {
        return principals;
    }

    /** Returns the account keys, and URLs signed with them, with which pipelines publish. */
    public List<KeyPublisher> keys() {
        return keys;
    }

    @Override
    public AzureDeployments deployments() {
        return deployments;
    }

    /** Returns the publisher that a principal is. */
    public Optional<AzurePublisher> publisher(String id) {
        return principals.stream()
                .filter(publisher -> publisher.id().equals(id))
                .findFirst();
    }

    @Override
    public Set<String> repositoryOwners() {
        return principals.stream()
                .flatMap(publisher -> publisher.principal().federated().stream())
                .flatMap(federated -> federated.subject().stream())
                .map(REPOSITORY::matcher)
                .filter(Matcher::find)
                .map(matcher -> matcher.group(1).toLowerCase(Locale.ROOT))
                .collect(Collectors.toSet());
    }

    /** A principal of which it is not known whether it publishes a site. */
    public record Possible(AzureAccount account, Principal principal, WebSite site, List<Need> needs) {
        public Possible {
            needs = needs.stream().distinct().toList();
        }
    }

    /** Returns the principals of which it is not known whether they publish. */
    public List<Possible> possible() {
        return List.copyOf(possible);
    }

    @Override
    public List<UnreadCredential> unreadCredentials() {
        return possible.stream()
                .map(each -> new UnreadCredential(each.principal().id(), Optional.of(each.site()), true))
                .toList();
    }

    @Override
    public boolean concernsAll(SurveyedAccount account, String subject) {
        return ResourceId.same(subject, ResourceId.subscription(account.number()))
                || publisher(subject).isPresent()
                || possible.stream().anyMatch(each -> each.principal().id().equals(subject));
    }
}
