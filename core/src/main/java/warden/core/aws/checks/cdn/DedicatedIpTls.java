package warden.core.aws.checks.cdn;

import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.ViewerCertificate;

/** Finds certificates that are served from dedicated addresses. */
final class DedicatedIpTls implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "dedicated-ip-tls",
            Area.CDN,
            Severity.MEDIUM,
            "a custom certificate served from dedicated IP addresses: hundreds of dollars a month for clients that no longer exist",
            "distribution",
            "The addresses are billed by the month, and every client of the last ten years does without.",
            "Set the support method to sni-only.",
            "CloudFront Developer Guide, \"Choose how CloudFront serves HTTPS requests\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        ViewerCertificate certificate = subject.distribution().certificate();
        if (certificate.isTheCdns()) {
            return List.of();
        }
        return List.of(
                certificate.supportMethod().equals("vip")
                        ? subject.flagged(
                                CARD,
                                "The distribution serves its certificate from dedicated IP addresses, which cost hundreds of dollars a month.",
                                List.of(subject.distribution().cite("ViewerCertificate")))
                        : subject.clean());
    }
}
