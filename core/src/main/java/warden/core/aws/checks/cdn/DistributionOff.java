package warden.core.aws.checks.cdn;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.site.BucketSite;
import warden.core.checks.CdnCards;

/** Finds sites whose distribution is disabled or still rolling out. */
final class DistributionOff implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.DISTRIBUTION_OFF;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Distribution distribution = subject.distribution();
        if (!distribution.enabled()) {
            boolean wanted = !subject.cloud()
                            .hosts()
                            .hostsLeadingTo(distribution.domain())
                            .isEmpty()
                    || subject.inSite().flatMap(BucketSite::stated).isPresent();
            return List.of(
                    wanted
                            ? subject.flagged(
                                    CARD, "The site's distribution is disabled.", List.of(distribution.cite("Enabled")))
                            : subject.clean());
        }
        boolean deployed =
                distribution.status().isEmpty() || distribution.status().equals("Deployed");
        return List.of(
                deployed
                        ? subject.clean()
                        : subject.flagged(
                                CARD,
                                "The distribution's last change is still rolling out (status " + distribution.status()
                                        + ").",
                                List.of(distribution.at())));
    }
}
