package warden.core.checks.pipeline;

import java.util.List;
import warden.core.audit.Check;

/** The questions to pipelines that need nothing of a provider: one instance of each, whoever lists it. */
public final class PipelineChecks {
    public static final Check SECRET_IN_FILE = new PipelineSecretInFile();
    public static final Check UNTRUSTED_TRIGGER = new PipelineUntrustedTrigger();
    public static final Check UNPINNED_STEP = new PipelineUnpinnedStep();
    public static final Check TOKEN_TOO_WIDE = new PipelineTokenTooWide();
    public static final Check UPLOADS_EVERYTHING = new PipelineUploadsEverything();
    public static final Check LEAVES_OLD_FILES = new PipelineLeavesOldFiles();
    public static final Check NOT_EXTRACTED = new PipelineNotExtracted();
    public static final Check DEPLOYS_UNTESTED = new PipelineDeploysUntested();

    private PipelineChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                SECRET_IN_FILE,
                UNTRUSTED_TRIGGER,
                UNPINNED_STEP,
                TOKEN_TOO_WIDE,
                UPLOADS_EVERYTHING,
                LEAVES_OLD_FILES,
                NOT_EXTRACTED,
                DEPLOYS_UNTESTED);
    }
}
