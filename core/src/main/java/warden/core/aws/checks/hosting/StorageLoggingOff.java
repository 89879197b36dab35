package warden.core.aws.checks.hosting;

import java.util.List;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.policy.Actor;

/** Finds open buckets that keep no access log. */
final class StorageLoggingOff implements SiteBucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "storage-logging-off",
            Area.HOSTING,
            Severity.LOW,
            "an open bucket keeps no access log",
            "bucket-logging, bucket-policy",
            "Nobody can tell who fetched what, or find out how a leak was used.",
            "Turn server access logging on, into a bucket of its own.",
            "S3 User Guide, \"Logging requests with server access logging\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        if (!subject.servesContent()) {
            return List.of();
        }
        Extent read = subject.reach().strangersExtent(subject.bucket(), new Actor.Anyone(), Ability.READ);
        if (read.kind() == Extent.Kind.NONE) {
            return List.of();
        }
        boolean keepsLog = subject.bucket().logs().found().orElse(false);
        if (!read.isSome() && !keepsLog) {
            return List.of(subject.unknown(subject.needs(read)));
        }
        Verdict verdict = subject.bucket()
                .logs()
                .fold(
                        found -> found.value()
                                ? subject.clean()
                                : subject.flagged(
                                        CARD, "The bucket is open and keeps no access log.", List.of(found.at())),
                        absent -> subject.flagged(
                                CARD, "The bucket is open and keeps no access log.", List.of(absent.at())),
                        unread -> subject.unknown(List.of(unread.need())));
        return List.of(verdict);
    }
}
