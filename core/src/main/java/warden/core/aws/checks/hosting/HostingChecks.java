package warden.core.aws.checks.hosting;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "hosting". */
public final class HostingChecks {
    private HostingChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new HostingOff(),
                new HostingUnused(),
                new IndexMissing(),
                new IndexInvalid(),
                new PageNotServed(),
                new ErrorUnset(),
                new ErrorMissing(),
                new SinglePageUnrouted(),
                new SinglePageMasksErrors(),
                new RedirectBroken(),
                new RedirectToPlainHttp(),
                new BucketHostMismatch(),
                new EncryptedBeyondReaders(),
                new RequesterPays(),
                new ExpiresLiveContent(),
                new VersioningOff(),
                new VersionsKeptForever(),
                new StorageLoggingOff());
    }
}
