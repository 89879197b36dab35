package warden.core.aws.checks.leftovers;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.site.BucketSite;

/** Finds distributions that nothing leads to. */
final class LeftoverDistribution implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "leftover-distribution",
            Area.LEFTOVERS,
            Severity.LOW,
            "disabled, or no host and no traffic hint leads to it",
            "distribution, zone-records, pipeline-file",
            "It serves, or waits to serve, what nobody looks after any more.",
            "Disable and delete the distribution.",
            "CloudFront Developer Guide, \"Delete a distribution\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Distribution distribution = subject.distribution();
        boolean ledTo =
                !subject.estate().hosts().hostsLeadingTo(distribution.domain()).isEmpty();
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
                || subject.setup().deployments().mention(distribution)
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
