package warden.core.aws.checks.hosting;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.survey.Citation;

/** Finds buckets whose website endpoint is used though hosting is off. */
final class HostingOff implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "hosting-off",
            Area.HOSTING,
            Severity.HIGH,
            "something (a record, an origin) uses the website endpoint, and hosting is off",
            "bucket-website, zone-records, distribution",
            "The website endpoint of such a bucket answers 404 to everything.",
            "Turn website hosting on and name the index document, or use the REST endpoint through a distribution.",
            "S3 User Guide, \"Enabling website hosting\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<Citation> user = WebsiteUse.of(subject.estate(), subject.bucket());
        if (user.isEmpty()) {
            return List.of();
        }
        Verdict verdict = subject.bucket()
                .website()
                .fold(
                        found -> subject.clean(),
                        absent -> subject.flagged(
                                CARD,
                                "The website endpoint of the bucket is used, and website hosting is off: it answers 404.",
                                List.of(user.get(), absent.at())),
                        unread -> subject.unknown(List.of(unread.need())));
        return List.of(verdict);
    }
}
