package warden.core.checks.dns;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.cdn.Distribution;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.site.HostDirectory.Lead;
import warden.core.survey.Need;

/** Finds hosts of a distribution that DNS leads straight to the bucket. */
final class RecordAroundCdn implements Check {
    private static final CheckCard CARD = new CheckCard(
            "record-around-cdn",
            Area.DNS,
            Severity.MEDIUM,
            "a host that a distribution serves resolves straight to the website endpoint",
            "zone-records, distribution",
            "Visitors go around the edge: no HTTPS, no headers, no caching.",
            "Lead the host to the distribution by an alias record.",
            "Route 53 Developer Guide, \"Routing traffic to an Amazon CloudFront distribution by using your domain name\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Distribution distribution : account.distributions()) {
                distribution.aliases().forEach(alias -> verdicts.add(judge(setup, distribution, alias)));
            }
        }
        return verdicts;
    }

    private static Verdict judge(Setup setup, Distribution distribution, String host) {
        Optional<Lead> around = setup.estate().hosts().leads(host).stream()
                .filter(lead -> lead.storage().isPresent())
                .findFirst();
        if (around.isPresent()) {
            String says = host + " resolves straight to " + around.get().target() + ", around the distribution "
                    + distribution.id() + " that lists it.";
            return HostVerdicts.flagged(
                    setup, CARD, host, says, List.of(around.get().record().at(), distribution.cite("Aliases")));
        }
        Optional<Need> need = HostVerdicts.unreadZone(setup, host);
        return need.isPresent() && setup.estate().hosts().records(host).isEmpty()
                ? new Verdict.Unknown(host, HostVerdicts.site(setup, host), List.of(need.get()))
                : HostVerdicts.clean(setup, host);
    }
}
