package warden.core.aws.site;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.policy.Actor;
import warden.core.aws.reach.Reach;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.aws.storage.Website;
import warden.core.names.HostDirectory;
import warden.core.names.HostRecord;
import warden.core.names.Lead;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.StatedSite;
import warden.core.site.SitePattern;

/** Puts hosts, edges and buckets together into sites. */
final class SiteFinder {
    // By hand: the JVM makes classes at run time for each comparator that the standard library puts together.
    private static final Comparator<String> SHORTEST_FIRST = (one, other) ->
            one.length() != other.length() ? Integer.compare(one.length(), other.length()) : one.compareTo(other);

    private final List<Account> accounts;
    private final Map<Account, Reach> reaches;
    private final HostDirectory directory;
    private final SiteFile file;
    private final List<Draft> drafts = new ArrayList<>();

    SiteFinder(Map<Account, Reach> reaches, HostDirectory directory, SiteFile file) {
        this.accounts = List.copyOf(reaches.keySet());
        this.reaches = reaches;
        this.directory = directory;
        this.file = file;
    }

    /** A site while it is being put together. */
    private static final class Draft {
        private final Account account;
        private final Set<String> hosts = new LinkedHashSet<>();
        private final Set<String> buckets = new LinkedHashSet<>();
        private final List<Distribution> distributions = new ArrayList<>();
        private final List<UnreadDistribution> unread = new ArrayList<>();
        private Optional<StatedSite> stated = Optional.empty();
        private boolean managed;

        Draft(Account account) {
            this.account = account;
        }
    }

    /** Returns the sites, in alphabetical order of their names. */
    List<BucketSite> find() {
        for (Account account : accounts) {
            account.edges().distributions().forEach(distribution -> drafts.add(behindEdge(account, distribution)));
            account.edges().unreadDistributions().forEach(unread -> behindUnreadEdge(account, unread));
        }
        for (String host : directory.hosts()) {
            directory.leads(host).forEach(lead -> straightToStorage(host, lead));
        }
        for (Account account : accounts) {
            managedFronts(account);
            hostedAlone(account);
        }
        file.sites().forEach(this::state);
        List<BucketSite> sites =
                drafts.stream().map(this::site).sorted(SiteFinder::inOrder).toList();
        Set<String> names = new HashSet<>();
        return sites.stream().map(site -> named(site, names)).toList();
    }

    /** By name; of one name first what the site file states, then what has hosts. */
    private static int inOrder(BucketSite one, BucketSite other) {
        int byName = one.name().compareTo(other.name());
        if (byName != 0) {
            return byName;
        }
        int byStatement = Boolean.compare(one.stated().isEmpty(), other.stated().isEmpty());
        return byStatement != 0
                ? byStatement
                : Boolean.compare(one.hosts().isEmpty(), other.hosts().isEmpty());
    }

    /** Returns what would be a site each: buckets of none of these sites whose website configuration was not read. */
    List<BucketSite> possible(List<BucketSite> sites) {
        Set<String> known = new HashSet<>();
        sites.forEach(site -> site.buckets().forEach(bucket -> known.add(bucket.arn())));
        List<BucketSite> possible = new ArrayList<>();
        for (Account account : accounts) {
            for (Bucket bucket : account.buckets()) {
                if (!known.contains(bucket.arn()) && bucket.website().missing().isPresent()) {
                    Draft draft = new Draft(account);
                    draft.buckets.add(bucket.name());
                    possible.add(site(draft));
                }
            }
        }
        return possible;
    }

    /** A bucket may carry the name of a host that leads elsewhere; reports and questions tell sites apart by their names. */
    private static BucketSite named(BucketSite site, Set<String> taken) {
        String name = site.name();
        for (int i = 2; !taken.add(name); i++) {
            name = site.name() + " (" + i + ")";
        }
        return name.equals(site.name()) ? site : site.named(name);
    }

    private Draft behindEdge(Account account, Distribution distribution) {
        Draft draft = new Draft(account);
        draft.distributions.add(distribution);
        draft.hosts.addAll(distribution.aliases());
        draft.hosts.addAll(directory.hostsLeadingTo(distribution.domain()));
        distribution.origins().forEach(origin -> origin.bucket().ifPresent(draft.buckets::add));
        return draft;
    }

