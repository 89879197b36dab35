package warden.core.azure.publishing;

import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.azure.access.Actions;
import warden.core.azure.account.Container;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.edge.Edge;
import warden.core.azure.principal.Principal;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.WebSite;
import warden.core.azure.survey.AzureAspects;
import warden.core.cloud.Deployments;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.core.survey.Need;

/** Which pipeline publishes which web container, through which edge, and with which principal or key. Safe for use by several threads. */
public final class AzureDeployments implements Deployments {
    private final AzureCloud cloud;
    private final List<AzurePublisher> principals;
    private final List<Pipeline> pipelines;
    private final Map<Pipeline, List<WebSite>> sites = new IdentityHashMap<>();
    private @Nullable List<UnreadPipeline> unread;

    /**
     * Makes ready.
     *
     * @param principals those that are known to publish, or taken to
     */
    AzureDeployments(AzureCloud cloud, List<AzurePublisher> principals, List<Pipeline> pipelines) {
        this.cloud = cloud;
        this.principals = List.copyOf(principals);
        this.pipelines = List.copyOf(pipelines);
    }

    @Override
    public List<Pipeline> pipelines() {
        return pipelines;
    }

    @Override
    public String provider() {
        return AzureAspects.PROVIDER;
    }

    @Override
    public synchronized List<WebSite> sitesOf(Pipeline pipeline) {
        return sites.computeIfAbsent(pipeline, this::find);
    }

    private List<WebSite> find(Pipeline pipeline) {
        Set<WebSite> named = new LinkedHashSet<>(statedSitesOf(pipeline));
        for (DeploymentStep step : steps(pipeline)) {
            step.place()
                    .flatMap(place -> containerOf(pipeline, place))
                    .flatMap(cloud::siteOf)
                    .ifPresent(named::add);
            if (step.operation() instanceof Operation.Invalidate invalidation) {
                edgesOf(pipeline, invalidation.distribution()).forEach(edge -> cloud.sites().stream()
                        .filter(site -> site.edges().contains(edge))
                        .forEach(named::add));
            }
        }
        if (named.isEmpty()) {
            steps(pipeline).forEach(step -> byName(step).ifPresent(principal -> principals.stream()
                    .filter(each -> each.principal().equals(principal))
                    .forEach(each -> named.addAll(each.sites()))));
        }
        if (named.isEmpty() && !pipeline.isOfOthersThan(provider())) {
            cloud.sites().stream()
                    .filter(site -> Stream.concat(
                                    site.hosts().stream(),
                                    site.container().stream()
                                            .map(container ->
                                                    container.account().name()))
                            .anyMatch(pipeline::mentions))
                    .forEach(named::add);
        }
        return List.copyOf(named);
    }

    private List<DeploymentStep> steps(Pipeline pipeline) {
        return pipeline.steps().stream()
                .filter(step -> step.mayBeOf(provider()))
                .toList();
    }

    private List<WebSite> statedSitesOf(Pipeline pipeline) {
        return cloud.sites().stream()
                .filter(site -> site.stated().stream()
                        .flatMap(each -> each.pipelines().stream())
                        .anyMatch(pipeline::isAt))
                .toList();
    }

    private Optional<WebSite> onlyStatedSiteOf(Pipeline pipeline) {
        List<WebSite> stated = statedSitesOf(pipeline).stream()
                .filter(site -> site.container().isPresent())
                .toList();
        return stated.size() == 1 ? Optional.of(stated.get(0)) : Optional.empty();
    }

    /**
     * Returns the storage account that a step works in: as named; for a variable that nobody told, that of the only site for which the site file
     * names the pipeline. Absent too for a name that no surveyed subscription shows.
     */
    public Optional<StorageAccount> accountOf(Pipeline pipeline, Target target) {
        PipelineValue account = target.account();
        return account.isKnown() && !account.text().isEmpty()
                ? named(account.text())
                : onlyStatedSiteOf(pipeline).flatMap(WebSite::container).map(Container::account);
    }

    /** Returns the site in whose container a step works. */
    Optional<WebSite> siteOf(Pipeline pipeline, DeploymentStep step) {
        return storeOf(pipeline, step).flatMap(cloud::siteOf);
    }

    /** Returns the storage account of a name; absent where the surveys show none. */
    public Optional<StorageAccount> named(String account) {
        return cloud.storageAccounts().stream()
                .filter(each -> each.name().equals(account.toLowerCase(Locale.ROOT)))
                .findFirst();
    }

