package warden.core.aws.checks.dns;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.site.Leads;
import warden.core.checks.DnsCards;
import warden.core.names.Lead;
import warden.core.survey.Need;

/** Finds hosts of a distribution that DNS leads straight to the bucket. */
final class RecordAroundCdn implements DistributionCheck {
    private static final CheckCard CARD = DnsCards.RECORD_AROUND_CDN;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        return subject.distribution().aliases().stream()
                .map(alias -> judge(subject.context(), subject.distribution(), alias))
                .toList();
    }

    private static Verdict judge(AwsContext context, Distribution distribution, String host) {
        Optional<Lead> around = context.cloud().hosts().leads(host).stream()
                .filter(lead -> Leads.storage(lead).isPresent())
                .findFirst();
        if (around.isPresent()) {
            String says = host + " resolves straight to " + around.get().target() + ", around the distribution "
                    + distribution.id() + " that lists it.";
            return HostVerdicts.flagged(
                    context, CARD, host, says, List.of(around.get().record().at(), distribution.cite("Aliases")));
        }
        Optional<Need> need = HostVerdicts.unreadZone(context, host);
        return need.isPresent() && context.cloud().hosts().records(host).isEmpty()
                ? new Verdict.Unknown(host, HostVerdicts.site(context, host), List.of(need.get()))
                : HostVerdicts.clean(context, host);
    }
}
