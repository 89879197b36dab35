package warden.core.checks.dns;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.account.Account;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.dns.Zone;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds second public zones of a name. */
final class ZoneDuplicate implements Check {
    private static final CheckCard CARD = new CheckCard(
            "zone-duplicate",
            Area.DNS,
            Severity.MEDIUM,
            "two public zones of the same name",
            "zone, zone-list, domain",
            "Changes go into the zone that nobody asks, and seem to have no effect.",
            "Delete the zone that the registrar does not delegate to.",
            "Route 53 Developer Guide, \"Working with public hosted zones\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        Map<String, List<Zone>> byName = new LinkedHashMap<>();
        for (Account account : setup.estate().accounts()) {
            for (Zone zone : account.zones()) {
                zone.name().filter(name -> !zone.isPrivate()).ifPresent(name -> byName.computeIfAbsent(
                                name, key -> new ArrayList<>())
                        .add(zone));
            }
        }
        List<Need> unread = setup.estate().accounts().stream()
                .flatMap(account -> account.survey().unlisted("zone-list", account.number()).stream())
                .toList();
        List<Verdict> verdicts = new ArrayList<>();
        byName.forEach((name, zones) -> {
            String id = zones.get(0).id();
            if (zones.size() > 1) {
                verdicts.add(judge(setup, name, zones));
            } else if (!unread.isEmpty()) {
                verdicts.add(new Verdict.Unknown(id, HostVerdicts.site(setup, name), unread));
            } else {
                verdicts.add(new Verdict.Clean(id, HostVerdicts.site(setup, name)));
            }
        });
        return verdicts;
    }

    private static Verdict judge(Setup setup, String name, List<Zone> zones) {
        Optional<Set<String>> delegated = Delegation.of(setup, name).map(Delegation.Named::servers);
        Zone odd = zones.stream()
                .filter(zone -> delegated.isPresent()
                        && Delegation.ownServers(zone, name)
                                .map(Set::copyOf)
                                .filter(delegated.get()::equals)
                                .isEmpty())
                .findFirst()
                .orElse(zones.get(zones.size() - 1));
        List<Citation> because = zones.stream()
                .flatMap(zone ->
                        zone.settings().citation().or(() -> zone.records().citation()).stream())
                .map(at -> at.at("", ""))
                .toList();
        String says = "There are " + zones.size() + " public zones called " + name + ": "
                + String.join(", ", zones.stream().map(Zone::id).toList()) + ".";
        return new Verdict.Flagged(Finding.of(CARD, odd.id(), HostVerdicts.site(setup, name), says, because));
    }
}
