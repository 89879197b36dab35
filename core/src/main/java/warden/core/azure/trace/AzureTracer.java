package warden.core.azure.trace;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.edge.Edge;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.EndpointName;
import warden.core.azure.site.WebSite;
import warden.core.cloud.Following;
import warden.core.names.HostRecord;
import warden.core.names.Lead;
import warden.core.names.Zone;
import warden.core.survey.Need;
import warden.core.trace.Case;
import warden.core.trace.Journal;
import warden.core.trace.Outcome;
import warden.core.trace.Outcome.Failure;
import warden.core.trace.OutcomeSet;
import warden.core.trace.Step.At;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;

/** Follows a visitor's request from the name to the answer. A visitor has no credentials; nothing is sent. */
public final class AzureTracer implements Following {
    private final AzureCloud cloud;

    public AzureTracer(AzureCloud cloud) {
        this.cloud = cloud;
    }

    @Override
    public Trace trace(Visit visit) {
        Journal journal = new Journal(false);
        OutcomeSet all = visit.fetches() ? named(visit, journal) : otherMethod(journal);
        String said = all.outcomes().stream()
                .map(outcome -> outcome.said() + outcome.asWhat())
                .collect(Collectors.joining(", or "));
        journal.step(
                At.ANSWER,
                all.isCertain()
                        ? "The visitor gets " + said + "."
                        : all.outcomes().isEmpty()
                                ? "What the visitor gets is not known."
                                : "What the visitor gets is not certain: " + said
                                        + (all.open() ? ", or something else." : "."));
        return journal.close(visit.address(), all);
    }

    /** Follows a plain GET request. */
    public Trace trace(WebAddress address, Instant at) {
        return trace(Visit.get(address, at));
    }

    private static OutcomeSet otherMethod(Journal journal) {
        journal.step(At.NAME, "What other methods than GET and HEAD come to is not modelled.");
        journal.need(new Need("request", "method", "other methods than GET and HEAD are not modelled", ""));
        journal.decides("");
        return OutcomeSet.anything();
    }

    private OutcomeSet named(Visit visit, Journal journal) {
        String host = visit.address().host();
        if (visit.address().isLiteralAddress()) {
            journal.step(At.NAME, host + " is an address, not a name; surveys know hosts by name only.");
            journal.need(new Need("dns-records", host, "a server at an address is not surveyed", ""));
            journal.decides("Ask for the host's name.");
            return OutcomeSet.anything();
        }
        if (cloud.storage(host).isPresent()
                || cloud.edgeNamed(host).isPresent()
                || EndpointName.parse(host).isPresent()) {
            journal.step(At.NAME, host + " is a name of the provider's own.");
            return led(visit, host, journal);
        }
        List<HostRecord> records = cloud.hosts().records(host);
        if (records.isEmpty()) {
            return nameless(visit, host, journal);
        }
        List<Lead> leads = cloud.hosts().leads(host);
        String targets = leads.stream().map(Lead::target).distinct().collect(Collectors.joining(" and "));
        Set<String> types = records.stream().map(HostRecord::type).collect(Collectors.toCollection(TreeSet::new));
        journal.step(
                At.NAME,
                host + (targets.isEmpty() ? " has a record of its own" : " leads to " + targets) + " ("
                        + String.join(", ", types) + ").",
                records.stream().map(HostRecord::at).toList());
        OutcomeSet all = new OutcomeSet(List.of(), false);
        for (HostRecord record : records) {
            if (record.targets().isEmpty()) {
                all = all.or(withoutTarget(record, journal));
            }
        }
        Set<String> seen = new LinkedHashSet<>();
        for (Lead lead : leads) {
            if (seen.add(lead.target())) {
                all = all.or(led(visit, lead.target(), journal));
            }
        }
        return all;
    }

