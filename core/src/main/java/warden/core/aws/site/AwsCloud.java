package warden.core.aws.site;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.decision.Evaluators;
import warden.core.aws.policy.Arn;
import warden.core.aws.reach.Reach;
import warden.core.aws.storage.Bucket;
import warden.core.names.HostDirectory;
import warden.core.names.Zone;
import warden.core.site.SiteFile;
import warden.core.survey.Need;

/** All surveyed accounts together, with the sites that were found in them. */
public final class AwsCloud {
    private final Map<Account, Reach> reaches = new LinkedHashMap<>();
    private final List<Zone> otherZones;
    private final SiteFile file;
    private final Optional<Instant> at;
    private final HostDirectory hosts;
    private final List<BucketSite> sites;
    private final List<BucketSite> possibleSites;
    private final Map<String, BucketSite> sitesByHost = new HashMap<>();
    private final Map<String, BucketSite> sitesByParent = new HashMap<>();
    private final Map<String, BucketSite> sitesByDirectParent = new HashMap<>();
    private final Map<String, List<BucketSite>> sitesByBucket = new HashMap<>();
    private final Map<String, BucketSite> sitesByDistribution = new HashMap<>();
    private final Map<String, List<EdgeOrigin>> originsByBucket = new HashMap<>();
    private final Map<String, Distribution> distributionsByDomain = new HashMap<>();
    private final Map<String, List<UnreadDistribution>> unreadByBucket = new HashMap<>();
    private final List<UnreadDistribution> unreadOfAnyBucket = new ArrayList<>();

    /** Finds the sites of {@code accounts}, of which there is at least one, for requests of which no time is known. */
    public AwsCloud(List<Account> accounts, SiteFile file) {
        this(accounts, file, Optional.empty());
    }

    /**
     * Finds the sites of {@code accounts}, of which there is at least one.
     *
     * @param at the instant as of which requests are taken to be sent; absent when nothing tells
     */
    public AwsCloud(List<Account> accounts, SiteFile file, Optional<Instant> at) {
        this(accounts, List.of(), file, at);
    }

    /**
     * Finds the sites of {@code accounts}.
     *
     * @param otherZones the zones of other providers, whose records may lead here
     */
    public AwsCloud(List<Account> accounts, List<Zone> otherZones, SiteFile file, Optional<Instant> at) {
        accounts.forEach(Account::readAhead);
        Evaluators evaluators = new Evaluators(accounts, at);
        accounts.forEach(account -> reaches.put(account, new Reach(evaluators.of(account))));
        this.file = file;
        this.at = at;
        this.otherZones = List.copyOf(otherZones);
        List<Zone> zones = new ArrayList<>();
        accounts.forEach(account -> zones.addAll(account.names().zones()));
        zones.addAll(otherZones);
        this.hosts = new HostDirectory(zones);
        SiteFinder finder = new SiteFinder(reaches, hosts, file);
        this.sites = accounts.isEmpty() ? List.of() : finder.find();
        this.possibleSites = finder.possible(sites);
        for (BucketSite site : sites) {
            for (String host : site.hosts()) {
                sitesByHost.putIfAbsent(host, site);
                sitesByDirectParent.putIfAbsent(host.substring(host.indexOf('.') + 1), site);
                for (int dot = host.indexOf('.'); dot >= 0; dot = host.indexOf('.', dot + 1)) {
                    sitesByParent.putIfAbsent(host.substring(dot + 1), site);
                }
            }
            site.distributions().forEach(distribution -> sitesByDistribution.putIfAbsent(distribution.arn(), site));
            site.unreadDistributions().forEach(unread -> sitesByDistribution.putIfAbsent(unread.arn(), site));
            site.buckets().forEach(bucket -> sitesByBucket
                    .computeIfAbsent(bucket.arn(), arn -> new ArrayList<>())
                    .add(site));
        }
        accounts.forEach(account -> account.edges().distributions().forEach(distribution -> distribution
                .origins()
                .forEach(origin -> origin.bucket().ifPresent(bucket -> originsByBucket
                        .computeIfAbsent(bucket, name -> new ArrayList<>())
                        .add(new EdgeOrigin(distribution, origin))))));
        accounts.forEach(account -> account.edges()
                .distributions()
                .forEach(distribution -> distributionsByDomain.putIfAbsent(distribution.domain(), distribution)));
        accounts.forEach(account -> account.edges().unreadDistributions().forEach(unread -> unread.buckets()
                .ifPresentOrElse(
                        buckets -> buckets.forEach(bucket -> unreadByBucket
                                .computeIfAbsent(bucket, name -> new ArrayList<>())
                                .add(unread)),
                        () -> unreadOfAnyBucket.add(unread))));
    }