    /** Returns the container that a step works in, whether or not the survey shows it; absent where nothing tells. */
    public Optional<Container> containerOf(Pipeline pipeline, Target target) {
        if (!target.bucket().isKnown()) {
            return onlyStatedSiteOf(pipeline).flatMap(WebSite::container);
        }
        String name = target.bucket().text();
        return name.isEmpty() ? Optional.empty() : accountOf(pipeline, target).map(account -> account.container(name));
    }

    @Override
    public Optional<Container> storeOf(Pipeline pipeline, DeploymentStep step) {
        return step.mayBeOf(provider())
                ? step.place().flatMap(place -> containerOf(pipeline, place))
                : Optional.empty();
    }

    @Override
    public List<Need> openStores(Pipeline pipeline, Predicate<DeploymentStep> wanted) {
        List<Need> open = new ArrayList<>();
        for (DeploymentStep step : steps(pipeline)) {
            Optional<Target> place = step.place().filter(target -> wanted.test(step));
            if (place.isPresent() && containerOf(pipeline, place.get()).isEmpty()) {
                PipelineValue account = place.get().account();
                PipelineValue container = place.get().bucket();
                if (!account.isKnown()) {
                    open.add(pipeline.openPlace(step, "storage account", account));
                } else if (!container.isKnown()) {
                    open.add(pipeline.openPlace(step, "container", container));
                }
            }
        }
        return open.stream().distinct().toList();
    }

    /** Returns the edges that are purged: those named, or of the sites for which the site file names the pipeline. */
    public List<Edge> edgesOf(Pipeline pipeline, PipelineValue endpoint) {
        return endpoint.isKnown()
                ? cloud.edges().stream()
                        .filter(edge -> ResourceId.key(edge.id()).endsWith("/" + ResourceId.key(endpoint.text())))
                        .toList()
                : statedSitesOf(pipeline).stream()
                        .flatMap(site -> site.edges().stream())
                        .distinct()
                        .toList();
    }

    /** Returns what keeps from telling which edges are purged. */
    public List<Need> openPurges(Pipeline pipeline) {
        return steps(pipeline).stream()
                .filter(step -> step.operation() instanceof Operation.Invalidate invalidation
                        && !invalidation.distribution().isKnown()
                        && edgesOf(pipeline, invalidation.distribution()).size() != 1)
                .map(step ->
                        pipeline.openPlace(step, "endpoint", ((Operation.Invalidate) step.operation()).distribution()))
                .distinct()
                .toList();
    }

    /** True when a pipeline purges the edge, or may. */
    public boolean purges(WebSite site, Edge edge) {
        return pipelines.stream().anyMatch(pipeline -> steps(pipeline).stream()
                .anyMatch(step -> step.operation() instanceof Operation.Invalidate invalidation
                        && edgesOf(pipeline, invalidation.distribution()).contains(edge)
                        && (invalidation.distribution().isKnown()
                                || sitesOf(pipeline).contains(site))));
    }

    @Override
    public synchronized List<UnreadPipeline> unread() {
        if (unread == null) {
            unread = UnreadPipeline.find(cloud.accounts(), cloud.sites(), pipelines);
        }
        return unread;
    }

    /** Returns the principal that a step works with; absent when none of the surveyed ones can be told to be it. */
    public Optional<Principal> principalOf(Pipeline pipeline, DeploymentStep step) {
        Optional<CredentialUse> use = step.credential();
        boolean isOther = use.filter(each -> !each.kind().isPrincipal()).isPresent();
        if (!step.provider().equals(provider()) || isOther) {
            return Optional.empty();
        }
        if (use.filter(AzureDeployments::isNamed).isPresent()) {
            return byName(step);
        }
        List<WebSite> published = sitesOf(pipeline);
        // Who is behind a connection of the forge only the site file says.
        boolean isConnection =
                use.filter(each -> each.kind() == Kind.SERVICE_CONNECTION).isPresent();
        List<Principal> candidates = principals.stream()
                .filter(each -> each.sites().stream()
                        .anyMatch(site -> published.contains(site) && (!isConnection || isStated(each, site))))
                .map(AzurePublisher::principal)
                .filter(principal ->
                        use.isEmpty() || signsIn(principal, use.get().kind()))
                .distinct()
                .toList();
        return candidates.size() == 1 ? Optional.of(candidates.get(0)) : Optional.empty();
    }

