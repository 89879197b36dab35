package warden.core.aws.checks.dns;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.ZoneCheck;
import warden.core.aws.names.HostedZone;
import warden.core.aws.site.Delegation;
import warden.core.checks.DnsCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds zones that the registrar does not delegate to. */
final class ZoneNotDelegated implements ZoneCheck {
    private static final CheckCard CARD = DnsCards.ZONE_NOT_DELEGATED;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        if (subject.name().isEmpty()) {
            return subject.zone().settings().missing().stream()
                    .map(need -> subject.unknown(List.of(need)))
                    .toList();
        }
        return judge(subject.context(), subject.zone(), subject.name()).stream().toList();
    }

    private static Optional<Verdict> judge(AwsContext context, HostedZone zone, String name) {
        Optional<Delegation.Named> named = Delegation.of(context.cloud(), name);
        Optional<String> site = HostVerdicts.site(context, name);
        if (named.isEmpty()) {
            return Delegation.missing(context.cloud(), name)
                    .map(need -> new Verdict.Unknown(zone.id(), site, List.of(need)));
        }
        Optional<List<String>> own = Delegation.ownServers(zone, name);
        if (own.isEmpty()) {
            return Optional.of(new Verdict.Unknown(
                    zone.id(),
                    site,
                    zone.settings()
                            .missing()
                            .map(List::of)
                            .orElse(List.of(new Need(
                                    "zone",
                                    zone.id(),
                                    "its name servers are not in the answer",
                                    "route53:GetHostedZone")))));
        }
        boolean fits = named.get().servers().equals(Set.copyOf(own.get()));
        boolean otherFits = context.cloud().hosts().zonesNamed(name).stream()
                .filter(other -> !other.id().equals(zone.id()))
                .anyMatch(other -> Delegation.ownServers(other, name)
                        .map(Set::copyOf)
                        .filter(named.get().servers()::equals)
                        .isPresent());
        if (fits || otherFits) {
            // A second zone of the name, to which nobody delegates, has a check of its own.
            return Optional.of(new Verdict.Clean(zone.id(), site));
        }
        String says = "The domain " + name + " is delegated to "
                + String.join(", ", new TreeSet<>(named.get().servers())) + ", not to the name servers of its zone.";
        List<Citation> because = new ArrayList<>(List.of(named.get().at()));
        zone.settings().citation().ifPresent(because::add);
        return Optional.of(new Verdict.Flagged(Finding.of(CARD, zone.id(), site, says, because)));
    }
}
