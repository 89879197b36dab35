package warden.core.aws.checks.certificate;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.certificate.Certificate;
import warden.core.checks.CertificateCards;
import warden.core.survey.Need;

/** Finds certificates in use that will not renew by themselves. */
final class CertificateNotRenewing implements CertificateCheck {
    private static final CheckCard CARD = CertificateCards.CERTIFICATE_NOT_RENEWING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Certificate certificate = subject.certificate();
        if (!subject.isUsed()
                || !certificate.isIssued()
                || certificate.isExpired(subject.context().at())) {
            return List.of();
        }
        List<Need> needs = new ArrayList<>();
        Optional<String> obstacle = Renewal.obstacle(subject.context(), certificate, needs);
        return List.of(obstacle.map(why -> subject.flagged(
                        CARD, "The certificate for " + subject.names() + " will not renew by itself: " + why + "."))
                .orElseGet(() -> subject.cleanUnless(needs)));
    }
}
