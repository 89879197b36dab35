package warden.core.aws.checks.certificate;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.certificate.Certificate;
import warden.core.checks.CertificateCards;
import warden.core.survey.Need;

/** Finds certificates that a site waits for and that were not issued, or were taken back. */
final class CertificateNotIssued implements CertificateCheck {
    private static final CheckCard CARD = CertificateCards.CERTIFICATE_NOT_ISSUED;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Certificate certificate = subject.certificate();
        boolean wanted = subject.isUsed()
                || !CertificateUse.waiting(subject.account(), certificate).isEmpty();
        List<Need> unread = CertificateUse.unreadWaiting(subject.account(), certificate);
        if (certificate.status().isEmpty()) {
            return wanted || !unread.isEmpty() ? List.of(subject.unsaid("its status is not in the answer")) : List.of();
        }
        boolean otherRegion = !certificate.region().equals(Certificate.CDN_REGION);
        if (certificate.isIssued() || otherRegion) {
            return List.of(subject.clean());
        }
        if (!wanted) {
            return List.of(subject.cleanUnless(unread));
        }
        return List.of(subject.flagged(
                CARD,
                "The certificate for " + subject.names() + " is not issued (status " + certificate.status() + ")."));
    }
}
