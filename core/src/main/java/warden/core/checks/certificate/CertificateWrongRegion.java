package warden.core.checks.certificate;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.cdn.Distribution;
import warden.core.certificate.Certificate;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;

/** Finds certificates that the CDN does not read because of their region. */
final class CertificateWrongRegion implements Check {
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
    public List<Verdict> examine(Setup setup) {
        return CertificateUse.each(setup, (account, certificate) -> judge(setup, account, certificate));
    }

    private static Optional<Verdict> judge(Setup setup, Account account, Certificate certificate) {
        Optional<String> site = CertificateUse.site(setup, account, certificate);
        List<Distribution> waiting = new ArrayList<>(CertificateUse.waiting(account, certificate));
        waiting.addAll(CertificateUse.users(account, certificate));
        if (certificate.region().equals(CertificateUse.CDN_REGION) || waiting.isEmpty()) {
            return Optional.of(new Verdict.Clean(certificate.arn(), site));
        }
        String says = "The certificate for " + String.join(", ", certificate.names()) + " lies in "
                + certificate.region() + ", and the CDN reads those in " + CertificateUse.CDN_REGION + " only.";
        return Optional.of(new Verdict.Flagged(Finding.of(
                CARD,
                certificate.arn(),
                site,
                says,
                List.of(certificate.at(), waiting.get(0).cite("ViewerCertificate")))));
    }
}
