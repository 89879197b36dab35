package warden.core.aws.checks.certificate;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.certificate.Certificate;
import warden.core.checks.CertificateCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds hosts that the certificate of their distribution is not for. */
final class CertificateNotCovering implements CertificateCheck {
    private static final CheckCard CARD = CertificateCards.CERTIFICATE_NOT_COVERING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Certificate certificate = subject.certificate();
        List<Need> unread = CertificateUse.unreadUsers(subject.account(), certificate);
        if (subject.users().isEmpty() && unread.isEmpty()) {
            return List.of();
        }
        List<String> uncovered = subject.users().stream()
                .flatMap(distribution -> distribution.aliases().stream())
                .filter(alias ->
                        !certificate.covers(alias) && !certificate.names().contains(alias))
                .distinct()
                .toList();
        if (uncovered.isEmpty()) {
            return List.of(subject.cleanUnless(unread));
        }
        List<Citation> because = new ArrayList<>(List.of(certificate.at()));
        subject.users().forEach(distribution -> because.add(distribution.cite("Aliases")));
        String says = "The certificate is for " + subject.names() + ", and does not cover "
                + String.join(", ", uncovered) + ".";
        return List.of(new Verdict.Flagged(subject.finding(CARD, says, because)));
    }
}
