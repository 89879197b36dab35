package warden.core.aws.checks.cdn;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;

/** Finds distributions that keep no access log. */
final class CdnLoggingOff implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "cdn-logging-off",
            Area.CDN,
            Severity.LOW,
            "no access log",
            "distribution",
            "Nobody can tell who asked for what, or what visitors were answered.",
            "Turn standard logging on.",
            "CloudFront Developer Guide, \"Configure standard logging (access logs)\"");

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
