package warden.core.aws.trace;

import java.time.Instant;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.Delegation;
import warden.core.aws.site.Leads;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.cloud.Following;
import warden.core.document.DisplayText;
import warden.core.names.HostRecord;
import warden.core.names.Lead;
import warden.core.names.Zone;
import warden.core.site.SiteFile;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.trace.Case;
import warden.core.trace.Journal;
import warden.core.trace.Outcome;
import warden.core.trace.Outcome.Failure;
import warden.core.trace.OutcomeSet;
import warden.core.trace.Remedy;
import warden.core.trace.Step.At;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;

/**
 * Follows a visitor's request from the name to the answer. A visitor has no credentials; nothing is sent.
 *
 * <p>Source: CloudFront Developer Guide, "Use custom URLs by adding alternate domain names (CNAMEs)"; S3 User Guide, "Virtual
 * hosting of general purpose buckets", "Website endpoints".
 */
public final class Tracer implements Following {
    private static final String CDN_SUFFIX = ".cloudfront.net";
    private final AwsCloud cloud;
    private final boolean triesRemedies;

    public Tracer(AwsCloud cloud) {
        this(cloud, true);
    }

    /**
     * Follows requests.
     *
     * @param triesRemedies whether to look for the smallest change that mends what fails, by trying several; it takes its time
     */
    public Tracer(AwsCloud cloud, boolean triesRemedies) {
        this.cloud = cloud;
        this.triesRemedies = triesRemedies;
    }

    /** Follows a GET request. */
    public Trace trace(WebAddress address, Instant at) {
        return trace(Visit.get(address, at));
    }

    @Override
    public Trace trace(Visit visit) {
        Followed followed = follow(visit);
        return triesRemedies
                ? followed.trace().withRemedy(new RemedyTrial(cloud, visit).told(followed))
                : followed.trace();
    }

    /** A request followed to its end, and what is to be done about what decided. */
    record Followed(Trace trace, Remedy remedy) {}

    Followed follow(Visit visit) {
        Journal journal = new Journal(triesRemedies);
        OutcomeSet fate = named(visit, journal);
        conclude(journal, fate);
        Trace trace = journal.close(visit.address(), fate);
        Remedy remedy = routed(visit, trace).orElse(journal.remedy());
        return new Followed(trace.withRemedy(remedy.says()), remedy);
    }

    /** An address within a single-page application names no object of its own, so that there is none to upload. */
    private Optional<Remedy> routed(Visit visit, Trace trace) {
        String path = visit.address().decodedPath();
        String host = visit.address().host();
        boolean isView = path.lastIndexOf('.') < path.lastIndexOf('/') && path.length() > 1;
        Optional<BucketSite> site = cloud.siteOf(host).filter(each -> each.routing() == SiteFile.Routing.SINGLE_PAGE);
        if (!isView
                || site.isEmpty()
                || !trace.surely(Outcome::isError)
                || !trace.remedy().equals(StorageTrace.UPLOAD)) {
            return Optional.empty();
        }
        return Optional.of(new HostRemedies(cloud).linksToFrontPage(host));
    }

    private static void conclude(Journal journal, OutcomeSet fate) {
        String all = String.join(
                ", or ",
                fate.outcomes().stream()
                        .map(outcome -> outcome.said() + outcome.asWhat())
                        .toList());
        String says = fate.isCertain()
                ? "The visitor gets " + all + "."
                : fate.outcomes().isEmpty()
                        ? "What the visitor gets is not known."
                        : "What the visitor gets is not certain: " + all + (fate.open() ? ", or something else." : ".");
        journal.step(At.ANSWER, says);
    }

