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
        AwsContext context = subject.context();
        List<Lead> leads = subject.leads();
        return leads.stream()
                .flatMap(lead -> context.cloud().distributionNamed(lead.target()).stream())
                .filter(Distribution::hasIpv6)
                .findFirst()
                .map(found -> judge(context, subject.host(), leads, found))
                .stream()
                .toList();
    }

    @Override
    public List<Verdict> unread(AwsContext context) {
        List<Verdict> verdicts = new ArrayList<>(HostCheck.super.unread(context));
        for (Account account : context.cloud().accounts()) {
            for (UnreadDistribution unread : account.edges().unreadDistributions()) {
                unread.domain()
                        .map(domain -> context.cloud().hosts().hostsLeadingTo(domain))
                        .orElse(List.of())
                        .forEach(host -> verdicts.add(
                                new Verdict.Unknown(host, HostVerdicts.site(context, host), List.of(unread.need()))));
            }
            account.edges().distributions().stream()
                    .filter(Distribution::hasIpv6)
                    .flatMap(distribution -> distribution.aliases().stream())
                    .filter(host -> context.cloud().hosts().leads(host).isEmpty())
                    .forEach(host -> HostVerdicts.unreadZone(context, host)
                            .ifPresent(need -> verdicts.add(
                                    new Verdict.Unknown(host, HostVerdicts.site(context, host), List.of(need)))));
        }
        return verdicts;
    }

    private static Verdict judge(AwsContext context, String host, List<Lead> leads, Distribution distribution) {
        boolean onlyIpv4 = leads.stream().allMatch(lead -> lead.record().type().equals("A"));
        if (!onlyIpv4) {
            return HostVerdicts.clean(context, host);
        }
        Optional<Need> need = HostVerdicts.unreadZone(context, host);
        if (need.isPresent()) {
            return new Verdict.Unknown(host, HostVerdicts.site(context, host), List.of(need.get()));
        }
        return HostVerdicts.flagged(
                context,
                CARD,
                host,
                host + " has an A record and no AAAA, though the distribution " + distribution.id()
                        + " answers on IPv6.",
                List.of(leads.get(0).record().at(), distribution.cite("IsIPV6Enabled")));
    }
}
