package warden.core.aws.publishing;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.policy.Arn;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.aws.storage.Bucket;
import warden.core.aws.survey.AwsAspects;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.core.survey.Need;

/** Which pipeline publishes which site, and with which credential. Safe for use by several threads. */
public final class Deployments implements warden.core.cloud.Deployments {
    private final AwsCloud cloud;
    private final List<PublishingPrincipal> publishers;
    private final List<Pipeline> pipelines;
    private final Map<String, PublishingPrincipal> publishersByArn = new HashMap<>();
    private final Map<Pipeline, List<BucketSite>> sites = new IdentityHashMap<>();
    private @Nullable Map<String, List<StepOf>> stepsByPublisher;
    private @Nullable List<UnreadPipeline> unread;

    public Deployments(AwsCloud cloud, List<PublishingPrincipal> publishers, List<Pipeline> pipelines) {
        this.cloud = cloud;
        this.publishers = List.copyOf(publishers);
        this.pipelines = List.copyOf(pipelines);
        publishers.forEach(publisher -> publishersByArn.putIfAbsent(publisher.arn(), publisher));
    }

    @Override
    public List<Pipeline> pipelines() {
        return pipelines;
    }

    @Override
    public String provider() {
        return AwsAspects.PROVIDER;
    }

    @Override
    public Optional<Bucket> storeOf(Pipeline pipeline, DeploymentStep step) {
        return step.place().flatMap(place -> bucketOf(pipeline, place.bucket()));
    }

    @Override
    public List<Need> openStores(Pipeline pipeline, Predicate<DeploymentStep> steps) {
        return openBuckets(pipeline, steps);
    }

    /** Finds a publishing credential by its ARN. */
    public Optional<PublishingPrincipal> publisher(String arn) {
        return Optional.ofNullable(publishersByArn.get(arn));
    }

    @Override
    public synchronized List<BucketSite> sitesOf(Pipeline pipeline) {
        return sites.computeIfAbsent(pipeline, this::find);
    }

    private List<BucketSite> find(Pipeline pipeline) {
        Set<BucketSite> named = new LinkedHashSet<>();
        for (BucketSite site : cloud.sites()) {
            if (isStatedFor(pipeline, site) || pipeline.steps().stream().anyMatch(step -> names(step, site))) {
                named.add(site);
            }
        }
        if (named.isEmpty()) {
            pipeline.steps().forEach(step -> byRole(step).ifPresent(publisher -> named.addAll(publisher.sites())));
        }
        if (named.isEmpty() && !pipeline.isOfOthersThan(AwsAspects.PROVIDER)) {
            cloud.sites().stream().filter(site -> mentions(pipeline, site)).forEach(named::add);
        }
        return List.copyOf(named);
    }

    /**
     * Returns what keeps from telling where the steps of a pipeline go: variables that it does not set, each with the line at which it is
     * used. What the only site for which the site file names the pipeline has only one of needs no telling.
     */
    public List<Need> openTargets(Pipeline pipeline) {
        return Stream.concat(
                        openBuckets(pipeline, step -> true).stream(),
                        pipeline.steps().stream().flatMap(step -> openInvalidation(pipeline, step).stream()))
                .distinct()
                .toList();
    }

    /** Returns what keeps from telling in which buckets some of a pipeline's steps work, or keep their state. */
    public List<Need> openBuckets(Pipeline pipeline, Predicate<DeploymentStep> steps) {
        return pipeline.steps().stream()
                .filter(step -> step.mayBeOf(AwsAspects.PROVIDER))
                .filter(steps)
                .flatMap(step -> step
                        .place()
                        .map(Target::bucket)
                        .filter(bucket -> !bucket.isKnown())
                        .filter(bucket -> bucketOf(pipeline, bucket).isEmpty())
                        .map(bucket -> pipeline.openPlace(step, "bucket", bucket))
                        .stream())
                .distinct()
                .toList();
    }

