package warden.core.azure.checks.cdn;

import java.util.List;
import warden.core.audit.Check;

/** The checks of this area. */
public final class CdnChecks {
    private CdnChecks() {}

    /** Returns the area's checks. */
    public static List<Check> all() {
        return List.of(
                new ViewerPlainHttp(),
                new ViewerTlsOld(),
                new CdnCustomDomainNoHttps(),
                new HostNotOnDistribution(),
                new HostOnNoRecord(),
                new OriginHostForwarded(),
                new OriginBucketGone(),
                new RootObjectMissing(),
                new FolderIndexUnserved(),
                new OriginPathMissing(),
                new DistributionOff(),
                new CdnLoggingOff(),
                new CdnClassicRetiring(),
                new CompressionOff(),
                new SecurityHeadersMissing(),
                new StaleAfterDeploy());
    }
}
