package warden.core.checks.hosting;

import java.util.List;
import warden.core.check.Area;
import warden.core.check.BucketCheck;
import warden.core.check.CheckCard;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.survey.Need;

/** Finds sealed buckets that still have website hosting on. */
final class HostingUnused implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "hosting-unused",
            Area.HOSTING,
            Severity.LOW,
            "hosting is on, nothing uses the website endpoint, and the site is meant to be sealed",
            "bucket-website, zone-records, distribution",
            "The endpoint waits for somebody to open the bucket: then it serves the site without the edge.",
            "Turn website hosting off.",
            "S3 User Guide, \"Enabling website hosting\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        boolean sealed = subject.isMeantSealed();
        List<Need> unreadEdges = subject.isStated() ? List.of() : subject.unreadEdges();
        if (subject.sites().isEmpty()
                || (!sealed && unreadEdges.isEmpty())
                || WebsiteUse.of(subject.estate(), subject.bucket()).isPresent()) {
            return List.of();
        }
        boolean on = subject.bucket()
                .website()
                .found()
                .filter(website -> !website.redirectsAll())
                .isPresent();
        if (on && !unreadEdges.isEmpty()) {
            return List.of(subject.unknown(unreadEdges));
        }
        Verdict verdict = subject.bucket()
                .website()
                .fold(
                        found -> found.value().redirectsAll()
                                ? subject.clean()
                                : subject.flagged(
                                        CARD,
                                        "Website hosting is on, nothing uses the website endpoint, and the bucket is meant to be sealed.",
                                        List.of(found.at())),
                        absent -> subject.clean(),
                        unread -> subject.unknown(List.of(unread.need())));
        return List.of(verdict);
    }
}
