package warden.core.aws.checks.cdn;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.checks.CdnCards;

/** Finds distributions that keep no access log. */
final class CdnLoggingOff implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.CDN_LOGGING_OFF;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        boolean standard =
                subject.distribution().config().flag("Logging", "Enabled").orElse(false);
        boolean realTime = subject.distribution()
                .config()
                .text("DefaultCacheBehavior", "RealtimeLogConfigArn")
                .filter(arn -> !arn.isEmpty())
                .isPresent();
        return List.of(
                standard || realTime
                        ? subject.clean()
                        : subject.flagged(
                                CARD,
                                "The distribution keeps no access log.",
                                List.of(subject.distribution().cite("Logging"))));
    }
}