    private static boolean isStated(AzurePublisher publisher, WebSite site) {
        return site.stated().stream()
                .flatMap(stated -> stated.credentials().stream())
                .flatMap(word -> publisher.account().reach().principals().named(word).stream())
                .anyMatch(named -> named.id().equals(publisher.principal().id()));
    }

    private static boolean isNamed(CredentialUse use) {
        return use.kind() != Kind.SERVICE_CONNECTION
                && use.name().isKnown()
                && !use.name().text().isEmpty();
    }

    private Optional<Principal> byName(DeploymentStep step) {
        return step.credential()
                .filter(use -> use.kind().isPrincipal() && isNamed(use))
                .flatMap(use -> cloud.accounts().stream()
                        .flatMap(account ->
                                account.reach().principals().named(use.name().text()).stream())
                        .findFirst());
    }

    /** Returns whether a principal can sign in so, as far as the survey shows. */
    private static boolean signsIn(Principal principal, Kind kind) {
        return switch (kind) {
            case PRINCIPAL_BY_TOKEN ->
                !principal.federated().isEmpty() || !principal.unread().isEmpty();
            case PRINCIPAL_BY_PASSWORD ->
                !principal.isManagedIdentity()
                        && (principal.secrets().stream().anyMatch(Principal.Secret::isPassword)
                                || !principal.unread().isEmpty());
            case PRINCIPAL_BY_CERTIFICATE ->
                !principal.isManagedIdentity()
                        && (principal.secrets().stream().anyMatch(secret -> !secret.isPassword())
                                || !principal.unread().isEmpty());
            case MANAGED_IDENTITY -> principal.isManagedIdentity();
            default -> true;
        };
    }

    /** A step and its pipeline. */
    public record StepOf(Pipeline pipeline, DeploymentStep step) {}

    /** Returns the steps that work with a principal, and those of the same line that work with a key which it fetches for them. */
    public List<StepOf> stepsOf(Principal principal) {
        List<StepOf> all = new ArrayList<>();
        for (Pipeline pipeline : pipelines) {
            Set<Integer> fetching = new LinkedHashSet<>();
            boolean worksHere = steps(pipeline).stream().anyMatch(step -> isOf(pipeline, step, principal));
            for (DeploymentStep step : steps(pipeline)) {
                // What is not understood may be done by whoever has signed in.
                boolean isOwn = isOf(pipeline, step, principal)
                        || (worksHere
                                && step.provider().isEmpty()
                                && step.operation() instanceof Operation.NotUnderstood);
                if (isOwn && fetchesKey(step)) {
                    fetching.add(step.line());
                }
                boolean isByFetchedKey = fetching.contains(step.line())
                        && step.credential()
                                .filter(use -> use.kind() == Kind.STORE_KEY)
                                .isPresent();
                if (isOwn || isByFetchedKey) {
                    all.add(new StepOf(pipeline, step));
                }
            }
        }
        return all;
    }

    private boolean isOf(Pipeline pipeline, DeploymentStep step, Principal principal) {
        return principalOf(pipeline, step)
                .filter(each -> each.id().equals(principal.id()))
                .isPresent();
    }

    /** Returns the identifier of what a call is about: the subscription, a storage account; absent where nothing tells. */
    public Optional<String> resourceOf(Pipeline pipeline, PipelineValue on, AzureAccount account) {
        if (on.text().equals("subscription")) {
            return Optional.of(account.subscription().id());
        }
        return on.text().startsWith("storageAccounts/")
                ? accountOf(pipeline, Target.inAccount(on)).map(StorageAccount::id)
                : Optional.empty();
    }

    /** True for a step that fetches an account's key. */
    public static boolean fetchesKey(DeploymentStep step) {
        return step.operation() instanceof Operation.Call call && call.action().equals(Actions.LIST_KEYS);
    }

    /** Returns the storage accounts whose key a pipeline works with, each with the first step that does. */
    Map<StorageAccount, DeploymentStep> keyed(Pipeline pipeline, Predicate<Kind> kinds) {
        Map<StorageAccount, DeploymentStep> all = new IdentityHashMap<>();
        for (DeploymentStep step : steps(pipeline)) {
            boolean isKeyed =
                    step.credential().filter(use -> kinds.test(use.kind())).isPresent();
            if (isKeyed) {
                step.place()
                        .flatMap(place -> accountOf(pipeline, place))
                        .ifPresent(account -> all.putIfAbsent(account, step));
            }
        }
        return all;
    }
}
