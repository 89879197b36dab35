package warden.core.checks.leftovers;

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

/** Finds certificates that nothing uses. */
final class LeftoverCertificate implements Check {
    private static final CheckCard CARD = new CheckCard(
            "leftover-certificate",
            Area.LEFTOVERS,
            Severity.LOW,
            "issued and in use by nothing",
            "certificate, distribution",
            "It has to be looked after, and somebody may take it for the one that counts.",
            "Delete the certificate.",
            "ACM User Guide, \"Delete certificates managed by AWS Certificate Manager\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (String arn : account.survey().subjects("certificate")) {
                account.survey()
                        .missing("certificate", arn)
                        .ifPresent(need -> verdicts.add(new Verdict.Unknown(arn, Optional.empty(), List.of(need))));
            }
            for (Certificate certificate : account.certificates()) {
                boolean shown = !account.distributionsShowing(certificate.arn()).isEmpty();
                boolean unused = certificate.status().equals("ISSUED")
                        && certificate.users().isEmpty()
                        && !shown;
                String says = "The certificate for " + String.join(", ", certificate.names()) + " in "
                        + certificate.region() + " is used by nothing.";
                verdicts.add(
                        unused
                                ? new Verdict.Flagged(Finding.of(
                                        CARD, certificate.arn(), Optional.empty(), says, List.of(certificate.at())))
                                : new Verdict.Clean(certificate.arn(), Optional.empty()));
            }
        }
        return verdicts;
    }
}
