package warden.core.azure.checks.dns;

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
import warden.core.checks.DnsCards;
import warden.core.names.Zone;

/** Finds two public zones of one name. */
final class ZoneDuplicate implements AzureCheck<ZoneDuplicate.Of> {
    private static final CheckCard CARD = DnsCards.ZONE_DUPLICATE.told(
            "dns-zone-list",
            "Whoever changes the wrong one changes nothing.",
            "Remove the zone that nobody asks.",
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
        return context.subjects(ZoneDuplicate.class, () -> list(context));
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
        List<Zone> named = subject.context()
                .cloud()
                .hosts()
                .zonesNamed(subject.zone().name().orElse(""));
        boolean isFirst = named.isEmpty() || named.get(0).id().equals(subject.id());
        if (named.size() < 2) {
            return subject.clean();
        }
        return isFirst
                ? List.of()
                : subject.flagged(
                        CARD,
                        "There are " + named.size() + " public zones named "
                                + subject.zone().name().orElse("") + "; only one of them is asked.",
                        List.of(subject.zone().at()));
    }
}
