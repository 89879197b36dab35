package warden.core.azure.checks.exposure;

import java.util.List;
import warden.core.audit.Check;

/** The checks of this area. */
public final class ExposureChecks {
    private ExposureChecks() {}

    /** Returns the area's checks. */
    public static List<Check> all() {
        return List.of(
                new AnyoneCanList(),
                new OpenWithoutSite(),
                new OpenAroundCdn(),
                new OpenEndpointAroundCdn(),
                new AccountAllowsOpenContainers(),
                new GuardContradictsGrant(),
                new AccountKeyAccess(),
                new AccountTlsOld(),
                new AccountPlainHttp(),
                new AccountNetworkOpen(),
                new CorsTooWide(),
                new OldVersionsReadable(),
                new AccountKindUnsupported(),
                new OutsideAccountAccess());
    }
}
