package warden.core.azure.audit;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.azure.publishing.AzureDeployments;
import warden.core.azure.site.WebSite;
import warden.core.checks.pipeline.PipelineCheck;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Pipeline;
import warden.core.survey.Need;

/** A check that asks of every pipeline what only this provider can tell. A pipeline that could not be read leaves the question open. */
public interface DeploymentCheck extends AzureCheck<DeploymentCheck.Of> {
    /** One pipeline and what it publishes here. */
    record Of(AzureContext context, PipelineCheck.Subject asked, List<WebSite> sites) implements Judged {
        public Of {
            sites = List.copyOf(sites);
        }

        public Pipeline pipeline() {
            return asked.pipeline();
        }

        public AzureDeployments deployments() {
            return context.publishing().deployments();
        }

        /** Returns the steps that may work with this provider's tools. */
        public List<DeploymentStep> steps() {
            return pipeline().steps().stream()
                    .filter(step -> step.mayBeOf(deployments().provider()))
                    .toList();
        }

        /** Returns the name of its site; absent when it publishes none. */
        public Optional<String> site() {
            return sites.stream().findFirst().map(WebSite::name);
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return asked.unknown(needs);
        }
    }

    @Override
    default List<Of> subjects(AzureContext context) {
        return context.subjects(DeploymentCheck.class, () -> context.pipelines().stream()
                .filter(asked -> context.publishing().deployments().concerns(asked.pipeline()))
                .map(asked -> new Of(
                        context, asked, context.publishing().deployments().sitesOf(asked.pipeline())))
                .toList());
    }

    @Override
    default List<Verdict> unread(AzureContext context) {
        return context.unreadPipelines();
    }
}
