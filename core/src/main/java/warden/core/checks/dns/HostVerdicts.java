package warden.core.checks.dns;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Setup;
import warden.core.audit.Verdict;
import warden.core.site.Site;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Verdicts about hosts, and what is missing where their zone was not read. */
final class HostVerdicts {
    private HostVerdicts() {}

    /** Returns the name of the site of a host, or of the first site below a domain that is itself no site's host. */
    static Optional<String> site(Setup setup, String host) {
        return setup.estate()
                .siteOf(host)
                .or(() -> setup.estate().siteBelow(host))
                .map(Site::name);
    }

    static Verdict clean(Setup setup, String host) {
        return new Verdict.Clean(host, site(setup, host));
    }

    static Verdict flagged(Setup setup, CheckCard card, String host, String says, List<Citation> because) {
        return new Verdict.Flagged(Finding.of(card, host, site(setup, host), says, because));
    }

    /** Returns the need to read the zone of a host; absent when all its records are known. */
    static Optional<Need> unreadZone(Setup setup, String host) {
        return setup.estate().hosts().unread(host);
    }

    /** Returns where the records of the host's zone stand. */
    static List<Citation> zone(Setup setup, String host) {
        return setup.estate().hosts().zoneOf(host).stream()
                .flatMap(zone -> zone.records().citation().stream())
                .map(at -> at.at("/ResourceRecordSets", ""))
                .toList();
    }
}
