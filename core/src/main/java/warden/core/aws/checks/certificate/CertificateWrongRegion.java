package warden.core.aws.checks.certificate;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.certificate.Certificate;

/** Finds certificates that the CDN does not read because of their region. */
final class CertificateWrongRegion implements CertificateCheck {
    private static final CheckCard CARD = new CheckCard(
            "certificate-wrong-region",
            Area.CERTIFICATE,
            Severity.HIGH,
            "the certificate meant for it lies in a region that the CDN does not read",
            "certificate, distribution",
            "It cannot be chosen for the distribution, whose visitors get a certificate warning.",
            "Request the certificate again in us-east-1, and set that one on the distribution.",
            "CloudFront Developer Guide, \"Requirements for using SSL/TLS certificates with CloudFront\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Certificate certificate = subject.certificate();
        List<Distribution> waiting = new ArrayList<>(CertificateUse.waiting(subject.account(), certificate));
        waiting.addAll(subject.users());
        if (certificate.region().equals(Certificate.CDN_REGION)) {
            return List.of(subject.clean());
        }
        if (waiting.isEmpty()) {
            return List.of(subject.cleanUnless(CertificateUse.unreadWaiting(subject.account(), certificate)));
        }
        String says = "The certificate for " + subject.names() + " lies in " + certificate.region()
                + ", and the CDN reads those in " + Certificate.CDN_REGION + " only.";
        return List.of(new Verdict.Flagged(subject.finding(
                CARD, says, List.of(certificate.at(), waiting.get(0).cite("ViewerCertificate")))));
    }
}
