package warden.core.aws.checks;

import java.util.List;
import java.util.stream.Stream;
import warden.core.audit.Check;
import warden.core.aws.checks.cdn.CdnChecks;
import warden.core.aws.checks.certificate.CertificateChecks;
import warden.core.aws.checks.credential.CredentialChecks;
import warden.core.aws.checks.dns.DnsChecks;
import warden.core.aws.checks.exposure.ExposureChecks;
import warden.core.aws.checks.hosting.HostingChecks;
import warden.core.aws.checks.leftovers.LeftoversChecks;
import warden.core.aws.checks.pipeline.PipelineChecks;
import warden.core.aws.checks.policy.PolicyChecks;
import warden.core.checks.content.ContentChecks;

/** The checks of this provider's sites. */
public final class AwsChecks {
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

    private AwsChecks() {}

    /** Returns every check, by area, in the order of the areas' lists. */
    public static List<Check> all() {
        return ALL;
    }
}