    private OutcomeSet named(Visit visit, Journal journal) {
        String host = visit.address().host();
        if (visit.address().isLiteralAddress()) {
            journal.step(At.NAME, host + " is an address, not a name; surveys know hosts by name only.");
            journal.decides("Ask for the host's name.");
            return OutcomeSet.anything();
        }
        Optional<StorageEndpoint> storage = StorageEndpoint.parse(host);
        if (storage.isPresent()) {
            journal.step(
                    At.NAME,
                    host + " is the storage service's own name for "
                            + (storage.get().isWebsite() ? "a website endpoint." : "its REST endpoint."));
            return toStorage(visit, storage.get(), true, journal);
        }
        if (host.endsWith(CDN_SUFFIX)) {
            journal.step(At.NAME, host + " is a name that the CDN gives to a distribution.");
            return toEdge(visit, host, journal);
        }
        List<Lead> leads = cloud.hosts().leads(host);
        List<HostRecord> records = cloud.hosts().records(host);
        Optional<OutcomeSet> undelegated = undelegated(host, journal);
        if (undelegated.isPresent()) {
            return undelegated.get();
        }
        if (records.isEmpty()) {
            return nameless(host, visit, journal);
        }
        sayWhereItLeads(host, records, leads, journal);
        boolean plainAddress =
                records.stream().anyMatch(record -> record.targets().isEmpty());
        OutcomeSet fate = plainAddress ? elsewhere(host, records, journal) : new OutcomeSet(List.of(), false);
        Set<String> targets = new LinkedHashSet<>();
        for (Lead lead : leads) {
            if (targets.add(lead.target())) {
                fate = fate.or(led(visit, lead, journal));
            }
        }
        return fate;
    }

    /** What a zone says that nobody is led to has no effect. */
    private Optional<OutcomeSet> undelegated(String host, Journal journal) {
        Optional<String> zone = cloud.hosts().zoneOf(host).flatMap(Zone::name);
        Optional<Delegation.Undelegated> found = zone.flatMap(name -> Delegation.undelegated(cloud, name));
        if (found.isEmpty()) {
            return Optional.empty();
        }
        String name = zone.orElseThrow();
        if (found.get().others().isEmpty()) {
            journal.step(
                    At.NAME,
                    "The zone above does not hand " + name + " to the name servers of its zone, so nobody asks them.",
                    found.get().at());
            journal.decides("Add an NS record for " + name + " with the zone's name servers to the zone above.");
            boolean answeredAbove = cloud.hosts().records(host).stream()
                    .anyMatch(record -> cloud.hosts().zonesNamed(name).stream()
                            .noneMatch(own -> own.id().equals(record.zone())));
            return Optional.of(
                    answeredAbove ? OutcomeSet.anything() : OutcomeSet.of(Outcome.of(Failure.NAME_NOT_FOUND)));
        }
        String others = String.join(", ", new TreeSet<>(found.get().others()));
        journal.step(
                At.NAME,
                "The domain " + name + " is delegated to " + others
                        + ", not to its surveyed zone; what they answer is not known.",
                found.get().at());
        journal.need(new Need("zone-records", name, "the zone at " + others + " was not surveyed", ""));
        journal.decides("Set the zone's name servers at the registrar.");
        return Optional.of(OutcomeSet.anything());
    }

    private static void sayWhereItLeads(String host, List<HostRecord> records, List<Lead> leads, Journal journal) {
        String targets =
                String.join(" and ", leads.stream().map(Lead::target).distinct().toList());
        boolean wild = records.get(0).host().startsWith("*");
        List<String> types = records.stream().map(HostRecord::type).distinct().toList();
        boolean overIpv6 = types.contains("AAAA") || types.contains("CNAME");
        String says = host + (targets.isEmpty() ? " has addresses of its own" : " leads to " + targets)
                + (wild ? ", by the wildcard record " + records.get(0).host() : "") + " ("
                + String.join(", ", types) + (overIpv6 ? "" : "; no AAAA, so IPv4 only") + ").";
        journal.step(At.NAME, says, records.stream().map(HostRecord::at).toList());
    }

    private OutcomeSet elsewhere(String host, List<HostRecord> records, Journal journal) {
        journal.step(
                At.NAME,
                "What answers at the addresses of " + host + " is not part of a survey.",
                records.stream().map(HostRecord::at).toList());
        journal.need(new Need("zone-records", records.get(0).zone(), "a server at an address is not surveyed", ""));
        journal.decides("");
        return OutcomeSet.anything();
    }

