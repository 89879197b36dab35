package warden.core.aws.checks.dns;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.HostCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.checks.DnsCards;
import warden.core.names.Lead;
import warden.core.survey.Need;

/** Finds hosts whose distribution answers on IPv6 while DNS has no AAAA record. */
final class Ipv6RecordMissing implements HostCheck {
    private static final CheckCard CARD = DnsCards.IPV6_RECORD_MISSING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        AwsContext setup = subject.setup();
        List<Lead> leads = subject.leads();
        return leads.stream()
                .flatMap(lead -> setup.estate().distributionNamed(lead.target()).stream())
                .filter(Distribution::hasIpv6)
                .findFirst()
                .map(found -> judge(setup, subject.host(), leads, found))
                .stream()
                .toList();
    }

    @Override
    public List<Verdict> unread(AwsContext setup) {
        List<Verdict> verdicts = new ArrayList<>(HostCheck.super.unread(setup));
        for (Account account : setup.estate().accounts()) {
            for (UnreadDistribution unread : account.unreadDistributions()) {
                unread.domain()
                        .map(domain -> setup.estate().hosts().hostsLeadingTo(domain))
                        .orElse(List.of())
                        .forEach(host -> verdicts.add(
                                new Verdict.Unknown(host, HostVerdicts.site(setup, host), List.of(unread.need()))));
            }
            account.distributions().stream()
                    .filter(Distribution::hasIpv6)
                    .flatMap(distribution -> distribution.aliases().stream())
                    .filter(host -> setup.estate().hosts().leads(host).isEmpty())
                    .forEach(host -> HostVerdicts.unreadZone(setup, host)
                            .ifPresent(need -> verdicts.add(
                                    new Verdict.Unknown(host, HostVerdicts.site(setup, host), List.of(need)))));
        }
        return verdicts;
    }

    private static Verdict judge(AwsContext setup, String host, List<Lead> leads, Distribution distribution) {
        boolean onlyIpv4 = leads.stream().allMatch(lead -> lead.record().type().equals("A"));
        if (!onlyIpv4) {
            return HostVerdicts.clean(setup, host);
        }
        Optional<Need> need = HostVerdicts.unreadZone(setup, host);
        if (need.isPresent()) {
            return new Verdict.Unknown(host, HostVerdicts.site(setup, host), List.of(need.get()));
        }
        return HostVerdicts.flagged(
                setup,
                CARD,
                host,
                host + " has an A record and no AAAA, though the distribution " + distribution.id()
                        + " answers on IPv6.",
                List.of(leads.get(0).record().at(), distribution.cite("IsIPV6Enabled")));
    }
}
