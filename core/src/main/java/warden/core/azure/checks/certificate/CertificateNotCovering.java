package warden.core.azure.checks.certificate;

import java.util.List;
import java.util.TreeSet;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.DomainCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.CertificateCards;
import warden.core.survey.Need;

/** Finds certificates of the customer's own that do not cover the host. */
final class CertificateNotCovering implements DomainCheck {
    private static final CheckCard CARD = CertificateCards.CERTIFICATE_NOT_COVERING.told(
            "front-door-custom-domain, front-door-secret",
            "Visitors over HTTPS get a warning.",
            "Use a certificate that names the host, or let the provider manage one.",
            "Azure Front Door, \"Configure HTTPS on an Azure Front Door custom domain\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DomainCheck.Of subject) {

        Edge.Domain domain = subject.domain();
        if (domain.isManaged()) {
            return List.of();
        }
        if (domain.certificate().isEmpty() || domain.certificate().get().names().isEmpty()) {
            return subject.open(
                    domain.unread().isEmpty()
                            ? List.of(new Need(
                                    "cdn-custom-domain", domain.id(), "its certificate in the vault is not read", ""))
                            : domain.unread());
        }
        Edge.EdgeCertificate certificate = domain.certificate().get();
        return certificate.covers(domain.host())
                ? subject.clean()
                : subject.flagged(
                        CARD,
                        "The certificate of " + domain.host() + " is for "
                                + String.join(", ", new TreeSet<>(certificate.names())) + ".",
                        List.of(domain.at(), certificate.at()));
    }
}