    /** A host without address records: found nowhere, if its zone was read as a whole and is the one that counts. */
    private OutcomeSet nameless(String host, Visit visit, Journal journal) {
        Optional<Zone> zone = cloud.hosts().zoneOf(host);
        if (zone.isEmpty()
                || cloud.hosts().isDelegatedAway(host, zone.get())
                || !zone.get().isComplete()) {
            String why = zone.isEmpty()
                    ? "No surveyed zone holds " + host + "; where it leads is not known."
                    : !zone.get().isComplete()
                            ? "The records of the zone that holds " + host + " were not all read."
                            : host + " is delegated to name servers that were not surveyed.";
            journal.step(
                    At.NAME,
                    why,
                    zone.flatMap(found -> found.records().citation()).map(at -> at.at("", "")));
            zone.flatMap(found -> found.records().missing())
                    .ifPresentOrElse(
                            journal::need,
                            () -> journal.need(new Need(
                                    "zone-records",
                                    zone.map(Zone::id).orElse(host),
                                    "never asked",
                                    "route53:ListResourceRecordSets")));
            journal.decides("");
            return listedSomewhere(host, visit, journal);
        }
        journal.step(
                At.NAME,
                host + " has no address record in its zone "
                        + zone.get().name().orElse(zone.get().id()) + ".",
                zone.get().records().citation().map(at -> at.at("", "")));
        journal.decides(new HostRemedies(cloud).record(host, zone.get()));
        return OutcomeSet.of(Outcome.of(Failure.NAME_NOT_FOUND));
    }

    /** Where DNS was not read but a distribution lists the host, that is what it probably leads to. */
    private OutcomeSet listedSomewhere(String host, Visit visit, Journal journal) {
        Optional<Account> account = new HostRemedies(cloud).accountListing(host);
        if (account.isEmpty()) {
            return bearingTheName(host, visit, journal);
        }
        journal.step(At.EDGE, "A distribution lists " + host + "; if the name leads to the CDN, this is what follows.");
        return OutcomeSet.anything(toEdge(visit, host, journal));
    }

    /** A website endpoint answers for the bucket that bears the host's name, and is used by no other name. */
    private OutcomeSet bearingTheName(String host, Visit visit, Journal journal) {
        Optional<Bucket> bucket = cloud.ownerOf(host)
                .map(account -> account.bucket(host))
                .filter(each -> each.website().found().isPresent());
        if (bucket.isEmpty()) {
            return OutcomeSet.anything();
        }
        journal.step(
                At.WEBSITE,
                "A bucket bears the name " + host
                        + "; if the name leads to its website endpoint, this is what follows.");
        StorageEndpoint endpoint =
                new StorageEndpoint(Optional.of(host), bucket.get().region().found(), true);
        return OutcomeSet.anything(toStorage(visit, endpoint, false, journal));
    }

    private OutcomeSet led(Visit visit, Lead lead, Journal journal) {
        if (Leads.isDistribution(lead)) {
            return toEdge(visit, lead.target(), journal);
        }
        if (Leads.storage(lead).isPresent()) {
            return toStorage(visit, Leads.storage(lead).get(), false, journal);
        }
        boolean inOwnZone = cloud.hosts().zoneOf(lead.target()).isPresent();
        journal.step(
                At.NAME,
                inOwnZone && cloud.hosts().records(lead.target()).isEmpty()
                        ? lead.target() + " has no address record itself."
                        : "What " + DisplayText.name(lead.target()) + " answers is not part of a survey.",
                lead.record().at());
        if (inOwnZone
                && cloud.hosts().records(lead.target()).isEmpty()
                && cloud.hosts().zoneOf(lead.target()).filter(Zone::isComplete).isPresent()) {
            journal.decides("Point the record at something that exists.");
            return OutcomeSet.of(Outcome.of(Failure.NAME_NOT_FOUND));
        }
        journal.need(new Need(
                "zone-records", lead.record().zone(), "what " + lead.target() + " answers is not surveyed", ""));
        journal.decides("");
        return OutcomeSet.anything();
    }

    // ---- the edge

