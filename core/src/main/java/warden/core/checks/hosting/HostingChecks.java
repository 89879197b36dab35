package warden.core.checks.hosting;

import java.util.List;
import warden.core.check.Check;

/** The checks of the area "hosting". */
public final class HostingChecks {
    private HostingChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(new IndexMissing(), new ErrorUnset(), new BucketHostMismatch());
    }
}
