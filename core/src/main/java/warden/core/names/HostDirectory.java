package warden.core.names;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.survey.Need;

/** Where hosts lead, by the records of all surveyed public zones together. */
public final class HostDirectory {
    private static final int LONGEST_CHAIN = 8;
    private static final Set<String> ADDRESSES = Set.of("A", "AAAA", "CNAME");

    private final Map<String, List<HostRecord>> byHost = new LinkedHashMap<>();
    private final Map<String, List<HostRecord>> everything = new HashMap<>();
    private final Set<String> ancestors = new LinkedHashSet<>();
    private final Map<String, List<Lead>> leads = new HashMap<>();
    private final Map<String, List<String>> hostsByTarget = new HashMap<>();
    private final Map<String, List<Zone>> zones = new HashMap<>();

    /** Makes the directory of some zones. */
    public HostDirectory(List<? extends Zone> all) {
        for (Zone zone : all) {
            if (zone.isPrivate()) {
                continue;
            }
            zone.name().ifPresent(name -> zones.computeIfAbsent(name, key -> new ArrayList<>())
                    .add(zone));
            for (HostRecord record : zone.records().found().orElse(List.of())) {
                everything
                        .computeIfAbsent(record.host(), host -> new ArrayList<>())
                        .add(record);
                if (ADDRESSES.contains(record.type())) {
                    byHost.computeIfAbsent(record.host(), host -> new ArrayList<>())
                            .add(record);
                }
                addAncestors(record.host());
            }
        }
        byHost.keySet().forEach(host -> leads(host).forEach(lead -> hostsByTarget
                .computeIfAbsent(lead.target(), target -> new ArrayList<>())
                .add(host)));
    }

    private void addAncestors(String host) {
        for (int dot = host.indexOf('.'); dot >= 0; dot = host.indexOf('.', dot + 1)) {
            ancestors.add(host.substring(dot + 1));
        }
    }

    /** Returns the hosts that have address records, in the order of the surveys. */
    public Set<String> hosts() {
        return byHost.keySet();
    }

    /** Returns the hosts, wildcards as written, of which a record leads to {@code target}. */
    public List<String> hostsLeadingTo(String target) {
        return hostsByTarget.getOrDefault(target, List.of()).stream().distinct().toList();
    }

    /**
     * Returns the address records that answer for a host. A wildcard answers for names below the closest existing one, and only where the
     * name itself does not exist. Source: RFC 4592, section 2.2.
     */
    public List<HostRecord> records(String host) {
        return owner(host).map(name -> byHost.getOrDefault(name, List.of())).orElse(List.of());
    }

    /** Returns all records of a name, of any type. */
    public List<HostRecord> recordsOfAnyType(String host) {
        return everything.getOrDefault(host, List.of());
    }

    /** Returns the name whose records speak for the host: itself, or a wildcard; absent when there is none. */
    private Optional<String> owner(String host) {
        if (everything.containsKey(host)) {
            return Optional.of(host);
        }
        if (ancestors.contains(host)) {
            // The name exists without records of its own, so no wildcard speaks for it.
            return Optional.empty();
        }
        for (int dot = host.indexOf('.'); dot >= 0; dot = host.indexOf('.', dot + 1)) {
            String encloser = host.substring(dot + 1);
            if (everything.containsKey("*." + encloser)) {
                return Optional.of("*." + encloser);
            }
            if (everything.containsKey(encloser) || ancestors.contains(encloser)) {
                return Optional.empty();
            }
        }
        return Optional.empty();
    }

    /** Returns the surveyed public zone that the host lies in: of several the one with the longest name. */
    public Optional<Zone> zoneOf(String host) {
        for (String name = host; ; name = name.substring(name.indexOf('.') + 1)) {
            List<Zone> named = zonesNamed(name);
            if (!named.isEmpty()) {
                return Optional.of(named.get(0));
            }
            if (name.indexOf('.') < 0) {
                return Optional.empty();
            }
        }
    }

    /** Returns the surveyed public zones of this name, in the order of the surveys. */
    public List<Zone> zonesNamed(String name) {
        return zones.getOrDefault(name, List.of());
    }

    /** True when the zone hands the host, or a parent of it, to name servers whose zone was not surveyed. */
    public boolean isDelegatedAway(String host, Zone zone) {
        String apex = zone.name().orElse("");
        for (String name = host; name.length() > apex.length(); ) {
            if (everything.getOrDefault(name, List.of()).stream()
                    .anyMatch(record ->
                            record.type().equals("NS") && record.zone().equals(zone.id()))) {
                return true;
            }
            int dot = name.indexOf('.');
            if (dot < 0) {
                return false;
            }
            name = name.substring(dot + 1);
        }
        return false;
    }

    /**
     * Returns what keeps the records of a host from being known: its zone was not read, or not to its end; absent when they are known.
     *
     * @param permission what reading a zone's records takes
     */
    public Optional<Need> unread(String host, String permission) {
        Optional<Zone> zone = zoneOf(host);
        if (zone.isPresent() && zone.get().isComplete() && !isDelegatedAway(host, zone.get())) {
            return Optional.empty();
        }
        String why = zone.flatMap(Zone::unlisted).map(Need::why).orElse("the zone that holds the host was not read");
        return Optional.of(new Need("zone-records", zone.map(Zone::id).orElse(host), why, permission));
    }

    /** Returns where the host's records lead. */
    public synchronized List<Lead> leads(String host) {
        return leads.computeIfAbsent(host, this::follow);
    }

    private List<Lead> follow(String host) {
        List<Lead> found = new ArrayList<>();
        for (HostRecord record : records(host)) {
            for (String target : record.targets()) {
                String end = follow(target, LONGEST_CHAIN);
                found.add(new Lead(host, record, end));
            }
        }
        return List.copyOf(found);
    }

    private String follow(String name, int hopsLeft) {
        Set<String> next = new LinkedHashSet<>();
        records(name).forEach(record -> next.addAll(record.targets()));
        return next.isEmpty() || hopsLeft == 0 ? name : follow(next.iterator().next(), hopsLeft - 1);
    }
}
