package warden.core.aws.checks.certificate;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.certificate.Certificate;
import warden.core.checks.CertificateCards;
import warden.core.survey.Need;

/** Finds certificates in use that end soon and do not renew by themselves. */
final class CertificateExpiring implements CertificateCheck {
    private static final CheckCard CARD = CertificateCards.CERTIFICATE_EXPIRING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final int SOON_DAYS = 30;

    @Override
    public List<Verdict> examine(Subject subject) {
        Certificate certificate = subject.certificate();
        if (!subject.isUsed() || !certificate.isIssued()) {
            return List.of();
        }
        if (certificate.isExpired(subject.context().at())) {
            return List.of(new Verdict.Flagged(subject.finding(
                            CARD, "The certificate for " + subject.names() + " has expired.", List.of(certificate.at()))
                    .as(Severity.CRITICAL)));
        }
        if (certificate.expires().isEmpty()) {
            return List.of(subject.unsaid("its end is missing, or in a form that is not understood"));
        }
        long days = Duration.between(
                        subject.context().at(), certificate.expires().get())
                .toDays();
        if (days >= SOON_DAYS) {
            return List.of(subject.clean());
        }
        List<Need> needs = new ArrayList<>();
        Optional<String> obstacle = Renewal.obstacle(subject.context(), certificate, needs);
        return List.of(obstacle.map(why -> subject.flagged(
                        CARD,
                        "The certificate for " + subject.names() + " ends in " + days
                                + " days and does not renew by itself: " + why + "."))
                .orElseGet(() -> subject.cleanUnless(needs)));
    }
}
