package warden.core.aws.checks.dns;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "dns". */
public final class DnsChecks {
    private DnsChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new RecordDangling(),
                new RecordAroundCdn(),
                new HostUnresolved(),
                new ApexOrWwwMissing(),
                new ApexCname(),
                new Ipv6RecordMissing(),
                new ZoneNotDelegated(),
                new DomainExpiring(),
                new CertificateAuthorityBarred(),
                new ZoneDuplicate());
    }
}
