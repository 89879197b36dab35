package warden.core.checks;

import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;

/** The catalogue entries of questions about certificate that are put to the sites of every provider. */
public final class CertificateCards {
    private CertificateCards() {}

    public static final CheckCard CERTIFICATE_NOT_ISSUED = new CheckCard(
            "certificate-not-issued",
            Area.CERTIFICATE,
            Severity.HIGH,
            "pending validation, failed, revoked",
            "certificate, distribution",
            "The host has no valid certificate until it is issued.",
            "Add the validation record that the certificate names, or request it again.",
            "ACM User Guide, \"DNS validation\"");

    public static final CheckCard CERTIFICATE_NOT_COVERING = new CheckCard(
            "certificate-not-covering",
            Area.CERTIFICATE,
            Severity.HIGH,
            "a host that the certificate does not cover (a wildcard covers one label, and not the apex)",
            "certificate, distribution",
            "Visitors of that host get a certificate warning.",
            "Request a certificate that names the host too, and set it on the distribution.",
            "CloudFront Developer Guide, \"Requirements for using SSL/TLS certificates with CloudFront\"");

    public static final CheckCard CERTIFICATE_EXPIRING = new CheckCard(
                    "certificate-expiring",
                    Area.CERTIFICATE,
                    Severity.HIGH,
                    "expired (critical), or within 30 days and not renewing by itself",
                    "certificate, zone-records",
                    "From that day on every visitor gets a certificate warning.",
                    "Restore the validation record so that it renews, or import a new certificate.",
                    "ACM User Guide, \"Managed certificate renewal in AWS Certificate Manager\"")
            .atWorst(Severity.CRITICAL);

    public static final CheckCard CERTIFICATE_NOT_RENEWING = new CheckCard(
            "certificate-not-renewing",
            Area.CERTIFICATE,
            Severity.MEDIUM,
            "will not renew: validation record gone, validated by mail, imported",
            "certificate, zone-records",
            "One day it ends, on the day that nobody has it in mind.",
            "Validate it by DNS and keep the validation record; replace an imported certificate by a managed one.",
            "ACM User Guide, \"Managed certificate renewal in AWS Certificate Manager\"");
}
