package warden.core.aws.checks.dns;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.names.HostedZone;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.Leads;
import warden.core.checks.DnsCards;
import warden.core.names.HostDirectory;
import warden.core.names.Lead;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds hosts of a site that have no record. */
final class HostUnresolved implements AwsCheck<HostUnresolved.Subject> {
    private static final CheckCard CARD = DnsCards.HOST_UNRESOLVED;

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** A host of a site, or one that only records tell of. */
    record Subject(AwsContext context, Optional<BucketSite> site, String host) implements Judged {
        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(host, site.map(BucketSite::name), needs);
        }
    }

    @Override
    public List<Subject> subjects(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        Set<String> ofSites = new HashSet<>();
        for (BucketSite site : context.cloud().sites()) {
            for (String host : site.hosts()) {
                ofSites.add(host);
                subjects.add(new Subject(context, Optional.of(site), host));
            }
        }
        context.cloud().hosts().hosts().stream()
                .filter(host -> !ofSites.contains(host))
                .forEach(host -> subjects.add(new Subject(context, Optional.empty(), host)));
        return subjects;
    }

    /** The hosts of an edge that was not read are not known. */
    @Override
    public List<Verdict> unread(AwsContext context) {
        return DistributionCheck.unreadDistributions(context);
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        return List.of(judge(subject.context(), subject.site(), subject.host()));
    }

    private static Verdict judge(AwsContext context, Optional<BucketSite> site, String host) {
        Optional<String> name = site.map(BucketSite::name);
        HostDirectory hosts = context.cloud().hosts();
        List<Lead> leads = hosts.leads(host);
        if (!leads.isEmpty() && leads.stream().allMatch(lead -> endsNowhere(hosts, lead))) {
            Lead first = leads.get(0);
            String says = host + " leads to " + first.target() + ", which has no address record itself.";
            return new Verdict.Flagged(
                    Finding.of(CARD, host, name, says, List.of(first.record().at())));
        }
        boolean under =
                host.startsWith("*.") && hosts.hosts().stream().anyMatch(other -> Distribution.coversHost(host, other));
        if (under || !hosts.records(host).isEmpty()) {
            return new Verdict.Clean(host, name);
        }
        Optional<Need> need = HostVerdicts.unreadZone(context, host);
        if (need.isPresent()) {
            return new Verdict.Unknown(host, name, List.of(need.get()));
        }
        List<Citation> because = new ArrayList<>(HostVerdicts.zone(context, host));
        site.stream()
                .flatMap(each -> each.distributions().stream())
                .filter(distribution -> distribution.lists(host))
                .forEach(distribution -> because.add(distribution.cite("Aliases")));
        return new Verdict.Flagged(Finding.of(
                CARD,
                host,
                name,
                host + " has no address record, so visitors are told that it does not exist.",
                because));
    }

    /** True when a record leads to a name of a zone that was read to its end, and that has no address there. */
    private static boolean endsNowhere(HostDirectory hosts, Lead lead) {
        boolean isElsewhere = Leads.storage(lead).isPresent() || Leads.isDistribution(lead);
        return !isElsewhere
                && hosts.zoneOf(lead.target()).isPresent()
                && hosts.unread(lead.target(), HostedZone.TO_READ_RECORDS).isEmpty()
                && hosts.records(lead.target()).isEmpty();
    }
}
