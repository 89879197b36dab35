package warden.core.azure.audit;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import warden.core.audit.AuditContext;
import warden.core.audit.Verdict;
import warden.core.azure.AzureAdapter;
import warden.core.azure.publishing.AzurePublishing;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.trace.AzureTracer;
import warden.core.checks.pipeline.PipelineCheck;
import warden.core.site.SiteFile;

/** What this provider's checks look at. */
public final class AzureContext {
    private final AuditContext context;
    private final AzureCloud cloud;
    private final AzurePublishing publishing;

    private AzureContext(AuditContext context, AzureAdapter adapter) {
        this.context = context;
        this.cloud = adapter.cloud();
        this.publishing = (AzurePublishing) context.publishing(adapter);
    }

    /** Returns this provider's part of a context, made once; absent where none of its subscriptions was surveyed. */
    public static Optional<AzureContext> in(AuditContext context) {
        return context.once(AzureContext.class, () -> context.clouds().stream()
                .filter(AzureAdapter.class::isInstance)
                .map(AzureAdapter.class::cast)
                .findFirst()
                .map(adapter -> new AzureContext(context, adapter)));
    }

    /**
     * Returns the things that a kind of checks asks of, listed once.
     *
     * @param kind the interface of the checks
     */
    public <S> List<S> subjects(Class<?> kind, Supplier<List<S>> listing) {
        return context.once(kind, listing);
    }

    public AzureCloud cloud() {
        return cloud;
    }

    public AzurePublishing publishing() {
        return publishing;
    }

    public Instant at() {
        return context.at();
    }

    public SiteFile file() {
        return context.file();
    }

    /** Returns the pipelines whose steps can be judged. */
    public List<PipelineCheck.Subject> pipelines() {
        return PipelineCheck.understood(context);
    }

    /** Returns open verdicts for the pipelines that could not be read. */
    public List<Verdict> unreadPipelines() {
        return PipelineCheck.open(context);
    }

    /** Returns what follows visitors' requests. */
    public AzureTracer tracer() {
        return context.once(AzureTracer.class, () -> new AzureTracer(cloud));
    }
}
