package warden.core.checks.certificate;

import java.util.List;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.certificate.Certificate;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.survey.Need;

/** Finds certificates that a site waits for and that were not issued, or were taken back. */
final class CertificateNotIssued implements Check {
    private static final CheckCard CARD = new CheckCard(
            "certificate-not-issued",
            Area.CERTIFICATE,
            Severity.HIGH,
            "pending validation, failed, revoked",
            "certificate, distribution",
            "The host has no valid certificate until it is issued.",
            "Add the validation record that the certificate names, or request it again.",
            "ACM User Guide, \"DNS validation\"");

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
        boolean wanted = CertificateUse.isUsed(account, certificate)
                || !CertificateUse.waiting(account, certificate).isEmpty();
        if (certificate.status().isEmpty()) {
            return wanted
                    ? Optional.of(new Verdict.Unknown(
                            certificate.arn(),
                            site,
                            List.of(new Need(
                                    "certificate",
                                    certificate.arn(),
                                    "its status is not in the answer",
                                    "acm:DescribeCertificate"))))
                    : Optional.empty();
        }
        boolean otherRegion = !certificate.region().equals(CertificateUse.CDN_REGION);
        if (certificate.isIssued() || !wanted || otherRegion) {
            return Optional.of(new Verdict.Clean(certificate.arn(), site));
        }
        String says = "The certificate for " + String.join(", ", certificate.names()) + " is not issued (status "
                + certificate.status() + ").";
        return Optional.of(
                new Verdict.Flagged(Finding.of(CARD, certificate.arn(), site, says, List.of(certificate.at()))));
    }
}