    /** Returns what keeps from telling which distributions are invalidated: variables that no pipeline sets. */
    public List<Need> openInvalidations() {
        return pipelines.stream()
                .flatMap(pipeline ->
                        pipeline.steps().stream().flatMap(step -> openInvalidation(pipeline, step).stream()))
                .distinct()
                .toList();
    }

    private Optional<Need> openInvalidation(Pipeline pipeline, DeploymentStep step) {
        return step.mayBeOf(AwsAspects.PROVIDER)
                        && step.operation() instanceof Operation.Invalidate invalidation
                        && !invalidation.distribution().isKnown()
                        && distributionsOf(pipeline, invalidation.distribution())
                                        .size()
                                != 1
                ? Optional.of(pipeline.openPlace(step, "distribution", invalidation.distribution()))
                : Optional.empty();
    }

    @Override
    public synchronized List<UnreadPipeline> unread() {
        if (unread == null) {
            unread = UnreadPipeline.find(cloud.accounts(), cloud.sites(), pipelines);
        }
        return unread;
    }

    private static boolean names(DeploymentStep step, BucketSite site) {
        if (!step.mayBeOf(AwsAspects.PROVIDER)) {
            return false;
        }
        return step.target()
                        .filter(target -> site.buckets().stream()
                                .anyMatch(bucket -> target.bucket().isKnown()
                                        && bucket.name().equals(target.bucket().text())))
                        .isPresent()
                || (step.operation() instanceof Operation.Invalidate invalidation
                        && site.distributions().stream().anyMatch(edge -> edge.id()
                                .equals(invalidation.distribution().text())));
    }

    private static boolean mentions(Pipeline pipeline, BucketSite site) {
        return Stream.concat(site.hosts().stream(), site.buckets().stream().map(Bucket::name))
                .anyMatch(pipeline::mentions);
    }

    /**
     * Returns the bucket that a step works in: as named; for a variable that nobody told, the only one of the only site for which the site file
     * names the pipeline.
     */
    public Optional<Bucket> bucketOf(Pipeline pipeline, PipelineValue bucket) {
        if (bucket.isKnown()) {
            return cloud.ownerOf(bucket.text()).map(account -> account.bucket(bucket.text()));
        }
        List<BucketSite> sites = statedSitesOf(pipeline);
        List<Bucket> buckets = sites.stream()
                .flatMap(site -> site.buckets().stream())
                .filter(each -> each.website()
                        .found()
                        .filter(rules -> rules.redirectsAll())
                        .isEmpty())
                .toList();
        return sites.size() == 1 && buckets.size() == 1 ? Optional.of(buckets.get(0)) : Optional.empty();
    }

    /** Returns the distributions that an invalidation is for: as named, else those of the sites for which the site file names the pipeline. */
    public List<Distribution> distributionsOf(Pipeline pipeline, PipelineValue distribution) {
        Stream<Distribution> all =
                cloud.accounts().stream().flatMap(account -> account.edges().distributions().stream());
        return distribution.isKnown()
                ? all.filter(edge -> edge.id().equals(distribution.text())).toList()
                : statedSitesOf(pipeline).stream()
                        .flatMap(site -> site.distributions().stream())
                        .distinct()
                        .toList();
    }

    private List<BucketSite> statedSitesOf(Pipeline pipeline) {
        return cloud.sites().stream()
                .filter(site -> isStatedFor(pipeline, site))
                .toList();
    }

    private static boolean isStatedFor(Pipeline pipeline, BucketSite site) {
        return site.stated().stream().flatMap(each -> each.pipelines().stream()).anyMatch(path -> pipeline.isAt(path));
    }

