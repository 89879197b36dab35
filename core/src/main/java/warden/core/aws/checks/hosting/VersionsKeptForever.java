package warden.core.aws.checks.hosting;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.storage.LifecycleRule;
import warden.core.survey.Citation;
import warden.core.survey.Reading;

/** Finds buckets that keep every old version at full price. */
final class VersionsKeptForever implements SiteBucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "versions-kept-forever",
            Area.HOSTING,
            Severity.LOW,
            "old versions never expire or move to cheaper storage; unfinished uploads are kept",
            "bucket-versioning, bucket-lifecycle",
            "Each deployment adds to the bill for good.",
            "Add a lifecycle rule that expires old versions after some weeks and ends unfinished uploads.",
            "S3 User Guide, \"Lifecycle configuration elements\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        Reading<String> versioning = subject.bucket().versioning();
        if (!subject.servesContent()
                || versioning.found().filter("Enabled"::equals).isEmpty()) {
            return List.of();
        }
        Verdict verdict = subject.bucket()
                .lifecycle()
                .fold(
                        found -> found.value().stream().anyMatch(rule -> rule.enabled() && rule.oldVersions())
                                ? subject.clean()
                                : flagged(subject, versioning, found.at(), found.value()),
                        absent -> flagged(subject, versioning, absent.at(), List.of()),
                        unread -> subject.unknown(List.of(unread.need())));
        return List.of(verdict);
    }

    private static Verdict flagged(
            Subject subject, Reading<String> versioning, Citation lifecycle, List<LifecycleRule> rules) {
        boolean endsUploads = rules.stream().anyMatch(rule -> rule.enabled() && rule.uploads());
        return subject.flagged(
                CARD,
                "Old versions never expire or move to cheaper storage"
                        + (endsUploads ? "." : ", and unfinished uploads are kept."),
                List.of(versioning.citation().orElseThrow(), lifecycle));
    }
}
