package warden.core.checks.cdn;

import java.util.List;
import warden.core.check.Check;

/** The checks of the area "cdn". */
public final class CdnChecks {
    private CdnChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new OriginIdentityMissing(),
                new OriginIdentityNotAllowed(),
                new OriginIdentityAnyDistribution(),
                new RootObjectMissing());
    }
}
