package warden.core.azure.checks.leftovers;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.AzureCheck;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.audit.Subject;
import warden.core.azure.names.DnsZone;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.WebSite;
import warden.core.checks.LeftoversCards;

/** Finds zones that hold nothing. */
final class LeftoverZone implements AzureCheck<LeftoverZone.Of> {
    private static final CheckCard CARD = LeftoversCards.LEFTOVER_ZONE.told(
            "dns-records",
            "It costs, and may be taken for the real one.",
            "Remove the zone.",
            "Azure DNS, \"DNS zones and records\"");

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
        return context.subjects(LeftoverZone.class, () -> list(context));
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
        if (subject.zone().unlisted().isPresent()) {
            return subject.open(subject.zone().unlisted().get());
        }
        boolean holds = subject.zone().records().found().orElse(List.of()).stream()
                .anyMatch(
                        record -> !record.type().equals("NS") && !record.type().equals("SOA"));
        return holds
                ? subject.clean()
                : subject.flagged(
                        CARD,
                        "The zone " + subject.zone().name().orElse("") + " holds nothing but its own records.",
                        List.of(subject.zone().at()));
    }
}
