package warden.core.azure.checks.dns;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.account.ResourceId;
import warden.core.azure.audit.HostCheck;
import warden.core.azure.site.EndpointName;
import warden.core.checks.DnsCards;
import warden.core.names.HostRecord;
import warden.core.names.Lead;
import warden.core.names.Zone;
import warden.core.survey.Need;

/** Finds hosts whose alias leads to something that is gone, or whose chain ends nowhere. */
final class HostUnresolved implements HostCheck {
    private static final CheckCard CARD = DnsCards.HOST_UNRESOLVED.told(
            "dns-records",
            "Nobody finds the host.",
            "Lead the record to something that is there, or remove it.",
            "Azure DNS, \"Alias records overview\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(HostCheck.Of subject) {

        for (HostRecord record : subject.records()) {
            boolean isAlias = record.aliasZone().isPresent();
            if (!isAlias || record.alias().isPresent()) {
                continue;
            }
            String target = record.aliasZone().get();
            boolean isEdge = target.toLowerCase(Locale.ROOT).contains("/microsoft.cdn/");
            if (!isEdge) {
                return subject.open(
                        new Need("dns-records", record.zone(), "the alias record's target is not surveyed", ""));
            }
            List<Need> open = subject.context().cloud().unreadEdges();
            if (!open.isEmpty()) {
                return subject.open(open);
            }
            return subject.flagged(
                    CARD,
                    subject.host() + " is an alias of " + ResourceId.name(target)
                            + ", which is gone: it resolves to nothing.",
                    List.of(record.at()));
        }
        for (Lead lead : subject.leads()) {
            Optional<Zone> zone = subject.context().cloud().hosts().zoneOf(lead.target());
            boolean endsNowhere = zone.isPresent()
                    && subject.context().cloud().hosts().records(lead.target()).isEmpty()
                    && EndpointName.parse(lead.target()).isEmpty();
            if (!endsNowhere) {
                continue;
            }
            Optional<Need> unread = subject.context()
                    .cloud()
                    .hosts()
                    .unread(lead.target(), "Microsoft.Network/dnsZones/recordsets/read");
            if (unread.isPresent()) {
                return subject.open(unread.get());
            }
            return subject.flagged(
                    CARD,
                    subject.host() + " leads to " + lead.target() + ", which has no address.",
                    List.of(lead.record().at()));
        }
        return subject.clean();
    }
}
