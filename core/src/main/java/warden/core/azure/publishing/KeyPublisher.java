package warden.core.azure.publishing;

import java.util.List;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.WebSite;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Pipeline;
import warden.core.site.Publisher;

/**
 * The key of a storage account, or URLs signed with it, with which pipelines publish.
 *
 * @param isSigned true for signed URLs, false for the key itself
 * @param uses the first step of each pipeline that works so
 */
public record KeyPublisher(
        AzureAccount account, StorageAccount storage, boolean isSigned, List<WebSite> sites, List<Use> uses)
        implements Publisher {
    /** A step that works with it, and its pipeline. */
    public record Use(Pipeline pipeline, DeploymentStep step) {}

    public KeyPublisher {
        sites = List.copyOf(sites);
        uses = List.copyOf(uses);
    }

    @Override
    public String id() {
        return storage.id() + (isSigned ? "#sas" : "#key");
    }
}
