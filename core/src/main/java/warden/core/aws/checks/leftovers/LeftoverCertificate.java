package warden.core.aws.checks.leftovers;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.certificate.Certificate;
import warden.core.survey.Need;

/** Finds certificates that nothing uses. */
final class LeftoverCertificate implements AwsCheck<LeftoverCertificate.Subject> {
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

    /** One certificate. */
    record Subject(Account account, Certificate certificate) implements Judged {
        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(certificate.arn(), Optional.empty(), needs);
        }
    }

    @Override
    public List<Subject> subjects(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            account.names().certificates().forEach(certificate -> subjects.add(new Subject(account, certificate)));
        }
        return subjects;
    }

    @Override
    public List<Verdict> unread(AwsContext context) {
        List<Verdict> open = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (String arn : account.survey().subjects("certificate")) {
                account.survey()
                        .missing("certificate", arn)
                        .ifPresent(need -> open.add(new Verdict.Unknown(arn, Optional.empty(), List.of(need))));
            }
        }
        return open;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Certificate certificate = subject.certificate();
        boolean shown = !subject.account()
                .edges()
                .distributionsShowing(certificate.arn())
                .isEmpty();
        boolean unused =
                certificate.status().equals("ISSUED") && certificate.users().isEmpty() && !shown;
        String says = "The certificate for " + String.join(", ", certificate.names()) + " in " + certificate.region()
                + " is used by nothing.";
        return List.of(
                unused
                        ? new Verdict.Flagged(
                                Finding.of(CARD, certificate.arn(), Optional.empty(), says, List.of(certificate.at())))
                        : new Verdict.Clean(certificate.arn(), Optional.empty()));
    }
}
