package warden.core.azure.checks.dns;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.azure.audit.DomainCheck;
import warden.core.checks.DnsCards;
import warden.core.names.AuthorityRecords;
import warden.core.names.HostDirectory;
import warden.core.names.HostRecord;
import warden.core.survey.Need;

/**
 * Asks whether records keep the authority of managed certificates from issuing. Which authority that is at any time the provider does not
 * promise, so records that lack the known one leave the question open.
 */
final class CertificateAuthorityBarred implements DomainCheck {
    private static final CheckCard CARD = DnsCards.CERTIFICATE_AUTHORITY_BARRED.told(
            "dns-records, front-door-custom-domain, cdn-custom-domain",
            "The certificate is not issued, or not renewed when its time comes.",
            "Allow digicert.com in the CAA record.",
            "Front Door documentation, \"Domains in Azure Front Door\"; RFC 8659");
    private static final Set<String> KNOWN = Set.of("digicert.com");
    private static final String READ = "Microsoft.Network/dnsZones/recordsets/read";

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(DomainCheck.Of subject) {
        if (!subject.domain().isManaged()) {
            return List.of();
        }
        HostDirectory hosts = subject.context().cloud().hosts();
        String host = subject.domain().host();
        for (String at = host; at.contains("."); at = at.substring(at.indexOf('.') + 1)) {
            List<HostRecord> records = AuthorityRecords.of(hosts, at);
            if (!records.isEmpty()) {
                return AuthorityRecords.allow(records, host.startsWith("*."), KNOWN)
                        ? subject.clean()
                        : subject.open(new Need(
                                "dns-records",
                                at,
                                "its CAA record lacks digicert.com; which authority issues managed certificates is not certain",
                                ""));
            }
            Optional<Need> unread = hosts.zoneOf(at).isPresent() ? hosts.unread(at, READ) : Optional.empty();
            if (unread.isPresent()) {
                return subject.open(unread.get());
            }
        }
        return subject.clean();
    }
}
