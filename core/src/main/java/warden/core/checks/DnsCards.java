package warden.core.checks;

import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;

/** The catalogue entries of questions about dns that are put to the sites of every provider. */
public final class DnsCards {
    private DnsCards() {}

    public static final CheckCard RECORD_DANGLING = new CheckCard(
            "record-dangling",
            Area.DNS,
            Severity.CRITICAL,
            "a record leads to a bucket, distribution or app that does not exist: anyone could claim it",
            "zone-records, bucket-list, distribution-list, managed-app-domain",
            "Whoever creates a bucket of that name, or claims the host at the CDN, serves whatever they like under your name.",
            "Remove the record, or create again what it leads to.",
            "Route 53 Developer Guide, \"Protection from dangling delegation records\"; S3 User Guide, \"Website endpoints\"");

    public static final CheckCard RECORD_AROUND_CDN = new CheckCard(
            "record-around-cdn",
            Area.DNS,
            Severity.MEDIUM,
            "a host that a distribution serves resolves straight to the website endpoint",
            "zone-records, distribution",
            "Visitors go around the edge: no HTTPS, no headers, no caching.",
            "Lead the host to the distribution by an alias record.",
            "Route 53 Developer Guide, \"Routing traffic to an Amazon CloudFront distribution by using your domain name\"");

    public static final CheckCard HOST_UNRESOLVED = new CheckCard(
            "host-unresolved",
            Area.DNS,
            Severity.HIGH,
            "a host of the site has no record, or the record leads to a name that has none",
            "zone-records, distribution",
            "Visitors are told that the host does not exist.",
            "Add an alias record for the host, or remove it from the site.",
            "Route 53 Developer Guide, \"Choosing between alias and non-alias records\"");

    public static final CheckCard APEX_OR_WWW_MISSING = new CheckCard(
            "apex-or-www-missing",
            Area.DNS,
            Severity.LOW,
            "one of apex and www serves and the other does not exist",
            "zone-records",
            "Visitors who type the other form are told that it does not exist.",
            "Add a record for the other form, and have it redirect.",
            "Route 53 Developer Guide, \"Routing traffic to a website that is hosted in an Amazon S3 bucket\"");

    public static final CheckCard IPV6_RECORD_MISSING = new CheckCard(
            "ipv6-record-missing",
            Area.DNS,
            Severity.LOW,
            "the distribution answers on IPv6, DNS has no AAAA",
            "zone-records, distribution",
            "Visitors on IPv6-only networks come through a translator, if at all.",
            "Add an AAAA alias record beside the A record.",
            "CloudFront Developer Guide, \"Enable IPv6 for CloudFront distributions\"");

    public static final CheckCard ZONE_NOT_DELEGATED = new CheckCard(
            "zone-not-delegated",
            Area.DNS,
            Severity.HIGH,
            "the registrar names other name servers than the zone's",
            "zone, domain",
            "What is changed in this zone has no effect: the world asks other servers.",
            "Set the zone's name servers at the registrar.",
            "Route 53 Developer Guide, \"Updating name servers to use another registrar\"");

    public static final CheckCard ZONE_DUPLICATE = new CheckCard(
            "zone-duplicate",
            Area.DNS,
            Severity.MEDIUM,
            "two public zones of the same name",
            "zone, zone-list, domain",
            "Changes go into the zone that nobody asks, and seem to have no effect.",
            "Delete the zone that the registrar does not delegate to.",
            "Route 53 Developer Guide, \"Working with public hosted zones\"");

    public static final CheckCard CERTIFICATE_AUTHORITY_BARRED = new CheckCard(
            "certificate-authority-barred",
            Area.DNS,
            Severity.HIGH,
            "CAA records do not allow the certificate authority in use",
            "zone-records, certificate",
            "The certificate is not issued, or not renewed when its time comes.",
            "Allow amazon.com in the CAA record.",
            "Route 53 Developer Guide, \"CAA record type\"; RFC 8659");
}
