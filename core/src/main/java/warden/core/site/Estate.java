package warden.core.site;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.account.Account;
import warden.core.decision.Evaluator;
import warden.core.policy.Truth;
import warden.core.reach.Reach;
import warden.core.storage.Bucket;

/** All surveyed accounts together, with the sites that were found in them. */
public final class Estate {
    private final Map<Account, Reach> reaches = new LinkedHashMap<>();
    private final SiteFile file;
    private final HostDirectory hosts;
    private final List<Site> sites;

    /** Finds the sites of {@code accounts}, of which there is at least one. */
    public Estate(List<Account> accounts, SiteFile file) {
        accounts.forEach(account -> reaches.put(account, new Reach(new Evaluator(account))));
        this.file = file;
        this.hosts = new HostDirectory(accounts);
        this.sites = accounts.isEmpty() ? List.of() : new SiteFinder(reaches, hosts, file).find();
    }

    public List<Account> accounts() {
        return List.copyOf(reaches.keySet());
    }

    public SiteFile file() {
        return file;
    }

    public HostDirectory hosts() {
        return hosts;
    }

    public List<Site> sites() {
        return sites;
    }

    /** Returns the engine that speaks for an account. */
    public Reach reach(Account account) {
        return reaches.get(account);
    }

    /** Returns the sites that a bucket serves. */
    public List<Site> sitesOf(Bucket bucket) {
        return sites.stream()
                .filter(site ->
                        site.buckets().stream().anyMatch(other -> other.arn().equals(bucket.arn())))
                .collect(Collectors.toList());
    }

    /** Returns the account that owns the bucket of this name; absent when no survey knows it as its own. */
    public Optional<Account> ownerOf(String bucketName) {
        return reaches.keySet().stream()
                .filter(account -> account.ownsBucket(bucketName) == Truth.TRUE)
                .findFirst();
    }
}