    private OutcomeSet withoutTarget(HostRecord record, Journal journal) {
        if (record.aliasZone().isPresent()) {
            boolean mayBeUnread = !cloud.unreadEdges().isEmpty()
                    || !record.aliasZone().get().toLowerCase(Locale.ROOT).contains("/microsoft.cdn/");
            journal.step(
                    At.NAME,
                    "The alias record's target " + record.aliasZone().get()
                            + (mayBeUnread ? " is not known." : " is gone, so that it answers nothing."),
                    record.at());
            if (mayBeUnread) {
                journal.needs(cloud.unreadEdges());
                journal.need(new Need("dns-records", record.zone(), "the alias record's target is not surveyed", ""));
                journal.decides("");
                return OutcomeSet.anything();
            }
            journal.decides("Lead the record to an endpoint that is there, or remove it.");
            return OutcomeSet.of(Outcome.of(Failure.NAME_NOT_FOUND));
        }
        journal.step(
                At.NAME,
                "What answers at the addresses of " + record.host() + " is not part of a survey.",
                record.at());
        journal.need(new Need("dns-records", record.zone(), "a server at an address is not surveyed", ""));
        journal.decides("");
        return OutcomeSet.anything();
    }

    private OutcomeSet nameless(Visit visit, String host, Journal journal) {
        Optional<Zone> zone = cloud.hosts().zoneOf(host);
        if (zone.isPresent() && zone.get().isComplete() && !cloud.hosts().isDelegatedAway(host, zone.get())) {
            journal.step(
                    At.NAME,
                    host + " has no address record in its zone "
                            + zone.get().name().orElse(zone.get().id()) + ".",
                    zone.get().records().citation().map(at -> at.at("", "")));
            journal.decides("Add a record for " + host + ".");
            return OutcomeSet.of(Outcome.of(Failure.NAME_NOT_FOUND));
        }
        journal.step(At.NAME, "The zone that holds " + host + " was not read.");
        journal.need(zone.flatMap(Zone::unlisted)
                .orElse(new Need(
                        "dns-records",
                        host,
                        "the zone that holds the host was not read",
                        "Microsoft.Network/dnsZones/recordsets/read")));
        List<Edge> edges = cloud.edgesOf(host);
        Optional<StorageAccount> registered = cloud.storageAccounts().stream()
                .filter(account -> account.customDomain().filter(host::equals).isPresent())
                .findFirst();
        if (edges.isEmpty() && registered.isEmpty()) {
            journal.decides("");
            return OutcomeSet.anything();
        }
        OutcomeSet likely = edges.isEmpty()
                ? led(
                        visit,
                        registered.orElseThrow().webHosts().stream().findFirst().orElse(""),
                        journal)
                : toEdge(visit, edges.get(0), journal);
        return OutcomeSet.anything(likely);
    }

    /** Follows a request to what a name of the provider's own leads to. */
    private OutcomeSet led(Visit visit, String target, Journal journal) {
        Optional<AzureCloud.Storage> storage = cloud.storage(target);
        if (storage.isPresent()) {
            return toStorage(visit, storage.get(), journal);
        }
        Optional<Edge> edge = cloud.edgeNamed(target);
        if (edge.isPresent()) {
            return toEdge(visit, edge.get(), journal);
        }
        Optional<EndpointName> name = EndpointName.parse(target);
        List<Need> open = name.map(this::open).orElse(List.of());
        if (name.isPresent() && open.isEmpty() && isRead(name.get().kind())) {
            journal.step(
                    At.NAME,
                    target
                            + " is of something that is not in the surveyed subscriptions; if it is gone, the name is not found.");
            journal.need(new Need("dns-records", target, "another subscription may hold it", ""));
            journal.decides("Remove the record, or create again what it leads to.");
            return OutcomeSet.anything(OutcomeSet.of(Outcome.of(Failure.NAME_NOT_FOUND)));
        }
        journal.step(At.NAME, "What answers at " + target + " is not part of a survey.");
        journal.needs(open);
        journal.need(new Need("dns-records", target, "a server elsewhere is not surveyed", ""));
        journal.decides("");
        return OutcomeSet.anything();
    }

