package warden.core.azure.checks;

import java.util.List;
import java.util.stream.Stream;
import warden.core.audit.Check;
import warden.core.azure.checks.cdn.CdnChecks;
import warden.core.azure.checks.certificate.CertificateChecks;
import warden.core.azure.checks.credential.CredentialChecks;
import warden.core.azure.checks.dns.DnsChecks;
import warden.core.azure.checks.exposure.ExposureChecks;
import warden.core.azure.checks.hosting.HostingChecks;
import warden.core.azure.checks.leftovers.LeftoversChecks;
import warden.core.azure.checks.pipeline.PipelineChecks;
import warden.core.azure.checks.policy.PolicyChecks;
import warden.core.checks.content.ContentChecks;

/** The checks of this provider's sites. */
public final class AzureChecks {
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

    private AzureChecks() {}

    /** Returns every check, by area, in the order of the areas' lists. */
    public static List<Check> all() {
        return ALL;
    }
}
