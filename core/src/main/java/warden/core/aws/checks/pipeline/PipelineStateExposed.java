package warden.core.aws.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.PipelineCheck;
import warden.core.aws.policy.Actor;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.checks.PipelineCards;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.StateFiles;
import warden.core.survey.Need;

/** Finds deployment state that the public can read. */
final class PipelineStateExposed implements PipelineCheck {
    private static final CheckCard CARD = PipelineCards.PIPELINE_STATE_EXPOSED;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> unread(AwsContext context) {
        List<Verdict> verdicts = new ArrayList<>(PipelineCheck.super.unread(context));
        for (Account account : context.cloud().accounts()) {
            for (Bucket bucket : account.buckets()) {
                // A bucket without a site that is open is reported as such, with what lies in it.
                if (!context.cloud().sitesOf(bucket).isEmpty()) {
                    stored(context, bucket, verdicts);
                }
            }
        }
        return verdicts;
    }

    private static void stored(AwsContext context, Bucket bucket, List<Verdict> verdicts) {
        Optional<ObjectListing> listing = bucket.objects().found();
        Optional<String> state = listing.flatMap(
                found -> found.keys().stream().filter(StateFiles::isOne).findFirst());
        List<BucketSite> sites = context.cloud().sitesOf(bucket);
        if (state.isEmpty()) {
            bucket.unlistedObjects()
                    .ifPresent(need -> verdicts.add(new Verdict.Unknown(
                            bucket.arn(), Optional.of(sites.get(0).name()), List.of(need))));
        }
        if (state.isPresent()) {
            // Whoever reads the site, through the edge or not, can ask for this object as well.
            verdicts.add(new Verdict.Flagged(Finding.of(
                    CARD,
                    bucket.object(state.get()),
                    Optional.of(sites.get(0).name()),
                    "The object " + state.get() + " is deployment state, stored among the pages that visitors of "
                            + sites.get(0).name() + " can ask for.",
                    List.of(listing.get().citation(state.get()).orElseThrow()))));
        }
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Finding> findings = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        for (DeploymentStep step : subject.steps()) {
            StateFiles.kept(step)
                    .flatMap(target -> subject.deployments().bucketOf(subject.pipeline(), target.bucket()))
                    .ifPresent(bucket -> judge(subject, step, bucket, findings, needs));
        }
        needs.addAll(subject.openBuckets(step -> StateFiles.kept(step).isPresent()));
        return subject.verdictsUnless(needs, findings, false);
    }

    private static void judge(
            Subject subject, DeploymentStep step, Bucket bucket, List<Finding> findings, List<Need> needs) {
        Optional<Account> account = subject.context().cloud().ownerOf(bucket.name());
        boolean servesSite = !subject.context().cloud().sitesOf(bucket).isEmpty();
        Optional<Extent> extent = account.map(each ->
                subject.context().cloud().reach(each).strangersExtent(bucket, new Actor.Anyone(), Ability.READ));
        boolean open = extent.filter(Extent::isSome).isPresent();
        if (!open && !servesSite) {
            extent.filter(each -> each.kind() == Extent.Kind.UNKNOWN)
                    .ifPresent(each -> needs.addAll(
                            each.needs().isEmpty()
                                    ? List.of(new Need("bucket-policy", bucket.arn(), each.why(), ""))
                                    : each.needs()));
        }
        if (open || servesSite) {
            Finding finding = subject.finding(
                    CARD,
                    step,
                    "The pipeline keeps deployment state in " + bucket.name() + ", which "
                            + (open ? "anyone can read." : "the visitors of a site can read."));
            findings.add(finding.with(extent.flatMap(Extent::witness)));
        }
    }
}