    /** An edge that was not read is known by its hosts, if the list of edges or a record shows them. */
    private void behindUnreadEdge(Account account, UnreadDistribution unread) {
        Draft draft = new Draft(account);
        draft.unread.add(unread);
        draft.hosts.addAll(unread.aliases());
        unread.domain().ifPresent(domain -> draft.hosts.addAll(directory.hostsLeadingTo(domain)));
        unread.buckets().ifPresent(draft.buckets::addAll);
        if (!draft.hosts.isEmpty() || !draft.buckets.isEmpty()) {
            drafts.add(draft);
        }
    }

    private void straightToStorage(String host, Lead lead) {
        Optional<String> bucket = Leads.storage(lead).flatMap(StorageEndpoint::bucket);
        if (bucket.isEmpty()) {
            return;
        }
        boolean known =
                drafts.stream().anyMatch(draft -> draft.hosts.contains(host) && draft.buckets.contains(bucket.get()));
        if (!known) {
            Draft draft = new Draft(ownerOf(bucket.get()).orElseGet(() -> homeOfHost(host)));
            draft.hosts.add(host);
            draft.buckets.add(bucket.get());
            drafts.add(draft);
        }
    }

    /** Returns the account whose zone holds the host's records; the first where none does. */
    private Account homeOfHost(String host) {
        for (HostRecord record : directory.recordsOfAnyType(host)) {
            for (Account account : accounts) {
                if (account.survey().header().file().equals(record.at().file())) {
                    return account;
                }
            }
        }
        return accounts.get(0);
    }

    private Optional<Account> ownerOf(String bucket) {
        return accounts.stream()
                .filter(account -> account.ownsBucket(bucket) == Truth.TRUE)
                .findFirst();
    }

    private void managedFronts(Account account) {
        for (String subject : account.survey().subjects("managed-app-domain")) {
            account.survey().reading("managed-app-domain", subject).found().ifPresent(answer -> {
                String domain = answer.text("domainAssociation", "domainName").orElse("");
                Draft draft = new Draft(account);
                draft.managed = true;
                answer.list("domainAssociation", "subDomains").forEach(part -> {
                    String prefix = part.text("subDomainSetting", "prefix").orElse("");
                    draft.hosts.add(prefix.isEmpty() ? domain : prefix + "." + domain);
                });
                if (!domain.isEmpty() && draft.hosts.isEmpty()) {
                    draft.hosts.add(domain);
                }
                if (!draft.hosts.isEmpty()) {
                    drafts.add(draft);
                }
            });
        }
    }

    private void hostedAlone(Account account) {
        Set<String> known = new HashSet<>();
        Map<String, Draft> unreadByHost = new HashMap<>();
        drafts.forEach(draft -> {
            known.addAll(draft.buckets);
            if (!draft.unread.isEmpty()) {
                draft.hosts.forEach(host -> unreadByHost.putIfAbsent(host, draft));
            }
        });
        for (Bucket bucket : account.buckets()) {
            boolean hosted = bucket.website().found().isPresent();
            if (hosted && known.add(bucket.name())) {
                // A bucket that carries the name of a host behind an edge that was not read is most likely what that
                // edge serves.
                Draft draft = unreadByHost.computeIfAbsent(bucket.name(), name -> {
                    Draft alone = new Draft(account);
                    drafts.add(alone);
                    return alone;
                });
                draft.buckets.add(bucket.name());
            }
        }
    }