    private static boolean isRead(EndpointName.Kind kind) {
        return kind == EndpointName.Kind.WEB
                || kind == EndpointName.Kind.BLOB
                || kind == EndpointName.Kind.CLASSIC_EDGE
                || kind == EndpointName.Kind.FRONT_DOOR;
    }

    private List<Need> open(EndpointName name) {
        return name.isStorage()
                ? cloud.accounts().stream()
                        .map(AzureAccount::subscription)
                        .flatMap(subscription -> subscription.unlistedAccounts().stream())
                        .toList()
                : cloud.unreadEdges();
    }

    private OutcomeSet toEdge(Visit visit, Edge edge, Journal journal) {
        return new EdgeAnswer(cloud, journal).to(new EdgeAnswer.Arriving(edge, visit.address(), visit.method()));
    }

    private OutcomeSet toStorage(Visit visit, AzureCloud.Storage storage, Journal journal) {
        String host = visit.address().host();
        StorageAccount account = storage.account();
        boolean secure = visit.address().secure();
        boolean isOwn = account.hosts().anyMatch(host::equals);
        if (secure && !isOwn) {
            journal.step(
                    At.TLS,
                    "The storage endpoint's certificate covers the provider's names only, not " + host + ".",
                    account.cite("primaryEndpoints"));
            journal.decides("Put an edge with a certificate for " + host + " before the account.");
            return OutcomeSet.of(Outcome.of(Failure.TLS));
        }
        if (secure) {
            journal.step(At.TLS, "The endpoint's certificate covers its own name.");
        }
        return new StorageAnswer(journal)
                .to(new StorageAnswer.Arriving(
                        account, storage.isWeb(), host, secure, visit.address().decodedPath(), false));
    }

    @Override
    public List<Case> cases(String host) {
        List<Case> cases = new ArrayList<>();
        boolean isPlain = isPlain(host);
        String base = (isPlain ? "http://" : "https://") + host;
        add(cases, "front page", base + "/");
        Optional<WebSite> site = cloud.siteOf(host);
        site.flatMap(WebSite::container).ifPresent(web -> web.blobs().names().stream()
                .filter(name -> name.endsWith("/index.html"))
                .map(name -> name.substring(0, name.length() - "/index.html".length()))
                .sorted()
                .limit(3)
                .forEach(folder -> add(cases, "folder", base + "/" + WebAddress.escapedKey(folder) + "/")));
        add(cases, "missing page", base + "/no-such-page.html");
        add(cases, "deep link", base + "/no/such/view");
        add(cases, isPlain ? "over HTTPS" : "plain HTTP", (isPlain ? "https://" : "http://") + host + "/");
        site.flatMap(WebSite::container).ifPresent(web -> {
            web.account().webHosts().stream()
                    .limit(1)
                    .filter(own -> !own.equals(host))
                    .forEach(own -> add(cases, "website endpoint", "https://" + own + "/"));
            web.account().blobHosts().stream()
                    .limit(1)
                    .forEach(own -> add(cases, "blob endpoint", "https://" + own + "/$web/index.html"));
        });
        site.map(WebSite::edges).orElse(List.of()).stream()
                .filter(edge -> !edge.host().equals(host))
                .forEach(edge -> add(cases, "CDN's own name", "https://" + edge.host() + "/"));
        return cases;
    }

    /** A host straight on a storage endpoint has no certificate, so plain HTTP is how its visitors come. */
    private boolean isPlain(String host) {
        List<Lead> leads = cloud.hosts().leads(host);
        return !leads.isEmpty()
                && leads.stream().allMatch(lead -> cloud.storage(lead.target()).isPresent());
    }

    private static void add(List<Case> cases, String what, String url) {
        WebAddress.parse(url).address().ifPresent(address -> cases.add(new Case(what, address)));
    }
}
