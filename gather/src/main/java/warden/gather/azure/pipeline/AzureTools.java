package warden.gather.azure.pipeline;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.Cmdlets;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.PowerShellWords;
import warden.gather.pipeline.ProviderTools;
import warden.gather.pipeline.Rclone;
import warden.gather.pipeline.ToolCall;
import warden.gather.pipeline.WorkflowStep;
import warden.gather.pipeline.Yaml;

/** What the second provider's tools do in pipelines. */
public final class AzureTools implements ProviderTools {
    private static final String COPY_TOOL = "azcopy";
    private static final Pattern ADDRESS = Pattern.compile(
            "(?i)(https?://)?[^/?#]*"
                    + "(\\.(blob|dfs|web|file)\\.(core|storage)\\.|\\bmanagement\\.(azure\\.com|usgovcloudapi\\.net|chinacloudapi\\.cn))");

    @Override
    public Set<String> programs() {
        return Set.of(AzureAuthentication.CLI, COPY_TOOL, Rclone.PROGRAM);
    }

    @Override
    public boolean command(String program, List<PipelineValue> arguments, ToolCall call) {
        switch (program) {
            case AzureAuthentication.CLI -> new AzureCommands(call).read(arguments);
            case COPY_TOOL -> new CopyTool(call).read(arguments);
            default -> {
                if (!AzureRclone.isOne(arguments, call.here())) {
                    return false;
                }
                AzureRclone.read(arguments, call);
            }
        }
        return true;
    }

    /** Source: Storage documentation, "Storage account endpoints"; Azure REST API reference, "Components of a REST API request". */
    @Override
    public boolean isAddress(PipelineValue word) {
        return AzureStorageUrl.isOne(word) || ADDRESS.matcher(word.text()).lookingAt();
    }

    /** Source: Terraform documentation, "Backend Type: azurerm". */
    @Override
    public boolean keepsState(Map<String, PipelineValue> backend, ToolCall call) {
        PipelineValue container = backend.get("container_name");
        if (container == null) {
            return false;
        }
        Target target = new Target(
                backend.getOrDefault("storage_account_name", PipelineValue.open("?", "the storage account")),
                container,
                backend.getOrDefault("key", PipelineValue.of("")));
        call.add(
                new Operation.KeepState(target),
                call.here().signedIn(AzureAuthentication.CLI),
                AzureAuthentication.PROVIDER);
        return true;
    }

    @Override
    public Optional<Cmdlets> cmdlets(PowerShellWords words, JobContext job) {
        return Optional.of(new AzureCmdlets(words, job));
    }

    @Override
    public boolean workflowStep(WorkflowStep step) {
        return AzureWorkflowSteps.read(step);
    }

    @Override
    public Optional<Pipeline> pipeline(Yaml root, PipelineText text, JobContext begin) {
        return AzurePipeline.isOne(root) ? Optional.of(AzurePipeline.read(root, text, begin)) : Optional.empty();
    }
}
