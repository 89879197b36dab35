package warden.core.aws.checks.pipeline;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "pipeline". */
public final class PipelineChecks {
    private PipelineChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                warden.core.checks.pipeline.PipelineChecks.SECRET_IN_FILE,
                warden.core.checks.pipeline.PipelineChecks.UNTRUSTED_TRIGGER,
                warden.core.checks.pipeline.PipelineChecks.UNPINNED_STEP,
                warden.core.checks.pipeline.PipelineChecks.TOKEN_TOO_WIDE,
                new PipelineOpensObjects(),
                warden.core.checks.pipeline.PipelineChecks.UPLOADS_EVERYTHING,
                warden.core.checks.pipeline.PipelineChecks.LEAVES_OLD_FILES,
                new PipelineDeleteWithoutNet(),
                new PipelineNoInvalidation(),
                new PipelineWrongTarget(),
                warden.core.checks.pipeline.PipelineChecks.NOT_EXTRACTED,
                warden.core.checks.pipeline.PipelineChecks.DEPLOYS_UNTESTED,
                new PipelineStateExposed());
    }
}
