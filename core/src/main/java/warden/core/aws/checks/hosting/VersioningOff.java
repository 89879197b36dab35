package warden.core.aws.checks.hosting;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.checks.HostingCards;
import warden.core.survey.Need;

/** Finds sites whose bad deployments cannot be undone. */
final class VersioningOff implements SiteBucketCheck {
    private static final CheckCard CARD = HostingCards.VERSIONING_OFF;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        if (!subject.servesContent()) {
            return List.of();
        }
        Optional<Need> redirects = subject.redirectsUnread();
        if (redirects.isPresent()) {
            return List.of(subject.unknown(List.of(redirects.get())));
        }
        Verdict verdict = subject.bucket()
                .versioning()
                .fold(
                        found -> found.value().equals("Enabled")
                                ? subject.clean()
                                : subject.flagged(
                                        CARD,
                                        "Versioning is " + (found.value().equals("Suspended") ? "suspended" : "off")
                                                + ", so a bad deployment cannot be undone.",
                                        List.of(found.at())),
                        absent -> subject.flagged(
                                CARD, "Versioning is off, so a bad deployment cannot be undone.", List.of(absent.at())),
                        unread -> subject.unknown(List.of(unread.need())));
        return List.of(verdict);
    }
}
