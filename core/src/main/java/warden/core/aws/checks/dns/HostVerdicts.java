package warden.core.aws.checks.dns;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.names.HostedZone;
import warden.core.aws.site.BucketSite;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Verdicts about hosts, and what is missing where their zone was not read. */
final class HostVerdicts {
    private HostVerdicts() {}

    /** Returns the name of the site of a host, or of the first site below a domain that is itself no site's host. */
    static Optional<String> site(AwsContext context, String host) {
        return context.cloud()
                .siteOf(host)
                .or(() -> context.cloud().siteBelow(host))
                .map(BucketSite::name);
    }

    static Verdict clean(AwsContext context, String host) {
        return new Verdict.Clean(host, site(context, host));
    }

    static Verdict flagged(AwsContext context, CheckCard card, String host, String says, List<Citation> because) {
        return new Verdict.Flagged(Finding.of(card, host, site(context, host), says, because));
    }

    /** Returns the need to read the zone of a host; absent when all its records are known. */
    static Optional<Need> unreadZone(AwsContext context, String host) {
        return context.cloud().hosts().unread(host, HostedZone.TO_READ_RECORDS);
    }

    /** Returns where the records of the host's zone stand. */
    static List<Citation> zone(AwsContext context, String host) {
        return context.cloud().hosts().zoneOf(host).stream()
                .flatMap(zone -> zone.records().citation().stream())
                .map(at -> at.at("/ResourceRecordSets", ""))
                .toList();
    }
}
