package warden.core.aws.checks.cdn;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "cdn". */
public final class CdnChecks {
    private CdnChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new OriginIdentityMissing(),
                new OriginIdentityNotAllowed(),
                new OriginIdentityAnyDistribution(),
                new OriginIdentityOtherDistribution(),
                new OriginIdentityTooStrong(),
                new OriginIdentityNotSigning(),
                new OriginIdentityOnWebsiteEndpoint(),
                new OriginIdentityLegacy(),
                new OriginIdentityUnused(),
                new OriginBucketGone(),
                new OriginWrongRegion(),
                new OriginPathMissing(),
                new OriginHostForwarded(),
                new RootObjectMissing(),
                new FolderIndexUnserved(),
                new ErrorResponseMissing(),
                new ViewerPlainHttp(),
                new ViewerTlsOld(),
                new ViewerMethodsTooWide(),
                new HostNotOnDistribution(),
                new HostOnNoRecord(),
                new SecurityHeadersMissing(),
                new StaleAfterDeploy(),
                new CompressionOff(),
                new DedicatedIpTls(),
                new CdnLoggingOff(),
                new DistributionOff());
    }
}
