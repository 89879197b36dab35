package warden.core.azure.site;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ForkJoinTask;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import warden.core.azure.access.AccessRules;
import warden.core.azure.access.Reach;
import warden.core.azure.account.Item;
import warden.core.azure.account.Listed;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.Subscription;
import warden.core.azure.edge.Edge;
import warden.core.azure.edge.Edges;
import warden.core.azure.names.DnsZone;
import warden.core.survey.Need;
import warden.core.survey.Survey;
import warden.core.survey.SurveyedAccount;

/** One subscription with all that is worked out from its survey. Safe for use by several threads. */
public final class AzureAccount implements SurveyedAccount {
    private static final Pattern RECORD_SET = Pattern.compile("(?i).*/dnszones/([^/]+)/(A|AAAA|CNAME)/([^/]+)$");

    private final Subscription subscription;
    private final Reach reach;
    private final Edges edges;
    private final Map<String, Edge> edgesById;
    private @Nullable List<DnsZone> zones;

    public AzureAccount(Survey survey) {
        this.subscription = new Subscription(survey);
        subscription.readAhead();
        // The rules first: what its lists leave open hangs on them. Then the edges and the principals side by side.
        AccessRules rules = new AccessRules(subscription);
        ForkJoinTask<Edges> reading =
                ForkJoinTask.adapt(() -> new Edges(subscription)).fork();
        this.reach = new Reach(rules);
        this.edges = reading.join();
        this.edgesById = edges.byId();
    }

    @Override
    public String number() {
        return subscription.number();
    }

    @Override
    public Survey survey() {
        return subscription.survey();
    }

    public Subscription subscription() {
        return subscription;
    }

    public Reach reach() {
        return reach;
    }

    public Edges edges() {
        return edges;
    }

    /** Returns the edge with this identifier. */
    public Optional<Edge> edge(String id) {
        return Optional.ofNullable(edgesById.get(ResourceId.key(id)));
    }

    /** Returns the zones that it hosts. */
    public synchronized List<DnsZone> zones() {
        if (zones == null) {
            List<DnsZone> all = new ArrayList<>();
            zoneList().items().forEach(item -> all.add(new DnsZone(subscription, item, this::hostOf)));
            zones = List.copyOf(all);
        }
        return zones;
    }

    private Listed zoneList() {
        return subscription.list("dns-zone-list", subscription.id(), "dns-zone");
    }

    /** Returns what keeps its zones from being known as a whole; absent when they are. */
    public Optional<Need> unlistedZones() {
        return zoneList().open();
    }

    /** Returns the host that an alias record's target has; absent where it is gone, or not known. */
    private Optional<String> hostOf(String resource) {
        Matcher set = RECORD_SET.matcher(resource);
        if (set.matches()) {
            String zone = set.group(1).toLowerCase(Locale.ROOT);
            String name = set.group(3).toLowerCase(Locale.ROOT);
            return Optional.of(name.equals("@") ? zone : name + "." + zone);
        }
        return edge(resource).map(Edge::host);
    }

    /** Returns the managed fronts, which are named and not modelled. */
    public List<Item> managedFronts() {
        return staticSites().items();
    }

    /** Returns what keeps the managed fronts from being known as a whole; absent when they are. */
    public Optional<Need> unlistedManagedFronts() {
        return staticSites().open();
    }

    private Listed staticSites() {
        return subscription.list("static-site-list", subscription.id(), "static-site");
    }
}