    private OutcomeSet toEdge(Visit visit, String target, Journal journal) {
        WebAddress address = visit.address();
        String host = address.host();
        Optional<OutcomeSet> wrongPort = wrongPort(visit, "the edge", journal);
        if (wrongPort.isPresent()) {
            return wrongPort.get();
        }
        Optional<Account> owner = nearestAccount(host);
        Optional<Distribution> distribution =
                owner.flatMap(account -> account.edges().distributionsByHost().nearest(host));
        if (distribution.isEmpty()) {
            return unlisted(visit, target, journal);
        }
        Handshake handshake = address.secure()
                ? handshake(owner.get(), distribution.get(), host, visit.at(), journal)
                : Handshake.WORKS;
        if (handshake == Handshake.FAILS) {
            return OutcomeSet.of(Outcome.of(Failure.TLS));
        }
        Evaluator evaluator = cloud.reach(owner.get()).evaluator();
        EdgeTrace edge = new EdgeTrace(owner.get(), evaluator, journal);
        OutcomeSet fate = edge.follow(distribution.get(), visit);
        fate.outcomes().stream()
                .limit(1)
                .flatMap(outcome -> edge.freshness(distribution.get(), visit, outcome).stream())
                .forEach(says -> journal.step(At.ANSWER, says));
        return handshake == Handshake.UNKNOWN ? fate.or(OutcomeSet.of(Outcome.of(Failure.TLS))) : fate;
    }

    /** Returns the account whose distribution is meant most closely for the host; of several, the first. */
    private Optional<Account> nearestAccount(String host) {
        Optional<Account> owner = Optional.empty();
        int nearness = 0;
        for (Account account : cloud.accounts()) {
            int here = account.edges()
                    .distributionsByHost()
                    .nearest(host)
                    .map(distribution -> distribution.nearness(host))
                    .orElse(0);
            if (here > nearness) {
                owner = Optional.of(account);
                nearness = here;
            }
        }
        return owner;
    }

    private OutcomeSet unlisted(Visit visit, String target, Journal journal) {
        String host = visit.address().host();
        boolean managed =
                cloud.accounts().stream().anyMatch(account -> account.names().isManagedFront(target));
        boolean described = cloud.accounts().stream().anyMatch(account -> account.edges().distributions().stream()
                .anyMatch(each -> each.domain().equals(target)));
        boolean listKnown = cloud.accounts().stream()
                .allMatch(account ->
                        account.edges().listedDistributionDomains().found().isPresent());
        if (managed) {
            journal.step(At.EDGE, "A managed hosting front has " + host + "; what it answers is not modelled.");
            journal.need(new Need("managed-app-domain", host, "what a managed front answers is not modelled", ""));
            journal.decides("");
            return OutcomeSet.anything();
        }
        Optional<UnreadDistribution> unread = cloud.accounts().stream()
                .flatMap(account -> account.edges().unreadDistributions().stream())
                .filter(each -> each.domain().filter(target::equals).isPresent())
                .findFirst();
        if (unread.isPresent()) {
            journal.step(
                    At.EDGE, "The distribution " + DisplayText.name(target) + " is the account's, and was not read.");
            journal.need(unread.get().need());
            journal.decides("");
            return OutcomeSet.anything();
        }
        if (!described) {
            journal.step(
                    At.EDGE,
                    "The distribution " + DisplayText.name(target)
                            + (listKnown ? " is not in the surveyed accounts." : " was not surveyed."));
            journal.need(new Need(
                    "distribution",
                    target,
                    listKnown ? "it is not in the surveyed accounts" : "never asked",
                    "cloudfront:GetDistribution"));
            journal.decides(listKnown ? "Remove the record, or lead it to a distribution of your own." : "");
            return OutcomeSet.anything(
                    visit.address().secure() ? OutcomeSet.of(Outcome.of(Failure.TLS)) : OutcomeSet.of(Outcome.of(403)));
        }
        List<Citation> because = cloud.accounts().stream()
                .flatMap(account -> account.edges().distributions().stream())
                .filter(each -> each.domain().equals(target))
                .map(each -> each.cite("Aliases"))
                .toList();
        journal.step(
                visit.address().secure() ? At.TLS : At.EDGE,
                "The distribution that " + host + " leads to does not list the host"
                        + (visit.address().secure()
                                ? ", so the edge shows its own certificate, which is for other names."
                                : ": the edge answers 403."),
                because);
        journal.decides(new HostRemedies(cloud).listing(host, target));
        return visit.address().secure() ? OutcomeSet.of(Outcome.of(Failure.TLS)) : OutcomeSet.of(Outcome.of(403));
    }

    /** Whether a TLS connection to the edge comes about. */
    private enum Handshake {
        WORKS,
        FAILS,
        UNKNOWN
    }

