package warden.core.azure.publishing;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import warden.core.access.Truth;
import warden.core.azure.access.Actions;
import warden.core.azure.account.Container;
import warden.core.azure.account.ResourceId;
import warden.core.azure.principal.Principal;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.Roles;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.WebSite;
import warden.core.cloud.Publishing;
import warden.core.pipeline.Pipeline;
import warden.core.survey.Need;
import warden.core.survey.SurveyedAccount;

/** The principals that publish the sites: those that the owner states, that a pipeline names, or whose rights look like it; never people. */
public final class AzurePublishing implements Publishing {
    private static final Pattern PUBLISHING_WORD = Pattern.compile(
            "(?i)publish|deploy|upload|release|pipeline|\\bci\\b|\\bcd\\b|github|gitlab|jenkins|actions");

    private final List<AzurePublisher> publishers;
    private final List<Possible> possible = new ArrayList<>();
    private final List<Pipeline> pipelines;

    public AzurePublishing(AzureCloud cloud, List<Pipeline> pipelines) {
        this.pipelines = List.copyOf(pipelines);
        List<AzurePublisher> all = new ArrayList<>();
        for (AzureAccount account : cloud.accounts()) {
            all.addAll(of(cloud, account));
        }
        this.publishers = List.copyOf(all);
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
        List<AzurePublisher> found = new ArrayList<>();
        for (Principal principal : account.reach().principals().all()) {
            List<Pipeline> naming = naming(principal);
            Set<WebSite> own = byPrincipal.computeIfAbsent(principal.id(), id -> new LinkedHashSet<>());
            boolean isStated = !own.isEmpty();
            boolean isKnown = isStated || !naming.isEmpty();
            if (!isKnown && !principal.id().startsWith("servicePrincipals/")) {
                continue;
            }
            List<Need> open = new ArrayList<>();
            for (WebSite site : isStated ? List.<WebSite>of() : sites) {
                Truth writes = writes(account, principal, site.container().orElseThrow(), open);
                Truth looks = isKnown ? Truth.TRUE : looksLike(account, principal, site);
                if (writes.and(looks) == Truth.TRUE) {
                    own.add(site);
                } else if (writes.and(looks) == Truth.UNKNOWN) {
                    open.addAll(principal.unread());
                    possible.add(new Possible(account, principal, site, open));
                }
            }
            if (isKnown || !own.isEmpty()) {
                found.add(new AzurePublisher(account, principal, List.copyOf(own), naming));
            }
        }
        return found;
    }

    private List<Pipeline> naming(Principal principal) {
        return pipelines.stream()
                .filter(pipeline -> principal
                        .clientId()
                        .filter(id ->
                                pipeline.text().text().toLowerCase(Locale.ROOT).contains(id.toLowerCase(Locale.ROOT)))
                        .isPresent())
                .toList();
    }

    private static Truth writes(AzureAccount account, Principal principal, Container web, List<Need> open) {
        return account.reach().rules().byRoles(principal.objectId(), Actions.WRITE, web.blob("index.html"), open);
    }

    /** A principal that signs in by a pipeline's token, is let in just there, or is called so. */
    private static Truth looksLike(AzureAccount account, Principal principal, WebSite site) {
        Container web = site.container().orElseThrow();
        Roles roles = account.reach().rules().roles();
        boolean isLetInHere = roles.assignments().stream()
                .filter(each -> each.principalId().equals(principal.objectId()))
                .map(Assignment::scope)
                .anyMatch(scope -> ResourceId.same(scope, web.id())
                        || ResourceId.same(scope, web.account().id()));
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
    public List<AzurePublisher> publishers() {
        return publishers;
    }

    /** Returns the pipelines that are known, of whichever provider. */
    public List<Pipeline> pipelines() {
        return pipelines;
    }

    /** Returns the principals that publish a site. */
    public List<AzurePublisher> publishersOf(WebSite site) {
        return publishers.stream()
                .filter(publisher -> publisher.sites().contains(site))
                .toList();
    }

    /** Returns the publisher that a principal is. */
    public Optional<AzurePublisher> publisher(String id) {
        return publishers.stream()
                .filter(publisher -> publisher.id().equals(id))
                .findFirst();
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
