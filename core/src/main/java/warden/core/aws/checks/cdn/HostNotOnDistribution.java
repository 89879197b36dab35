package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.audit.HostCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.site.BucketSite;
import warden.core.checks.CdnCards;
import warden.core.names.Lead;

/** Finds hosts that DNS leads to a distribution which does not list them. */
final class HostNotOnDistribution implements HostCheck {
    private static final CheckCard CARD = CdnCards.HOST_NOT_ON_DISTRIBUTION;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        for (Lead lead : subject.leads()) {
            Optional<Distribution> distribution = subject.context().cloud().distributionNamed(lead.target());
            if (distribution.isPresent()) {
                return List.of(judge(subject.context(), subject.host(), lead, distribution.get()));
            }
        }
        return List.of();
    }

    @Override
    public List<Verdict> unread(AwsContext context) {
        List<Verdict> open = new ArrayList<>(HostCheck.super.unread(context));
        open.addAll(DistributionCheck.unreadDistributions(context));
        return open;
    }

    private static Verdict judge(AwsContext context, String host, Lead lead, Distribution distribution) {
        Optional<String> site = context.cloud().siteOf(host).map(BucketSite::name);
        boolean listed = distribution.lists(host)
                || context.cloud().accounts().stream()
                        .anyMatch(
                                account -> account.edges().distributionsByHost().lists(host));
        if (listed) {
            return new Verdict.Clean(distribution.arn(), site);
        }
        String says = host + " leads to the distribution " + distribution.id()
                + ", which does not list it: visitors get a TLS error, or 403 over HTTP.";
        return new Verdict.Flagged(Finding.of(
                        CARD,
                        distribution.arn(),
                        site,
                        says,
                        List.of(lead.record().at(), distribution.cite("Aliases")))
                .at(host));
    }
}
