package warden.core.azure.publishing;

import java.util.List;
import warden.core.azure.principal.Principal;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.WebSite;
import warden.core.pipeline.Pipeline;
import warden.core.site.Publisher;

/**
 * A principal that publishes sites.
 *
 * @param pipelines those that name it
 */
public record AzurePublisher(AzureAccount account, Principal principal, List<WebSite> sites, List<Pipeline> pipelines)
        implements Publisher {
    public AzurePublisher {
        sites = List.copyOf(sites);
        pipelines = List.copyOf(pipelines);
    }

    @Override
    public String id() {
        return principal.id();
    }
}
