package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.checks.CdnCards;
import warden.core.names.HostDirectory;
import warden.core.names.HostRecord;
import warden.core.names.Zone;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds hosts on a distribution that DNS does not lead there. */
final class HostOnNoRecord implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.HOST_ON_NO_RECORD;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (String alias : subject.distribution().aliases()) {
            verdicts.add(judge(subject, alias));
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, String alias) {
        HostDirectory hosts = subject.cloud().hosts();
        String domain = subject.distribution().domain();
        boolean leadsHere =
                hosts.leads(alias).stream().anyMatch(lead -> lead.target().equals(domain))
                        || hosts.hostsLeadingTo(domain).stream().anyMatch(host -> Distribution.coversHost(alias, host));
        if (leadsHere) {
            return subject.clean();
        }
        Optional<Zone> zone = hosts.zoneOf(alias);
        if (zone.isEmpty() || !zone.get().isComplete() || hosts.isDelegatedAway(alias, zone.get())) {
            return subject.unknown(List.of(new Need(
                    "zone-records",
                    zone.map(Zone::id).orElse(alias),
                    "the zone that holds the host was not read",
                    "route53:ListResourceRecordSets")));
        }
        List<HostRecord> records = hosts.records(alias);
        if (records.isEmpty()) {
            // A host that nothing leads to is reported as such.
            return subject.clean();
        }
        String says = "The distribution lists " + alias + ", and DNS leads that host elsewhere.";
        List<Citation> because = new ArrayList<>(List.of(subject.distribution().cite("Aliases")));
        records.stream().map(HostRecord::at).forEach(because::add);
        return new Verdict.Flagged(Finding.of(CARD, subject.distribution().arn(), subject.site(), says, because)
                .at(alias));
    }
}
