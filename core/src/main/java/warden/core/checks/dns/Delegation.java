package warden.core.checks.dns;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.account.Account;
import warden.core.check.Setup;
import warden.core.dns.HostRecord;
import warden.core.dns.Zone;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** To which name servers a domain is delegated: by the registrar, or by the zone above. */
final class Delegation {
    /** The name servers, in lower case, and where they are named. */
    record Named(Set<String> servers, Citation at) {}

    private Delegation() {}

    static Optional<Named> of(Setup setup, String name) {
        for (Account account : setup.estate().accounts()) {
            Reading<JsonPart> domain = account.survey().reading("domain", name);
            if (domain instanceof Reading.Found<JsonPart> found) {
                Set<String> servers = found.value().list("Nameservers").stream()
                        .flatMap(server -> server.text("Name").stream())
                        .map(HostRecord::canonical)
                        .collect(Collectors.toSet());
                return Optional.of(new Named(
                        servers,
                        found.at()
                                .at(
                                        "/Nameservers",
                                        String.join(
                                                ", ", servers.stream().sorted().toList()))));
            }
        }
        return byParent(setup, name);
    }

    /** A zone below another surveyed zone is delegated there. */
    private static Optional<Named> byParent(Setup setup, String name) {
        List<Zone> parents = new ArrayList<>();
        for (int dot = name.indexOf('.'); dot >= 0; dot = name.indexOf('.', dot + 1)) {
            parents.addAll(setup.estate().hosts().zonesNamed(name.substring(dot + 1)));
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
    static Optional<Need> missing(Setup setup, String name) {
        boolean elsewhere = setup.estate().accounts().stream()
                .anyMatch(account -> account.survey().reading("domain", name).isAbsent());
        return elsewhere
                ? Optional.empty()
                : setup.estate()
                        .accounts()
                        .get(0)
                        .survey()
                        .reading("domain", name)
                        .missing();
    }

    /** Returns the name servers of a zone: from its settings, else from its own NS record. */
    static Optional<List<String>> ownServers(Zone zone, String name) {
        return zone.nameServers().or(() -> zone.records().found().orElse(List.of()).stream()
                .filter(record -> record.host().equals(name) && record.type().equals("NS"))
                .findFirst()
                .map(record ->
                        record.values().stream().map(HostRecord::canonical).toList()));
    }
}