    /** Returns the same cloud with its accounts as they are after a change; one that is not concerned comes back as it is. */
    public AwsCloud with(UnaryOperator<Account> change) {
        return new AwsCloud(accounts().stream().map(change).toList(), otherZones, file, at);
    }

    /** Returns the distributions that were not read and may fetch from the bucket of this name. */
    public Stream<UnreadDistribution> unreadDistributionsAt(String bucketName) {
        return Stream.concat(unreadByBucket.getOrDefault(bucketName, List.of()).stream(), unreadOfAnyBucket.stream());
    }

    /** An origin and the distribution that has it. */
    public record EdgeOrigin(Distribution distribution, Origin origin) {}

    public List<Account> accounts() {
        return List.copyOf(reaches.keySet());
    }

    /** Returns what keeps users and roles of the surveyed accounts from being known. */
    public List<Need> unreadPrincipals() {
        return reaches.keySet().stream()
                .flatMap(account -> account.directory().unreadPrincipals().stream())
                .toList();
    }

    public SiteFile file() {
        return file;
    }

    public HostDirectory hosts() {
        return hosts;
    }

    public List<BucketSite> sites() {
        return sites;
    }

    /** Returns what would be a site each, if what was not read were known: buckets whose website configuration is not. */
    public List<BucketSite> possibleSites() {
        return possibleSites;
    }

    /** Returns the engine that speaks for an account. */
    public Reach reach(Account account) {
        return reaches.get(account);
    }

    /** Returns the sites that a bucket serves. */
    public List<BucketSite> sitesOf(Bucket bucket) {
        return sitesByBucket.getOrDefault(bucket.arn(), List.of());
    }

    /** Returns the site whose hosts lead to a distribution that was not read; absent when nothing tells. */
    public Optional<BucketSite> siteBehind(UnreadDistribution unread) {
        return Optional.ofNullable(sitesByDistribution.get(unread.arn()));
    }

    /** Returns the origins of all surveyed distributions that fetch from the bucket of this name, in the order of the surveys. */
    public List<EdgeOrigin> originsAt(String bucketName) {
        return originsByBucket.getOrDefault(bucketName, List.of());
    }

    /** Returns the names of the surveys as the user gave them, in the order of the accounts. */
    public List<String> surveyFiles() {
        return accounts().stream()
                .map(account -> account.survey().header().file())
                .toList();
    }

    /** Returns the account that an identifier is of: by its number, an ARN with it, or the name of one of its buckets; absent where none says so. */
    public Optional<Account> accountOf(String subject) {
        String number = Arn.parse(subject).map(Arn::account).orElse(subject);
        return accounts().stream()
                .filter(account -> account.number().equals(number))
                .findFirst()
                .or(() -> Bucket.nameIn(subject).flatMap(this::ownerOf));
    }

    /** Returns the account that owns the bucket of this name; absent when no survey knows it as its own. */
    public Optional<Account> ownerOf(String bucketName) {
        return reaches.keySet().stream()
                .filter(account -> account.ownsBucket(bucketName) == Truth.TRUE)
                .findFirst();
    }

    /** Returns the site that a distribution serves; of several, the first. */
    public Optional<BucketSite> siteOf(Distribution distribution) {
        return Optional.ofNullable(sitesByDistribution.get(distribution.arn()));
    }

    /** Returns the site that has this host; of several, the first. */
    public Optional<BucketSite> siteOf(String host) {
        return Optional.ofNullable(sitesByHost.get(host));
    }

    /** Returns the first site with a host that one of these names, as a certificate lists them, stands for. */
    public Optional<BucketSite> siteNamedBy(List<String> certificateNames) {
        return certificateNames.stream()
                .map(name -> name.startsWith("*.") ? sitesByDirectParent.get(name.substring(2)) : sitesByHost.get(name))
                .filter(Objects::nonNull)
                .min(Comparator.comparing(BucketSite::name));
    }

    /** Returns the first site with a host below a domain. */
    public Optional<BucketSite> siteBelow(String domain) {
        return Optional.ofNullable(sitesByParent.get(domain));
    }

    /** Returns the surveyed distribution to which the CDN gave this name, in lower case. */
    public Optional<Distribution> distributionNamed(String domain) {
        return Optional.ofNullable(distributionsByDomain.get(domain));
    }
}
