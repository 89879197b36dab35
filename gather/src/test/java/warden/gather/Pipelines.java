package warden.gather;

import java.util.List;
import java.util.Map;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.gather.aws.pipeline.AwsTools;
import warden.gather.azure.pipeline.AzureTools;
import warden.gather.pipeline.PipelineReader;

/** Pipelines that are read with the tools of all providers. */
public final class Pipelines {
    public static final PipelineReader READER = new PipelineReader(List.of(new AwsTools(), new AzureTools()));

    private Pipelines() {}

    /** Returns a file's pipeline, beside which no other file is known. */
    public static Pipeline parse(String name, String... lines) {
        return READER.parse(PipelineText.ofFile(name, String.join("\n", lines)), Map.of());
    }
}
