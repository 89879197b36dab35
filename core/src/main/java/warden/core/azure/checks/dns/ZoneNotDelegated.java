package warden.core.azure.checks.dns;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.AzureCheck;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.Subject;
import warden.core.azure.names.DnsZone;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.WebSite;
import warden.core.checks.DnsCards;
import warden.core.names.HostRecord;
import warden.core.names.Zone;
import warden.core.survey.Need;

/** Finds zones to whose name servers the zone above does not lead. */
final class ZoneNotDelegated implements AzureCheck<ZoneNotDelegated.Of> {
    private static final CheckCard CARD = DnsCards.ZONE_NOT_DELEGATED.told(
            "dns-records, dns-zone-list",
            "Nobody asks the zone's name servers, so that none of its records count.",
            "Set the zone's name servers in the zone above, or at the registrar.",
            "Azure DNS, \"Delegate DNS zones\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** A public zone. */
    record Of(AzureContext context, DnsZone zone, Optional<String> site) implements Subject {
        @Override
        public String id() {
            return zone.id();
        }
    }

    @Override
    public List<Of> subjects(AzureContext context) {
        return context.subjects(ZoneNotDelegated.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        List<Of> all = new ArrayList<>();
        for (AzureAccount account : context.cloud().accounts()) {
            for (DnsZone zone : account.zones()) {
                String name = zone.name().orElse("");
                Optional<String> site = context.cloud().sites().stream()
                        .filter(each ->
                                each.hosts().stream().anyMatch(host -> host.equals(name) || host.endsWith("." + name)))
                        .map(WebSite::name)
                        .findFirst();
                if (!zone.isPrivate()) {
                    all.add(new Of(context, zone, site));
                }
            }
        }
        return List.copyOf(all);
    }

    @Override
    public List<Verdict> unread(AzureContext context) {
        return context.cloud().accounts().stream()
                .flatMap(account -> account.unlistedZones().stream().map(need ->
                        (Verdict) new Verdict.Unknown(account.subscription().id(), Optional.empty(), List.of(need))))
                .toList();
    }

    @Override
    public List<Verdict> examine(Of subject) {
        String name = subject.zone().name().orElse("");
        if (subject.site().isEmpty() || name.indexOf('.') < 0) {
            return List.of();
        }
        String parent = name.substring(name.indexOf('.') + 1);
        List<Zone> above = subject.context().cloud().hosts().zonesNamed(parent);
        if (above.isEmpty()) {
            return subject.open(new Need("dns-records", name, "the zone above, or the registrar, is not read", ""));
        }
        Optional<List<String>> own = subject.zone().nameServers();
        if (own.isEmpty()) {
            return subject.open(new Need(
                    "dns-zone-list",
                    subject.id(),
                    "its name servers are not in the answer",
                    "Microsoft.Network/dnsZones/read"));
        }
        Optional<HostRecord> delegation = subject.context().cloud().hosts().recordsOfAnyType(name).stream()
                .filter(record -> record.type().equals("NS")
                        && record.zone().equals(above.get(0).id()))
                .findFirst();
        if (delegation.isEmpty()) {
            if (above.get(0).unlisted().isPresent()) {
                return subject.open(above.get(0).unlisted().get());
            }
            return subject.flagged(
                    CARD,
                    "The zone above does not hand " + name
                            + " to the name servers of its zone, so that nobody asks them.",
                    above.get(0).records().citation().map(at -> at.at("", "")));
        }
        Set<String> given =
                delegation.get().values().stream().map(HostRecord::canonical).collect(Collectors.toSet());
        if (given.equals(Set.copyOf(own.get()))) {
            return subject.clean();
        }
        return subject.flagged(
                CARD,
                "The domain " + name + " is delegated to " + String.join(", ", new TreeSet<>(given))
                        + ", not to the name servers of its zone.",
                List.of(delegation.get().at()));
    }
}
