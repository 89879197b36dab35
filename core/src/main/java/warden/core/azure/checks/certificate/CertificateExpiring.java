package warden.core.azure.checks.certificate;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.DomainCheck;
import warden.core.azure.edge.Edge;
import warden.core.checks.CertificateCards;
import warden.core.survey.Need;

/** Finds certificates of the customer's own that end soon. */
final class CertificateExpiring implements DomainCheck {
    private static final CheckCard CARD = CertificateCards.CERTIFICATE_EXPIRING.told(
            "front-door-secret",
            "After that day visitors over HTTPS get a warning.",
            "Renew the certificate in the vault, and let the edge use its latest version.",
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
        Optional<Instant> expires = domain.certificate().flatMap(Edge.EdgeCertificate::expires);
        if (expires.isEmpty() || domain.certificate().get().useLatest()) {
            return subject.open(
                    domain.unread().isEmpty()
                            ? List.of(new Need(
                                    "front-door-secret-list", domain.id(), "when its certificate ends is not told", ""))
                            : domain.unread());
        }
        long days = Duration.between(subject.context().at(), expires.get()).toDays();
        if (days >= 30) {
            return subject.clean();
        }
        return subject.flagged(
                CARD,
                "The certificate of " + domain.host()
                        + (days < 0 ? " ended on " : " ends on ")
                        + expires.get().toString().substring(0, 10) + ".",
                List.of(domain.certificate().get().at()));
    }
}
