package warden.core.aws.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.PipelineCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.CacheTimes;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.site.BucketSite;
import warden.core.checks.PipelineCards;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Pipeline;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds pipelines that publish behind an edge and do not make it forget. */
final class PipelineNoInvalidation implements PipelineCheck {
    private static final CheckCard CARD = PipelineCards.PIPELINE_NO_INVALIDATION;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final long LONG = 3_600;

    @Override
    public List<Verdict> examine(Subject subject) {
        Pipeline pipeline = subject.pipeline();
        if (pipeline.uploads().isEmpty()) {
            return List.of();
        }
        List<Finding> findings = new ArrayList<>();
        List<Need> open = subject.deployments().openInvalidations();
        for (BucketSite site : subject.sites()) {
            for (Distribution distribution : site.distributions()) {
                boolean other = subject.deployments().invalidates(site, distribution);
                if (!other
                        && caches(site, distribution)
                        && pipeline.notUnderstood().isEmpty()
                        && !pipeline.uploads().stream().anyMatch(DeploymentStep::uploadsFresh)) {
                    DeploymentStep upload = pipeline.uploads().get(0);
                    Finding finding = subject.finding(
                            CARD,
                            upload,
                            "The pipeline publishes behind the distribution " + distribution.id()
                                    + ", which keeps pages, and never invalidates it.");
                    findings.add(finding.restingOn(distribution.at())
                            .inSite(site.name())
                            .at(distribution.id()));
                }
            }
        }
        // An invalidation of a distribution that is not known may be of these.
        if (!findings.isEmpty() && !open.isEmpty()) {
            return List.of(subject.unknown(open));
        }
        List<Need> unreadEdges = UnreadDistribution.needs(subject.sites().stream()
                .filter(site -> site.distributions().isEmpty())
                .flatMap(site -> site.buckets().stream())
                .flatMap(bucket -> subject.context().cloud().unreadDistributionsAt(bucket.name())));
        if (findings.isEmpty() && !pipeline.invalidates() && !unreadEdges.isEmpty()) {
            return List.of(new Verdict.Unknown(pipeline.subject(), subject.site(), unreadEdges));
        }
        // Of a bucket that is not known, it is not known either which edge is before it.
        return subject.verdictsUnless(
                subject.openBuckets(DeploymentStep::publishes), findings, !pipeline.invalidates());
    }

    private static boolean caches(BucketSite site, Distribution distribution) {
        Optional<Behavior> behavior = distribution.defaultBehavior();
        if (behavior.isEmpty()) {
            return false;
        }
        Reading<CacheTimes> times = site.account().edges().policies().times(behavior.get(), distribution.at());
        // What is not said stays in the cache for a day, which is the provider's default.
        return times.found().map(found -> found.most() > LONG).orElse(true);
    }
}
