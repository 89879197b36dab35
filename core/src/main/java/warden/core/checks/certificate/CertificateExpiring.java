package warden.core.checks.certificate;

import java.time.Duration;
import java.util.ArrayList;
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

/** Finds certificates in use that end soon and do not renew by themselves. */
final class CertificateExpiring implements Check {
    private static final CheckCard CARD = new CheckCard(
            "certificate-expiring",
            Area.CERTIFICATE,
            Severity.HIGH,
            "expired (critical), or within 30 days and not renewing by itself",
            "certificate, zone-records",
            "From that day on every visitor gets a certificate warning.",
            "Restore the validation record so that it renews, or import a new certificate.",
            "ACM User Guide, \"Managed certificate renewal in AWS Certificate Manager\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final int SOON_DAYS = 30;

    @Override
    public List<Verdict> examine(Setup setup) {
        return CertificateUse.each(
                setup,
                (account, certificate) -> CertificateUse.isUsed(account, certificate) && certificate.isIssued()
                        ? Optional.of(judge(setup, account, certificate))
                        : Optional.empty());
    }

    private static Verdict judge(Setup setup, Account account, Certificate certificate) {
        Optional<String> site = CertificateUse.site(setup, account, certificate);
        if (certificate.isExpired(setup.at())) {
            String says = "The certificate for " + String.join(", ", certificate.names()) + " has expired.";
            return new Verdict.Flagged(Finding.of(CARD, certificate.arn(), site, says, List.of(certificate.at()))
                    .as(Severity.CRITICAL));
        }
        if (certificate.expires().isEmpty()) {
            return new Verdict.Unknown(
                    certificate.arn(),
                    site,
                    List.of(new Need(
                            "certificate",
                            certificate.arn(),
                            "its end is missing, or in a form that is not understood",
                            "acm:DescribeCertificate")));
        }
        long days = Duration.between(setup.at(), certificate.expires().get()).toDays();
        if (days >= SOON_DAYS) {
            return new Verdict.Clean(certificate.arn(), site);
        }
        List<Need> needs = new ArrayList<>();
        Optional<String> obstacle = Renewal.obstacle(setup, certificate, needs);
        if (obstacle.isEmpty()) {
            return needs.isEmpty()
                    ? new Verdict.Clean(certificate.arn(), site)
                    : new Verdict.Unknown(certificate.arn(), site, needs);
        }
        String says = "The certificate for " + String.join(", ", certificate.names()) + " ends in " + days
                + " days and does not renew by itself: " + obstacle.get() + ".";
        return new Verdict.Flagged(Finding.of(CARD, certificate.arn(), site, says, List.of(certificate.at())));
    }
}
