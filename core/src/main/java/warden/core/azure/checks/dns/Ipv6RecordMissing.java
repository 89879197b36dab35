package warden.core.azure.checks.dns;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.HostCheck;
import warden.core.checks.DnsCards;
import warden.core.names.HostRecord;
import warden.core.survey.Need;

/** Finds apexes that lead to an edge over IPv4 only. */
final class Ipv6RecordMissing implements HostCheck {
    private static final CheckCard CARD = DnsCards.IPV6_RECORD_MISSING.told(
            "dns-records",
            "Visitors with IPv6 only do not find the site.",
            "Add an alias record of the type AAAA too.",
            "Azure DNS, \"Alias records overview\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(HostCheck.Of subject) {

        List<HostRecord> records = subject.records();
        boolean leadsToEdge = subject.leads().stream()
                .anyMatch(lead ->
                        subject.context().cloud().edgeNamed(lead.target()).isPresent());
        boolean hasA = records.stream().anyMatch(record -> record.type().equals("A"));
        if (!leadsToEdge || !hasA) {
            return List.of();
        }
        if (records.stream().anyMatch(record -> record.type().equals("AAAA"))) {
            return subject.clean();
        }
        Optional<Need> unread =
                subject.context().cloud().hosts().unread(subject.host(), "Microsoft.Network/dnsZones/recordsets/read");
        if (unread.isPresent()) {
            return subject.open(unread.get());
        }
        return subject.flagged(
                CARD,
                subject.host() + " leads to the edge over IPv4 only.",
                records.stream().map(HostRecord::at).limit(1).toList());
    }
}
