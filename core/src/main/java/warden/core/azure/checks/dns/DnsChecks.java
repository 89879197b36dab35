package warden.core.azure.checks.dns;

import java.util.List;
import warden.core.audit.Check;

/** The checks of this area. */
public final class DnsChecks {
    private DnsChecks() {}

    /** Returns the area's checks. */
    public static List<Check> all() {
        return List.of(
                new RecordDangling(),
                new RecordAroundCdn(),
                new HostUnresolved(),
                new ApexOrWwwMissing(),
                new Ipv6RecordMissing(),
                new CertificateAuthorityBarred(),
                new ZoneNotDelegated(),
                new ZoneDuplicate());
    }
}
