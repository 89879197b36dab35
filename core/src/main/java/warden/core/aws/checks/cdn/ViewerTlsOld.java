package warden.core.aws.checks.cdn;

import java.util.List;
import java.util.regex.Pattern;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.ViewerCertificate;
import warden.core.checks.CdnCards;

/** Finds certificates that are served with old TLS protocols. */
final class ViewerTlsOld implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.VIEWER_TLS_OLD;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final Pattern FROM_TLS_1_2 = Pattern.compile("TLSv1\\.[2-9].*");

    @Override
    public List<Verdict> examine(Subject subject) {
        ViewerCertificate certificate = subject.distribution().certificate();
        String protocol = certificate.minimumProtocol();
        if (certificate.isTheCdns() || protocol.isEmpty()) {
            return List.of();
        }
        if (FROM_TLS_1_2.matcher(protocol).matches()) {
            return List.of(subject.clean());
        }
        return List.of(subject.flagged(
                CARD,
                "The distribution serves its certificate with the old protocol " + protocol + ".",
                List.of(subject.distribution().cite("ViewerCertificate"))));
    }
}
