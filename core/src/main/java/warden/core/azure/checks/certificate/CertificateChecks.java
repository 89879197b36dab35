package warden.core.azure.checks.certificate;

import java.util.List;
import warden.core.audit.Check;

/** The checks of this area. */
public final class CertificateChecks {
    private CertificateChecks() {}

    /** Returns the area's checks. */
    public static List<Check> all() {
        return List.of(
                new CertificateNotIssued(),
                new CertificateNotCovering(),
                new CertificateExpiring(),
                new CertificateNotRenewing());
    }
}