    private void state(StatedSite stated) {
        Optional<Draft> match = drafts.stream()
                .filter(draft -> draft.stated.isEmpty() && belongs(draft, stated))
                .findFirst();
        Draft draft = match.orElseGet(() -> {
            Draft fresh = new Draft(stated.bucket()
                    .flatMap(this::ownerOf)
                    .or(() -> stated.hosts().stream().findFirst().map(this::homeOfHost))
                    .orElse(accounts.get(0)));
            drafts.add(fresh);
            return fresh;
        });
        draft.stated = Optional.of(stated);
        draft.hosts.addAll(stated.hosts());
        stated.bucket().ifPresent(draft.buckets::add);
        // Other finds about the same hosts are parts of the stated site.
        List<Draft> parts = drafts.stream()
                .filter(other -> other != draft && other.stated.isEmpty() && belongs(other, stated))
                .toList();
        for (Draft part : parts) {
            draft.hosts.addAll(part.hosts);
            draft.buckets.addAll(part.buckets);
            draft.distributions.addAll(part.distributions);
            draft.unread.addAll(part.unread);
            draft.managed |= part.managed;
            drafts.remove(part);
        }
    }

    private static boolean belongs(Draft draft, StatedSite stated) {
        boolean bucketFits = stated.bucket().filter(draft.buckets::contains).isPresent();
        return bucketFits || stated.hosts().stream().anyMatch(draft.hosts::contains);
    }

    private BucketSite site(Draft draft) {
        List<Bucket> buckets = draft.buckets.stream()
                .flatMap(name -> owner(draft, name).map(account -> account.bucket(name)).stream())
                .toList();
        List<String> hosts = draft.hosts.stream().sorted(SHORTEST_FIRST).toList();
        String name = draft.stated
                .map(StatedSite::name)
                .orElseGet(() -> hosts.isEmpty()
                        ? draft.buckets.stream()
                                .findFirst()
                                .orElseGet(() -> draft.distributions.get(0).domain())
                        : hosts.get(0));
        return new BucketSite(
                name,
                draft.account,
                new PatternOfParts(() -> pattern(draft, buckets)),
                draft.stated,
                hosts,
                buckets,
                draft.distributions,
                draft.unread);
    }

    /** Returns the account that owns a bucket of a site, or may; absent when it is surely none of the surveyed. */
    private Optional<Account> owner(Draft draft, String bucket) {
        Optional<Account> known = ownerOf(bucket);
        return known.isPresent() || draft.account.ownsBucket(bucket) == Truth.FALSE
                ? known
                : Optional.of(draft.account);
    }

    /** What no host leads to directly may be what an edge fetches from. */
    private static boolean mayBeBehindUnreadEdge(Draft draft) {
        return !draft.unread.isEmpty()
                || (draft.hosts.isEmpty()
                        && draft.account.edges().unreadDistributions().stream()
                                .anyMatch(unread -> draft.buckets.stream().anyMatch(unread::mayServe)));
    }

    private Optional<SitePattern> pattern(Draft draft, List<Bucket> buckets) {
        if (draft.managed) {
            return Optional.of(SitePattern.MANAGED_FRONT);
        }
        boolean redirects = !buckets.isEmpty()
                && buckets.stream().allMatch(bucket -> bucket.website()
                        .found()
                        .filter(Website::redirectsAll)
                        .isPresent());
        if (redirects) {
            return Optional.of(SitePattern.REDIRECT_ONLY);
        }
        if (draft.distributions.isEmpty() && mayBeBehindUnreadEdge(draft)) {
            return Optional.empty();
        }
        if (draft.distributions.isEmpty()) {
            return buckets.isEmpty() ? Optional.empty() : Optional.of(SitePattern.OPEN_BUCKET);
        }
        Optional<Origin> origin = draft.distributions.get(0).defaultOrigin();
        if (origin.filter(Origin::isWebsite).isPresent()) {
            return Optional.of(SitePattern.OPEN_BUCKET_BEHIND_CDN);
        }
        if (origin.flatMap(Origin::bucket).isEmpty()) {
            return Optional.empty();
        }
        Bucket bucket = draft.account.bucket(origin.get().bucket().orElseThrow());
        Extent read = reaches.get(draft.account).strangersExtent(bucket, new Actor.Anyone(), Ability.READ);
        return switch (read.kind()) {
            case ALL, SOME -> Optional.of(SitePattern.OPEN_BUCKET_BEHIND_CDN);
            case NONE -> Optional.of(SitePattern.SEALED_BUCKET_BEHIND_CDN);
            case UNKNOWN -> Optional.empty();
        };
    }
}
