package warden.core.site;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.account.Account;
import warden.core.dns.HostRecord;
import warden.core.dns.Zone;
import warden.core.storage.StorageEndpoint;

/** Where hosts lead, by the records of all surveyed zones together. */
public final class HostDirectory {
    private static final int LONGEST_CHAIN = 8;
    private static final Set<String> ADDRESSES = Set.of("A", "AAAA", "CNAME");

    private final Map<String, List<HostRecord>> byHost = new LinkedHashMap<>();

    /**
     * Where one record of a host leads in the end.
     *
     * @param record the host's own record
     * @param target the last name of the chain, in lower case
     * @param storage the storage endpoint that the target is, the bucket's name filled in for alias records
     */
    public record Lead(HostRecord record, String target, Optional<StorageEndpoint> storage) {
        /** True when the target is a name that the CDN gives to distributions. */
        public boolean isDistribution() {
            return target.endsWith(".cloudfront.net");
        }
    }

    HostDirectory(List<Account> accounts) {
        for (Account account : accounts) {
            for (Zone zone : account.zones()) {
                if (zone.isPrivate()) {
                    continue;
                }
                zone.records().found().orElse(List.of()).stream()
                        .filter(record -> ADDRESSES.contains(record.type()))
                        .forEach(record -> byHost.computeIfAbsent(record.host(), host -> new ArrayList<>())
                                .add(record));
            }
        }
    }

    /** Returns the hosts that have address records, in the order of the surveys. */
    public Set<String> hosts() {
        return byHost.keySet();
    }

    /** Returns the address records of a host; a wildcard record speaks for hosts that have none of their own. */
    public List<HostRecord> records(String host) {
        List<HostRecord> own = byHost.get(host);
        if (own != null) {
            return own;
        }
        int dot = host.indexOf('.');
        return dot < 0 ? List.of() : byHost.getOrDefault("*" + host.substring(dot), List.of());
    }

    /** Returns where the host's records lead. */
    public List<Lead> leads(String host) {
        List<Lead> leads = new ArrayList<>();
        for (HostRecord record : records(host)) {
            for (String target : record.targets()) {
                String end = follow(target, LONGEST_CHAIN);
                Optional<StorageEndpoint> storage = StorageEndpoint.parse(end)
                        .map(endpoint -> endpoint.bucket().isPresent()
                                ? endpoint
                                : new StorageEndpoint(Optional.of(host), endpoint.region(), endpoint.isWebsite()));
                leads.add(new Lead(record, end, storage));
            }
        }
        return leads;
    }

    private String follow(String name, int hopsLeft) {
        Set<String> next = new LinkedHashSet<>();
        byHost.getOrDefault(name, List.of()).forEach(record -> next.addAll(record.targets()));
        return next.isEmpty() || hopsLeft == 0 ? name : follow(next.iterator().next(), hopsLeft - 1);
    }
}
