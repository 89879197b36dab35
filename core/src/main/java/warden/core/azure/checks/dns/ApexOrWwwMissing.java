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

/** Finds domains of which only the apex or only www leads to a site. */
final class ApexOrWwwMissing implements AzureCheck<ApexOrWwwMissing.Of> {
    private static final CheckCard CARD = DnsCards.APEX_OR_WWW_MISSING.told(
            "dns-records",
            "Visitors who type the other form find nothing.",
            "Add the missing record.",
            "Azure DNS, \"Host load-balanced Azure web apps at the zone apex\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** A zone in which a site has the apex or www. */
    record Of(AzureContext context, DnsZone zone, Optional<String> site) implements Subject {
        @Override
        public String id() {
            return zone.id();
        }
    }

    @Override
    public List<Of> subjects(AzureContext context) {
        return context.subjects(ApexOrWwwMissing.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        List<Of> all = new ArrayList<>();
        for (AzureAccount account : context.cloud().accounts()) {
            for (DnsZone zone : account.zones()) {
                String apex = zone.name().orElse("");
                Optional<WebSite> site =
                        context.cloud().siteOf(apex).or(() -> context.cloud().siteOf("www." + apex));
                if (!zone.isPrivate()) {
                    site.ifPresent(each -> all.add(new Of(context, zone, Optional.of(each.name()))));
                }
            }
        }
        return List.copyOf(all);
    }

    @Override
    public List<Verdict> unread(AzureContext context) {
        return List.of();
    }

    @Override
    public List<Verdict> examine(Of subject) {
        String apex = subject.zone().name().orElse("");
        String www = "www." + apex;
        boolean hasApex = !subject.context().cloud().hosts().records(apex).isEmpty();
        boolean hasWww = !subject.context().cloud().hosts().records(www).isEmpty();
        if (hasApex && hasWww) {
            return subject.clean();
        }
        if (subject.zone().unlisted().isPresent()) {
            return subject.open(subject.zone().unlisted().get());
        }
        return subject.flagged(
                CARD,
                (hasApex ? www : apex) + " has no address record, and " + (hasApex ? apex : www) + " leads to a site.",
                subject.zone().records().citation().map(at -> at.at("", "")));
    }
}