    private Handshake handshake(Account account, Distribution distribution, String host, Instant at, Journal journal) {
        Citation cited = distribution.cite("ViewerCertificate");
        if (distribution.domain().equals(host)) {
            journal.step(At.TLS, "The CDN's own certificate covers " + host + ".", cited);
            return Handshake.WORKS;
        }
        if (distribution.certificate().isTheCdns()) {
            journal.step(
                    At.TLS,
                    "The distribution has only the CDN's own certificate, which does not cover " + host + ".",
                    cited);
            journal.decides(HostRemedies.certified(account, distribution, host, at));
            return Handshake.FAILS;
        }
        Optional<Reading<Certificate>> reading =
                distribution.certificate().managed().map(account.names()::certificate);
        if (reading.isEmpty() || reading.get().found().isEmpty()) {
            journal.step(At.TLS, "The certificate that the distribution shows was not read.", cited);
            reading.flatMap(Reading::missing)
                    .ifPresentOrElse(
                            journal::need,
                            () -> journal.need(new Need(
                                    "certificate",
                                    distribution.certificate().keptByIam().orElse(distribution.arn()),
                                    "a certificate kept by IAM is not surveyed",
                                    "")));
            // The edge accepts a host only with a certificate that covers it, so what follows is likely; it may have
            // expired.
            return Handshake.UNKNOWN;
        }
        Certificate certificate = reading.get().found().get();
        if (!certificate.covers(host)) {
            journal.step(
                    At.TLS,
                    "The certificate is for " + String.join(", ", certificate.names()) + ", not for " + host + ".",
                    certificate.at());
            journal.decides(HostRemedies.certified(account, distribution, host, at));
            return Handshake.FAILS;
        }
        if (certificate.isExpired(at)) {
            journal.step(At.TLS, "The certificate has expired.", certificate.at());
            journal.decides(HostRemedies.renewed(account, certificate, at));
            return Handshake.FAILS;
        }
        String protocol = distribution.certificate().minimumProtocol();
        journal.step(
                At.TLS,
                "The certificate covers " + host
                        + (protocol.isEmpty() ? "" : "; the oldest protocol is " + protocol.split("_", 2)[0])
                        + ".",
                certificate.at());
        return Handshake.WORKS;
    }

    // ---- the storage service

    private OutcomeSet toStorage(Visit visit, StorageEndpoint endpoint, boolean ownName, Journal journal) {
        WebAddress address = visit.address();
        if (endpoint.isWebsite() && address.secure()) {
            journal.step(At.TLS, "A website endpoint speaks plain HTTP only; nothing answers over HTTPS.");
            journal.decides("Put a distribution in front of the bucket for HTTPS.");
            return OutcomeSet.of(Outcome.of(Failure.CANNOT_CONNECT));
        }
        Optional<OutcomeSet> wrongPort = wrongPort(visit, "the storage service", journal);
        if (wrongPort.isPresent()) {
            return wrongPort.get();
        }
        if (address.secure() && !ownName) {
            journal.step(At.TLS, "The storage service's certificate does not cover " + address.host() + ".");
            journal.decides("Put a distribution in front of the bucket for HTTPS.");
            return OutcomeSet.of(Outcome.of(Failure.TLS));
        }
        if (address.secure()
                && endpoint.bucket().filter(name -> name.indexOf('.') >= 0).isPresent()) {
            journal.step(
                    At.TLS,
                    "The storage service's wildcard certificate covers one label, and the bucket's name has dots.");
            journal.decides("Address the bucket path-style, or through a distribution.");
            return OutcomeSet.of(Outcome.of(Failure.TLS));
        }
        String decoded = address.decodedPath();
        // Behind a name of one's own, the storage service goes by the Host header.
        Optional<String> name = ownName ? endpoint.bucket() : Optional.of(address.host());
        String key = decoded.substring(1);
        if (name.isEmpty()) {
            int slash = key.indexOf('/');
            String first = slash < 0 ? key : key.substring(0, slash);
            if (first.isEmpty() || endpoint.isWebsite()) {
                return withoutBucket(endpoint, journal);
            }
            name = Optional.of(first);
            key = slash < 0 ? "" : key.substring(slash + 1);
        }
        return inBucket(
                visit, endpoint, name.get(), key, ownName && endpoint.bucket().isEmpty(), journal);
    }

    private static OutcomeSet withoutBucket(StorageEndpoint endpoint, Journal journal) {
        journal.step(At.BUCKET, "The address names no bucket; the storage service shows its own page or refuses.");
        journal.decides("Name a bucket.");
        return OutcomeSet.anything(
                endpoint.isWebsite() ? OutcomeSet.of(Outcome.of(404)) : OutcomeSet.of(Outcome.of(307)));
    }

