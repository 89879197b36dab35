package warden.core.checks.certificate;

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

/** Finds certificates in use that will not renew by themselves. */
final class CertificateNotRenewing implements Check {
    private static final CheckCard CARD = new CheckCard(
            "certificate-not-renewing",
            Area.CERTIFICATE,
            Severity.MEDIUM,
            "will not renew: validation record gone, validated by mail, imported",
            "certificate, zone-records",
            "One day it ends, on the day that nobody has it in mind.",
            "Validate it by DNS and keep the validation record; replace an imported certificate by a managed one.",
            "ACM User Guide, \"Managed certificate renewal in AWS Certificate Manager\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        return CertificateUse.each(
                setup,
                (account, certificate) -> CertificateUse.isUsed(account, certificate)
                                && certificate.isIssued()
                                && !certificate.isExpired(setup.at())
                        ? Optional.of(judge(setup, account, certificate))
                        : Optional.empty());
    }

    private static Verdict judge(Setup setup, Account account, Certificate certificate) {
        Optional<String> site = CertificateUse.site(setup, account, certificate);
        List<Need> needs = new ArrayList<>();
        Optional<String> obstacle = Renewal.obstacle(setup, certificate, needs);
        if (obstacle.isPresent()) {
            String says = "The certificate for " + String.join(", ", certificate.names())
                    + " will not renew by itself: " + obstacle.get() + ".";
            return new Verdict.Flagged(Finding.of(CARD, certificate.arn(), site, says, List.of(certificate.at())));
        }
        return needs.isEmpty()
                ? new Verdict.Clean(certificate.arn(), site)
                : new Verdict.Unknown(certificate.arn(), site, needs);
    }
}
