package warden.core.aws.checks.leftovers;

import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.site.BucketSite;
import warden.core.checks.LeftoversCards;

/** Finds distributions that nothing leads to. */
final class LeftoverDistribution implements DistributionCheck {
    private static final CheckCard CARD = LeftoversCards.LEFTOVER_DISTRIBUTION;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Distribution distribution = subject.distribution();
        boolean ledTo =
                !subject.cloud().hosts().hostsLeadingTo(distribution.domain()).isEmpty();
        boolean stated = subject.inSite().flatMap(BucketSite::stated).isPresent();
        if (!distribution.enabled()) {
            return List.of(
                    ledTo || stated
                            ? subject.clean()
                            : subject.flagged(
                                    CARD,
                                    "The distribution is disabled, and nothing leads to it.",
                                    List.of(distribution.cite("Enabled"))));
        }
        boolean used = ledTo
                || stated
                || !distribution.aliases().isEmpty()
                || subject.context().deployments().mention(distribution)
                || isNamedByPublisher(subject);
        return List.of(
                used
                        ? subject.clean()
                        : subject.flagged(
                                CARD,
                                "No host, no record and no pipeline leads to the distribution " + distribution.domain()
                                        + ".",
                                List.of(distribution.at())));
    }

    /** A credential that may invalidate it by name tells that somebody publishes there. */
    private static boolean isNamedByPublisher(Subject subject) {
        return subject.account().directory().principals().stream()
                .flatMap(principal -> principal.holdings().policies().stream())
                .flatMap(policy -> policy.document().statements().stream())
                .anyMatch(statement ->
                        statement.text().contains(subject.distribution().arn()));
    }
}
