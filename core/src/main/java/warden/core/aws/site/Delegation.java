package warden.core.aws.site;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.aws.account.Account;
import warden.core.document.JsonPart;
import warden.core.names.HostRecord;
import warden.core.names.Zone;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** To which name servers a domain is delegated: by the registrar, or by the zone above. */
public final class Delegation {
    /** The name servers, in lower case, and where they are named. */
    public record Named(Set<String> servers, Citation at) {}

    private Delegation() {}

    /** Returns the name servers that the registrar, or the zone above, names; absent when neither is known. */
    public static Optional<Named> of(AwsCloud cloud, String name) {
        for (Account account : cloud.accounts()) {
            Reading<JsonPart> domain = account.survey().reading("domain", name);
            if (domain instanceof Reading.Found<JsonPart> found) {
                Set<String> servers = new HashSet<>();
                for (JsonPart server : found.value().list("Nameservers")) {
                    server.text("Name").ifPresent(each -> servers.add(HostRecord.canonical(each)));
                }
                return Optional.of(new Named(
                        servers,
                        found.at()
                                .at(
                                        "/Nameservers",
                                        String.join(
                                                ", ", servers.stream().sorted().toList()))));
            }
        }
        return byParent(cloud, name);
    }

    /** A zone below another surveyed zone is delegated there. */
    private static Optional<Named> byParent(AwsCloud cloud, String name) {
        List<Zone> parents = new ArrayList<>();
        for (int dot = name.indexOf('.'); dot >= 0; dot = name.indexOf('.', dot + 1)) {
            parents.addAll(cloud.hosts().zonesNamed(name.substring(dot + 1)));
        }
        List<HostRecord> records = parents.stream()
                .flatMap(zone -> zone.records().found().orElse(List.of()).stream())
                .filter(record -> record.host().equals(name) && record.type().equals("NS"))
                .toList();
        return records.stream()
                .findFirst()
                .map(first -> new Named(
                        first.values().stream().map(HostRecord::canonical).collect(Collectors.toSet()), first.at()));
    }

    /** Returns the need to read the registration; absent when the account says that it holds none, so that another registrar does. */
    public static Optional<Need> missing(AwsCloud cloud, String name) {
        boolean elsewhere = cloud.accounts().stream()
                .anyMatch(account -> account.survey().reading("domain", name).isAbsent());
        return elsewhere
                ? Optional.empty()
                : cloud.accounts().get(0).survey().reading("domain", name).missing();
    }

    /** Returns the name servers of a zone: from its settings, else from its own NS record. */
    public static Optional<List<String>> ownServers(Zone zone, String name) {
        return zone.nameServers().or(() -> zone.records().found().orElse(List.of()).stream()
                .filter(record -> record.host().equals(name) && record.type().equals("NS"))
                .findFirst()
                .map(record ->
                        record.values().stream().map(HostRecord::canonical).toList()));
    }

    /**
     * Returns what is known to keep the surveyed zones of a name from being asked at all; absent when they are asked, or that is not known.
     *
     * @param name of the zones
     */
    public static Optional<Undelegated> undelegated(AwsCloud cloud, String name) {
        List<Zone> zones = cloud.hosts().zonesNamed(name);
        Optional<Named> named = of(cloud, name);
        if (named.isPresent() && !named.get().servers().isEmpty()) {
            boolean asked = zones.stream().anyMatch(zone -> ownServers(zone, name)
                    .map(own -> own.stream().anyMatch(named.get().servers()::contains))
                    .orElse(true));
            return asked
                    ? Optional.empty()
                    : Optional.of(
                            new Undelegated(named.get().servers(), named.get().at()));
        }
        for (int dot = name.indexOf('.'); dot >= 0; dot = name.indexOf('.', dot + 1)) {
            for (Zone parent : cloud.hosts().zonesNamed(name.substring(dot + 1))) {
                boolean handsOver = cloud.hosts().isDelegatedAway(name, parent);
                Optional<Citation> at = parent.records().citation();
                if (parent.isComplete() && !handsOver && at.isPresent()) {
                    return Optional.of(new Undelegated(Set.of(), at.get().at("", "")));
                }
            }
        }
        return Optional.empty();
    }

    /**
     * A zone that nobody is led to.
     *
     * @param others the name servers that are asked instead; empty when the zone above answers itself
     */
    public record Undelegated(Set<String> others, Citation at) {}
}