    private OutcomeSet inBucket(
            Visit visit, StorageEndpoint endpoint, String name, String key, boolean pathStyle, Journal journal) {
        At at = endpoint.isWebsite() ? At.WEBSITE : At.BUCKET;
        Optional<Account> owner = cloud.ownerOf(name);
        if (owner.isEmpty()) {
            boolean notOurs = cloud.accounts().stream().allMatch(account -> account.ownsBucket(name) == Truth.FALSE);
            journal.step(
                    at,
                    "The bucket " + DisplayText.name(name)
                            + (notOurs
                                    ? " is not in the surveyed accounts: it does not exist (404), or is somebody else's."
                                    : " was not surveyed."),
                    cloud.accounts().stream()
                            .flatMap(each -> each.listedBuckets().citation().stream())
                            .findFirst()
                            .map(cited -> cited.at("/Buckets", "")));
            journal.need(new Need(
                    "bucket-list",
                    cloud.accounts().get(0).number(),
                    "whose the bucket is",
                    // Where every list was read, no reading tells more.
                    notOurs ? "" : "s3:ListAllMyBuckets"));
            journal.decides(
                    notOurs
                            ? "Remove the record, or create the bucket in your own account before somebody else does."
                            : "");
            return OutcomeSet.anything(OutcomeSet.of(Outcome.of(404)));
        }
        Bucket bucket = owner.get().bucket(name);
        Optional<String> lies = bucket.region().found();
        Optional<OutcomeSet> elsewhere = wrongRegion(endpoint, lies, pathStyle, at, bucket, journal);
        if (elsewhere.isPresent()) {
            return elsewhere.get();
        }
        StorageTrace storage = new StorageTrace(cloud.reach(owner.get()).evaluator(), journal);
        if (endpoint.isWebsite()) {
            return storage.website(
                    bucket, new StorageTrace.Asked(visit.address(), visit.address(), key), visit, Map.of());
        }
        StorageTrace.Caller everyone = StorageTrace.Caller.everyone(
                VisitContext.of(visit, Optional.of(visit.address().secure()), Map.of()));
        return storage.subresource(bucket, key, everyone, visit)
                .orElseGet(() -> storage.rest(bucket, key, everyone, visit.method()));
    }

    private static Optional<OutcomeSet> wrongRegion(
            StorageEndpoint endpoint, Optional<String> lies, boolean pathStyle, At at, Bucket bucket, Journal journal) {
        String asked = endpoint.region().orElse(pathStyle ? "us-east-1" : lies.orElse(""));
        if (lies.isEmpty() || asked.equals(lies.get())) {
            return Optional.empty();
        }
        journal.step(
                at,
                "The endpoint is that of " + asked + ", and the bucket lies in " + lies.get() + ".",
                bucket.region().citation());
        journal.decides("Use the endpoint of the bucket's own region.");
        return Optional.of(
                endpoint.isWebsite()
                        ? OutcomeSet.of(Outcome.of(404), Outcome.of(301))
                        : OutcomeSet.of(Outcome.of(301), Outcome.of(307), Outcome.of(400)));
    }

    private static Optional<OutcomeSet> wrongPort(Visit visit, String who, Journal journal) {
        if (visit.address().port().isEmpty()) {
            return Optional.empty();
        }
        int port = visit.address().port().getAsInt();
        journal.step(
                At.TLS,
                "Of " + who + "'s ports only 80 (plain) and 443 (TLS) are served, not " + port
                        + (visit.address().secure() ? " over TLS." : " in plain."));
        journal.decides("Leave the port out.");
        return Optional.of(
                port == 80 || port == 443
                        ? OutcomeSet.anything(OutcomeSet.of(Outcome.of(400)))
                        : OutcomeSet.of(Outcome.of(Failure.CANNOT_CONNECT)));
    }

    /** Returns the address of a host's front page, as its visitors come; absent for a name that no address can hold. */
    public Optional<WebAddress> frontPage(String host) {
        return new Cases(cloud).frontPage(host);
    }

    @Override
    public List<Case> cases(String host) {
        return new Cases(cloud).of(host);
    }
}
