package warden.core.aws.audit;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;
import warden.core.audit.AuditContext;
import warden.core.audit.Verdict;
import warden.core.aws.AwsAdapter;
import warden.core.aws.permission.EffectivePermissions;
import warden.core.aws.permission.Excess;
import warden.core.aws.publishing.AwsPublishing;
import warden.core.aws.publishing.Deployments;
import warden.core.aws.publishing.NeededPermissions;
import warden.core.aws.publishing.UnreadPublisher;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.PossiblePublisher;
import warden.core.aws.site.PublishingPrincipal;

/** What checks look at, and what several of them ask about publishing credentials, worked out once. */
public final class AwsContext {
    private final AwsCloud cloud;
    private final AuditContext context;
    private final AwsPublishing publishing;
    private final Map<BucketSite, List<PublishingPrincipal>> publishersBySite = new HashMap<>();
    private final Map<String, EffectivePermissions> permissions = new ConcurrentHashMap<>();
    private final Map<String, NeededPermissions> needed = new ConcurrentHashMap<>();
    private final Map<String, Excess> excess = new ConcurrentHashMap<>();

    private AwsContext(AuditContext context, AwsAdapter adapter) {
        this.cloud = adapter.cloud();
        this.context = context;
        this.publishing = (AwsPublishing) context.publishing(adapter);
        publishing.publishers().forEach(publisher -> publisher.sites().forEach(site -> publishersBySite
                .computeIfAbsent(site, key -> new ArrayList<>())
                .add(publisher)));
    }

    /** Returns this provider's part of a context, made once; absent where none of its accounts was surveyed. */
    public static Optional<AwsContext> in(AuditContext context) {
        return context.once(AwsContext.class, () -> context.clouds().stream()
                .filter(AwsAdapter.class::isInstance)
                .map(AwsAdapter.class::cast)
                .findFirst()
                .map(adapter -> new AwsContext(context, adapter)));
    }

    /**
     * Returns the things that a kind of checks asks of, listed once.
     *
     * @param kind the interface of the checks, or of the things
     */
    public <S> List<S> subjects(Class<?> kind, Supplier<List<S>> listing) {
        return context.once(kind, listing);
    }

    public AwsCloud cloud() {
        return cloud;
    }

    public Instant at() {
        return context.at();
    }

    public List<PublishingPrincipal> publishers() {
        return publishing.publishers();
    }

    /** Returns the credentials of which it is not known whether they publish sites. */
    public List<PossiblePublisher> possiblePublishers() {
        return publishing.possiblePublishers();
    }

    /** Returns the credentials that publish a site. */
    public List<PublishingPrincipal> publishersOf(BucketSite site) {
        return List.copyOf(publishersBySite.getOrDefault(site, List.of()));
    }

    public Deployments deployments() {
        return publishing.deployments();
    }

    /** Returns the pipelines whose steps can be judged. */
    public List<warden.core.checks.pipeline.PipelineCheck.Subject> pipelines() {
        return warden.core.checks.pipeline.PipelineCheck.understood(context);
    }

    /** Returns open verdicts for the pipelines that could not be read. */
    public List<Verdict> unreadPipelines() {
        return warden.core.checks.pipeline.PipelineCheck.open(context);
    }

    /** Returns the credentials that publish, or may, and that were not read. */
    public List<UnreadPublisher> unreadPublishers() {
        return publishing.unreadPublishers();
    }

    /** Returns what a publisher's policies allow. */
    public EffectivePermissions permissions(PublishingPrincipal publisher) {
        return permissions.computeIfAbsent(
                publisher.arn(),
                arn -> new EffectivePermissions(cloud.reach(publisher.account()), publisher.principal()));
    }

    /** Forgets what was worked out about a publisher: it is worked out again when it is asked for. */
    public void letGo(PublishingPrincipal publisher) {
        permissions.remove(publisher.arn());
        needed.remove(publisher.arn());
        excess.remove(publisher.arn());
    }

    /** Returns what a publisher's deployments need. */
    public NeededPermissions needed(PublishingPrincipal publisher) {
        return needed.computeIfAbsent(publisher.arn(), arn -> NeededPermissions.of(publisher, deployments()));
    }

    /** Returns what a publisher is allowed beyond what its deployments need. */
    public Excess excess(PublishingPrincipal publisher) {
        return excess.computeIfAbsent(
                publisher.arn(),
                arn -> Excess.of(
                        publisher, permissions(publisher), needed(publisher).needed()));
    }
}
