package warden.core.aws.checks.pipeline;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "pipeline". */
public final class PipelineChecks {
    private PipelineChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new PipelineSecretInFile(),
                new PipelineUntrustedTrigger(),
                new PipelineUnpinnedStep(),
                new PipelineTokenTooWide(),
                new PipelineOpensObjects(),
                new PipelineUploadsEverything(),
                new PipelineLeavesOldFiles(),
                new PipelineDeleteWithoutNet(),
                new PipelineNoInvalidation(),
                new PipelineWrongTarget(),
                new PipelineNotExtracted(),
                new PipelineDeploysUntested(),
                new PipelineStateExposed());
    }
}
