package warden.core.aws.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.site.BucketSite;

/** The certificates that are known of and were not read, as every check over certificates leaves them open. */
public final class UnreadCertificates {
    private UnreadCertificates() {}

    /** Returns open verdicts for the certificates that lines or distributions name, or that would be in a list that was refused. */
    public static List<Verdict> verdicts(AwsContext context) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (String arn : account.names().namedCertificates()) {
                account.names()
                        .certificate(arn)
                        .missing()
                        .ifPresent(need -> verdicts.add(
                                new Verdict.Unknown(arn, siteShowing(context, account, arn), List.of(need))));
            }
        }
        return verdicts;
    }

    /** Returns the name of the site whose distribution shows a certificate, whether or not that was read. */
    public static Optional<String> siteShowing(AwsContext context, Account account, String certificateArn) {
        return account.edges().distributionsShowing(certificateArn).stream()
                .flatMap(user -> context.cloud().siteOf(user).stream())
                .findFirst()
                .map(BucketSite::name);
    }
}
