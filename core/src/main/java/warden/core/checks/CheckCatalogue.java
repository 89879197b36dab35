package warden.core.checks;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.audit.Check;
import warden.core.checks.cdn.CdnChecks;
import warden.core.checks.certificate.CertificateChecks;
import warden.core.checks.content.ContentChecks;
import warden.core.checks.credential.CredentialChecks;
import warden.core.checks.dns.DnsChecks;
import warden.core.checks.exposure.ExposureChecks;
import warden.core.checks.hosting.HostingChecks;
import warden.core.checks.leftovers.LeftoversChecks;
import warden.core.checks.pipeline.PipelineChecks;
import warden.core.checks.policy.PolicyChecks;

/** All checks. */
public final class CheckCatalogue {
    private static final List<Check> ALL = Stream.of(
                    ExposureChecks.all(),
                    PolicyChecks.all(),
                    HostingChecks.all(),
                    CdnChecks.all(),
                    CertificateChecks.all(),
                    DnsChecks.all(),
                    CredentialChecks.all(),
                    PipelineChecks.all(),
                    ContentChecks.all(),
                    LeftoversChecks.all())
            .flatMap(List::stream)
            .toList();

    private CheckCatalogue() {}

    /** Returns every check, by area, in the order of the areas' lists. */
    public static List<Check> all() {
        return ALL;
    }

    /** Finds a check by its id. */
    public static Optional<Check> named(String id) {
        return ALL.stream().filter(check -> check.card().id().equals(id)).findFirst();
    }
}
