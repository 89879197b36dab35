package warden.core.azure.checks.cdn;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.DomainCheck;
import warden.core.checks.CdnCards;
import warden.core.names.Zone;
import warden.core.survey.Need;

/** Finds custom domains to which no record leads. */
final class HostOnNoRecord implements DomainCheck {
    private static final CheckCard CARD = CdnCards.HOST_ON_NO_RECORD.told(
            "front-door-custom-domain, cdn-custom-domain, dns-records",
            "Nobody reaches the site by this host.",
            "Lead the host to the edge, or remove the custom domain.",
            "Azure Front Door, \"Configure a custom domain on Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DomainCheck.Of subject) {

        String host = subject.domain().host();
        Optional<Zone> zone = subject.context().cloud().hosts().zoneOf(host);
        if (zone.isEmpty()) {
            return List.of();
        }
        boolean leads = subject.context().cloud().hosts().leads(host).stream()
                .anyMatch(lead -> lead.target().equals(subject.edge().host()));
        if (leads) {
            return subject.clean();
        }
        Optional<Need> unread =
                subject.context().cloud().hosts().unread(host, "Microsoft.Network/dnsZones/recordsets/read");
        if (unread.isPresent()) {
            return subject.open(unread.get());
        }
        boolean leadsElsewhere =
                !subject.context().cloud().hosts().records(host).isEmpty();
        return subject.flagged(
                CARD,
                host + (leadsElsewhere ? " leads elsewhere than to" : " has no record, and is a custom domain of")
                        + " the edge " + subject.edge().host() + ".",
                List.of(subject.domain().at()));
    }
}
