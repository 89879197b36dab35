package warden.core.azure.checks.hosting;

import java.util.List;
import warden.core.audit.Check;

/** The checks of this area. */
public final class HostingChecks {
    private HostingChecks() {}

    /** Returns the area's checks. */
    public static List<Check> all() {
        return List.of(
                new HostingOff(),
                new HostingUnused(),
                new IndexMissing(),
                new IndexInvalid(),
                new ErrorUnset(),
                new ErrorMissing(),
                new SinglePageUnrouted(),
                new SinglePageMasksErrors(),
                new VersioningOff(),
                new ExpiresLiveContent(),
                new StorageLoggingOff(),
                new WebHostUnregistered());
    }
}
