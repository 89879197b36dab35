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
import warden.core.survey.Citation;

/** Finds hosts that the certificate of their distribution is not for. */
final class CertificateNotCovering implements Check {
    private static final CheckCard CARD = new CheckCard(
            "certificate-not-covering",
            Area.CERTIFICATE,
            Severity.HIGH,
            "a host that the certificate does not cover (a wildcard covers one label, and not the apex)",
            "certificate, distribution",
            "Visitors of that host get a certificate warning.",
            "Request a certificate that names the host too, and set it on the distribution.",
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
        List<Distribution> users = CertificateUse.users(account, certificate);
        if (users.isEmpty()) {
            return Optional.empty();
        }
        Optional<String> site = CertificateUse.site(setup, account, certificate);
        List<String> uncovered = users.stream()
                .flatMap(distribution -> distribution.aliases().stream())
                .filter(alias ->
                        !certificate.covers(alias) && !certificate.names().contains(alias))
                .distinct()
                .toList();
        if (uncovered.isEmpty()) {
            return Optional.of(new Verdict.Clean(certificate.arn(), site));
        }
        List<Citation> because = new ArrayList<>(List.of(certificate.at()));
        users.forEach(distribution -> because.add(distribution.cite("Aliases")));
        String says = "The certificate is for " + String.join(", ", certificate.names()) + ", and does not cover "
                + String.join(", ", uncovered) + ".";
        return Optional.of(new Verdict.Flagged(Finding.of(CARD, certificate.arn(), site, says, because)));
    }
}
