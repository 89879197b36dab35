package warden.core.aws.checks.hosting;

import java.util.List;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.policy.Actor;
import warden.core.checks.HostingCards;

/** Finds open buckets that keep no access log. */
final class StorageLoggingOff implements SiteBucketCheck {
    private static final CheckCard CARD = HostingCards.STORAGE_LOGGING_OFF;

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
