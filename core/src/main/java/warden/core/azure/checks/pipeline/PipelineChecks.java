package warden.core.azure.checks.pipeline;

import java.util.List;
import java.util.stream.Stream;
import warden.core.audit.Check;

/** The checks of this area. */
public final class PipelineChecks {
    private PipelineChecks() {}

    /** Returns the area's checks, those that need nothing of a provider among them. */
    public static List<Check> all() {
        return Stream.concat(
                        warden.core.checks.pipeline.PipelineChecks.all().stream(),
                        Stream.<Check>of(
                                new PipelineDeleteWithoutNet(),
                                new PipelineNoInvalidation(),
                                new PipelineWrongTarget(),
                                new PipelineStateExposed()))
                .toList();
    }
}
