package warden.core.aws.checks.hosting;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.survey.Need;

/** Finds sites whose bad deployments cannot be undone. */
final class VersioningOff implements SiteBucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "versioning-off",
            Area.HOSTING,
            Severity.MEDIUM,
            "a bad deployment cannot be undone",
            "bucket-versioning",
            "An upload replaces what was there, and a delete is for good.",
            "Turn versioning on, with a lifecycle rule that expires old versions.",
            "S3 User Guide, \"Retaining multiple versions of objects with S3 Versioning\"");

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