    /** Returns the credential that a step works with; absent when none of the surveyed ones can be told to be it. */
    public Optional<PublishingPrincipal> publisherOf(Pipeline pipeline, DeploymentStep step) {
        if (!step.mayBeOf(AwsAspects.PROVIDER)) {
            return Optional.empty();
        }
        Optional<PublishingPrincipal> role = byRole(step);
        if (role.isPresent()
                || step.credential().flatMap(CredentialUse::knownRole).isPresent()) {
            return role;
        }
        Optional<PublishingPrincipal> key = step.credential().flatMap(this::byKey);
        if (key.isPresent()) {
            return key;
        }
        Optional<Kind> kind = step.credential().map(CredentialUse::kind);
        List<BucketSite> sites = sitesOf(pipeline);
        List<PublishingPrincipal> candidates = publishers.stream()
                .filter(publisher -> publisher.sites().stream().anyMatch(sites::contains))
                .filter(publisher ->
                        kind.isEmpty() || publisher.principal().isRole() != (kind.get() == Kind.ACCESS_KEY))
                .toList();
        return candidates.size() == 1 ? Optional.of(candidates.get(0)) : Optional.empty();
    }

    private Optional<PublishingPrincipal> byRole(DeploymentStep step) {
        return step.credential().flatMap(CredentialUse::knownRole).flatMap(role -> publishers.stream()
                .filter(publisher -> publisher.principal().isRole() && isRole(publisher, role))
                .findFirst());
    }

    private static boolean isRole(PublishingPrincipal publisher, String named) {
        return publisher.arn().equals(named)
                || (Arn.parse(named).isEmpty() && publisher.principal().name().equals(named));
    }

    private Optional<PublishingPrincipal> byKey(CredentialUse use) {
        if (!use.name().isKnown()) {
            return Optional.empty();
        }
        return publishers.stream()
                .filter(publisher -> !publisher.principal().isRole())
                .filter(publisher ->
                        publisher.account().survey().reading("iam-user-keys", publisher.arn()).found().stream()
                                .flatMap(answer -> answer.list("AccessKeyMetadata").stream())
                                .anyMatch(key -> key.text("AccessKeyId")
                                        .filter(use.name().text()::equals)
                                        .isPresent()))
                .findFirst();
    }

    /** A step and its pipeline. */
    public record StepOf(Pipeline pipeline, DeploymentStep step) {}

    /** Returns the steps that work with a credential, those of its pipelines that are not understood included. */
    public synchronized List<StepOf> stepsOf(PublishingPrincipal publisher) {
        Map<String, List<StepOf>> all = stepsByPublisher;
        if (all == null) {
            all = new HashMap<>();
            for (Pipeline pipeline : pipelines) {
                for (DeploymentStep step : pipeline.steps()) {
                    Optional<String> arn = publisherOf(pipeline, step).map(PublishingPrincipal::arn);
                    if (arn.isPresent()) {
                        all.computeIfAbsent(arn.get(), key -> new ArrayList<>()).add(new StepOf(pipeline, step));
                    }
                }
            }
            stepsByPublisher = all;
        }
        return all.getOrDefault(publisher.arn(), List.of());
    }

    /** Returns the pipelines that publish a site. */
    public List<Pipeline> of(BucketSite site) {
        return pipelines.stream()
                .filter(pipeline -> sitesOf(pipeline).contains(site))
                .toList();
    }

    /** True when a pipeline that publishes the site, or one that names its distribution, invalidates. */
    public boolean invalidates(BucketSite site, Distribution distribution) {
        return pipelines.stream().anyMatch(pipeline -> pipeline.steps().stream()
                .anyMatch(step -> step.operation() instanceof Operation.Invalidate invalidation
                        && distributionsOf(pipeline, invalidation.distribution())
                                .contains(distribution)
                        && (invalidation.distribution().isKnown()
                                || sitesOf(pipeline).contains(site))));
    }

    /** True when a pipeline names a distribution. */
    public boolean mention(Distribution distribution) {
        return pipelines.stream().anyMatch(pipeline -> pipeline.text().text().contains(distribution.id()));
    }
}
