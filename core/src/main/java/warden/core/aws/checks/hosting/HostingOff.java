package warden.core.aws.checks.hosting;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.checks.HostingCards;
import warden.core.survey.Citation;

/** Finds buckets whose website endpoint is used though hosting is off. */
final class HostingOff implements BucketCheck {
    private static final CheckCard CARD = HostingCards.HOSTING_OFF;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<Citation> user = WebsiteUse.of(subject.cloud(), subject.bucket());
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
