package warden.core.checks.dns;

import java.util.ArrayList;
import java.util.List;
import warden.core.account.Account;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.dns.Zone;

/** Finds CNAME records at the apex of a zone. */
final class ApexCname implements Check {
    private static final CheckCard CARD = new CheckCard(
            "apex-cname",
            Area.DNS,
            Severity.HIGH,
            "a CNAME at the apex of a zone",
            "zone-records",
            "The apex also holds the zone's own records, which a CNAME hides: mail and the zone itself may fail.",
            "Use an alias record at the apex.",
            "Route 53 Developer Guide, \"Choosing between alias and non-alias records\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Zone zone : account.zones()) {
                zone.name().filter(name -> !zone.isPrivate()).ifPresent(apex -> verdicts.add(judge(setup, zone, apex)));
            }
        }
        return verdicts;
    }

    private static Verdict judge(Setup setup, Zone zone, String apex) {
        if (zone.records().isUnread()) {
            return new Verdict.Unknown(
                    apex,
                    HostVerdicts.site(setup, apex),
                    zone.records().missing().stream().toList());
        }
        return zone.records().found().orElse(List.of()).stream()
                .filter(record -> record.host().equals(apex)
                        && record.type().equals("CNAME")
                        && record.alias().isEmpty())
                .findFirst()
                .map(record -> HostVerdicts.flagged(
                        setup,
                        CARD,
                        apex,
                        "The apex " + apex + " of the zone has a CNAME record.",
                        List.of(record.at())))
                .orElseGet(() -> HostVerdicts.clean(setup, apex));
    }
}
