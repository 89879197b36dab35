package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.names.HostedZone;
import warden.core.checks.HostingCards;
import warden.core.survey.Need;

/** Finds sealed buckets that still have website hosting on. */
final class HostingUnused implements SiteBucketCheck {
    private static final CheckCard CARD = HostingCards.HOSTING_UNUSED;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        boolean sealed = subject.isMeantSealed();
        List<Need> unread = unreadUse(subject);
        if ((!sealed && (subject.isStated() || unread.isEmpty()))
                || WebsiteUse.of(subject.cloud(), subject.bucket()).isPresent()) {
            return List.of();
        }
        boolean on = subject.bucket()
                .website()
                .found()
                .filter(website -> !website.redirectsAll())
                .isPresent();
        if (on && !unread.isEmpty()) {
            return List.of(subject.unknown(unread));
        }
        Verdict verdict = subject.bucket()
                .website()
                .fold(
                        found -> found.value().redirectsAll()
                                ? subject.clean()
                                : subject.flagged(
                                        CARD,
                                        "Website hosting is on, nothing uses the website endpoint, and the bucket is meant to be sealed.",
                                        List.of(found.at())),
                        absent -> subject.clean(),
                        missing -> subject.unknown(List.of(missing.need())));
        return List.of(verdict);
    }

    /** Returns what may use the website endpoint and was not read: edges, and the records of the site's hosts. */
    private static List<Need> unreadUse(Subject subject) {
        List<Need> needs = new ArrayList<>(subject.unreadEdges());
        subject.sites().stream()
                .flatMap(site -> site.hosts().stream())
                .filter(host -> subject.cloud().hosts().records(host).isEmpty())
                .flatMap(host -> subject.cloud().hosts().unread(host, HostedZone.TO_READ_RECORDS).stream())
                .filter(need -> !needs.contains(need))
                .forEach(needs::add);
        return needs;
    }
}
