package warden.core.azure.checks.certificate;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.DomainCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.CertificateCards;
import warden.core.names.Zone;
import warden.core.survey.Need;

/** Finds managed certificates that will not be renewed. */
final class CertificateNotRenewing implements DomainCheck {
    private static final CheckCard CARD = CertificateCards.CERTIFICATE_NOT_RENEWING.told(
            "front-door-custom-domain, dns-records",
            "When the certificate ends, visitors over HTTPS get a warning.",
            "Validate the domain again, and lead the host to the edge.",
            "Azure Front Door, \"Domains in Azure Front Door\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DomainCheck.Of subject) {

        Edge.Domain domain = subject.domain();
        if (!subject.edge().isFrontDoor() || !domain.isManaged()) {
            return List.of();
        }
        if (domain.state().equals("PendingRevalidation")) {
            return subject.flagged(
                    CARD,
                    domain.host() + " has to be validated again before its certificate is renewed.",
                    List.of(domain.at()));
        }
        Optional<Zone> zone = subject.context().cloud().hosts().zoneOf(domain.host());
        boolean leads = subject.context().cloud().hosts().leads(domain.host()).stream()
                .anyMatch(lead -> lead.target().equals(subject.edge().host()));
        if (leads) {
            return subject.clean();
        }
        return subject.open(new Need(
                "dns-records",
                zone.map(Zone::id).orElse(domain.host()),
                "whether a host that leads elsewhere is renewed is not certain",
                "Microsoft.Network/dnsZones/recordsets/read"));
    }
}
