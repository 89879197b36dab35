package warden.core.aws.checks.certificate;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.certificate.Certificate;

/** Finds distributions with hosts of their own and no certificate for them. */
final class CertificateMissing implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "certificate-missing",
            Area.CERTIFICATE,
            Severity.HIGH,
            "hosts on the distribution and only the CDN's own certificate",
            "distribution, certificate",
            "Visitors over HTTPS get a certificate warning.",
            "Request a certificate for the hosts in us-east-1, and set it on the distribution.",
            "CloudFront Developer Guide, \"Requirements for using SSL/TLS certificates with CloudFront\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Distribution distribution = subject.distribution();
        if (distribution.aliases().isEmpty() || !distribution.certificate().isTheCdns()) {
            return List.of(subject.clean());
        }
        boolean oneIsMeant = subject.account().names().certificates().stream()
                .anyMatch(certificate -> CertificateUse.isFor(certificate, distribution)
                        && (!certificate.region().equals(Certificate.CDN_REGION) || !certificate.isIssued()));
        return List.of(
                oneIsMeant
                        ? subject.clean()
                        : subject.flagged(
                                CARD,
                                "The distribution has " + String.join(", ", distribution.aliases())
                                        + " and only the CDN's own certificate.",
                                List.of(distribution.cite("Aliases"), distribution.cite("ViewerCertificate"))));
    }
}
