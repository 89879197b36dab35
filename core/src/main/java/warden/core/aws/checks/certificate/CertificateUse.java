package warden.core.aws.checks.certificate;

import java.util.List;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.UnreadCertificates;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.site.BucketSite;
import warden.core.survey.Need;

/** Which certificates serve which distributions, and which were meant to. */
final class CertificateUse {
    private CertificateUse() {}

    /** Returns the distributions that show this certificate. */
    static List<Distribution> users(Account account, Certificate certificate) {
        return account.edges().distributionsShowing(certificate.arn());
    }

    /** True when a distribution shows it, or the account says that something uses it. */
    static boolean isUsed(Account account, Certificate certificate) {
        return !certificate.users().isEmpty() || !users(account, certificate).isEmpty();
    }

    /** Returns the name of the site that a certificate serves, or whose host it is for. */
    static Optional<String> site(AwsContext context, Account account, Certificate certificate) {
        return UnreadCertificates.siteShowing(context, account, certificate.arn())
                .or(() -> context.cloud().siteNamedBy(certificate.names()).map(BucketSite::name));
    }

    /** Returns the distributions with hosts and only the CDN's own certificate, one of whose hosts the certificate is for. */
    static List<Distribution> waiting(Account account, Certificate certificate) {
        return account.edges().distributionsWithoutCertificate().stream()
                .filter(distribution -> isFor(certificate, distribution))
                .toList();
    }

    /** True when the certificate covers one of the distribution's hosts. */
    static boolean isFor(Certificate certificate, Distribution distribution) {
        return distribution.aliases().stream().anyMatch(certificate::covers);
    }

    /** Returns the distributions that were not read and, as the certificate itself says, use it. */
    static List<Need> unreadUsers(Account account, Certificate certificate) {
        return UnreadDistribution.needs(account.edges().unreadDistributions().stream()
                .filter(unread -> certificate.users().contains(unread.arn())
                        || (unread.arn().equals(account.number())
                                && certificate.users().stream().anyMatch(user -> isUndescribed(account, user)))));
    }

    private static boolean isUndescribed(Account account, String user) {
        return user.contains(":distribution/")
                && account.edges().distributions().stream()
                        .noneMatch(distribution -> distribution.arn().equals(user));
    }

    /** Returns the distributions that were not read and may wait for this certificate: whose hosts it is for, or are not known. */
    static List<Need> unreadWaiting(Account account, Certificate certificate) {
        return UnreadDistribution.needs(account.edges().unreadDistributions().stream()
                .filter(unread ->
                        unread.aliases().isEmpty() || unread.aliases().stream().anyMatch(certificate::covers)));
    }
}
