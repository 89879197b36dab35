package warden.core.aws.checks.certificate;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.certificate.Certificate;
import warden.core.survey.Need;

/** Finds certificates in use that will not renew by themselves. */
final class CertificateNotRenewing implements CertificateCheck {
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
    public List<Verdict> examine(Subject subject) {
        Certificate certificate = subject.certificate();
        if (!subject.isUsed()
                || !certificate.isIssued()
                || certificate.isExpired(subject.setup().at())) {
            return List.of();
        }
        List<Need> needs = new ArrayList<>();
        Optional<String> obstacle = Renewal.obstacle(subject.setup(), certificate, needs);
        return List.of(obstacle.map(why -> subject.flagged(
                        CARD, "The certificate for " + subject.names() + " will not renew by itself: " + why + "."))
                .orElseGet(() -> subject.cleanUnless(needs)));
    }
}
