package warden.core.checks.dns;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.cdn.Distribution;
import warden.core.check.Area;
import warden.core.check.CheckCard;
import warden.core.check.DistributionCheck;
import warden.core.check.EachCheck;
import warden.core.check.Finding;
import warden.core.check.Judged;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.site.HostDirectory;
import warden.core.site.Site;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds hosts of a site that have no record. */
final class HostUnresolved implements EachCheck<HostUnresolved.Subject> {
    private static final CheckCard CARD = new CheckCard(
            "host-unresolved",
            Area.DNS,
            Severity.HIGH,
            "a host of the site has no record",
            "zone-records, distribution",
            "Visitors are told that the host does not exist.",
            "Add an alias record for the host, or remove it from the site.",
            "Route 53 Developer Guide, \"Choosing between alias and non-alias records\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** A host of a site. */
    record Subject(Setup setup, Site site, String host) implements Judged {
        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(host, Optional.of(site.name()), needs);
        }
    }

    @Override
    public List<Subject> subjects(Setup setup) {
        return setup.estate().sites().stream()
                .flatMap(site -> site.hosts().stream().map(host -> new Subject(setup, site, host)))
                .toList();
    }

    /** The hosts of an edge that was not read are not known. */
    @Override
    public List<Verdict> unread(Setup setup) {
        return DistributionCheck.unreadDistributions(setup);
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        return List.of(judge(subject.setup(), subject.site(), subject.host()));
    }

    private static Verdict judge(Setup setup, Site site, String host) {
        Optional<String> name = Optional.of(site.name());
        HostDirectory hosts = setup.estate().hosts();
        boolean under =
                host.startsWith("*.") && hosts.hosts().stream().anyMatch(other -> Distribution.coversHost(host, other));
        if (under || !hosts.records(host).isEmpty()) {
            return new Verdict.Clean(host, name);
        }
        Optional<Need> need = HostVerdicts.unreadZone(setup, host);
        if (need.isPresent()) {
            return new Verdict.Unknown(host, name, List.of(need.get()));
        }
        List<Citation> because = new ArrayList<>(HostVerdicts.zone(setup, host));
        site.distributions().stream()
                .filter(distribution -> distribution.lists(host))
                .forEach(distribution -> because.add(distribution.cite("Aliases")));
        return new Verdict.Flagged(Finding.of(
                CARD,
                host,
                name,
                host + " has no address record, so visitors are told that it does not exist.",
                because));
    }
}
