package warden.core.aws.checks.exposure;

import java.util.List;
import java.util.stream.Stream;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AccountCheck;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.site.AwsCloud;
import warden.core.survey.Need;

/** Finds accounts without the whole public access block though no bucket needs to be public. */
final class AccountGuardOff implements AccountCheck {
    private static final CheckCard CARD = new CheckCard(
            "account-guard-off",
            Area.EXPOSURE,
            Severity.LOW,
            "the account's block is off although no bucket needs it off",
            "account-public-access, bucket-website, distribution, zone-records",
            "A new bucket is protected by its own block only, which whoever creates it may turn off.",
            "Turn on all four flags of the account's public access block.",
            "S3 User Guide, \"Configuring block public access settings for your account\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        if (needsItOff(subject.context().cloud(), subject.account())) {
            return List.of();
        }
        Verdict verdict = judge(subject);
        List<Need> unread = unread(subject.account());
        return List.of(verdict instanceof Verdict.Flagged && !unread.isEmpty() ? subject.unknown(unread) : verdict);
    }

    /** Returns what keeps from knowing all buckets, and all edges that may read one as everybody. */
    private static List<Need> unread(Account account) {
        return Stream.concat(
                        account.listedBuckets().missing().stream(),
                        UnreadDistribution.needs(account.edges().unreadDistributions().stream()).stream())
                .toList();
    }

    private static Verdict judge(Subject subject) {
        String says = "The account's public access block is not wholly on, and no bucket needs it off.";
        return subject.account()
                .publicAccessBlock()
                .fold(
                        found -> found.value().isComplete()
                                ? subject.clean()
                                : subject.flagged(CARD, says, List.of(found.at())),
                        absent -> subject.flagged(CARD, says, List.of(absent.at())),
                        unread -> subject.unknown(List.of(unread.need())));
    }

    private static boolean needsItOff(AwsCloud cloud, Account account) {
        return account.buckets().stream()
                .anyMatch(bucket -> cloud.sitesOf(bucket).stream().anyMatch(site -> site.needsPublicAccess(bucket)));
    }
}
