package warden.core.aws.checks.certificate;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "certificate". */
public final class CertificateChecks {
    private CertificateChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new CertificateMissing(),
                new CertificateNotCovering(),
                new CertificateWrongRegion(),
                new CertificateNotIssued(),
                new CertificateExpiring(),
                new CertificateNotRenewing(),
                new CertificateWeakKey());
    }
}
