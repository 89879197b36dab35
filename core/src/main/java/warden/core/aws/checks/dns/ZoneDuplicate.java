package warden.core.aws.checks.dns;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.names.HostedZone;
import warden.core.aws.site.Delegation;
import warden.core.checks.DnsCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds second public zones of a name. */
final class ZoneDuplicate implements AwsCheck<ZoneDuplicate.Subject> {
    private static final CheckCard CARD = DnsCards.ZONE_DUPLICATE;

    @Override
    public CheckCard card() {
        return CARD;
    }

    /** The public zones of one name. */
    record Subject(AwsContext context, String name, List<HostedZone> zones) implements Judged {
        Optional<String> site() {
            return HostVerdicts.site(context, name);
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(zones.get(0).id(), site(), needs);
        }
    }

    @Override
    public List<Subject> subjects(AwsContext context) {
        Map<String, List<HostedZone>> byName = new LinkedHashMap<>();
        for (Account account : context.cloud().accounts()) {
            for (HostedZone zone : account.names().zones()) {
                zone.name().filter(name -> !zone.isPrivate()).ifPresent(name -> byName.computeIfAbsent(
                                name, key -> new ArrayList<>())
                        .add(zone));
            }
        }
        return byName.entrySet().stream()
                .map(entry -> new Subject(context, entry.getKey(), entry.getValue()))
                .toList();
    }

    /** A zone whose name no reading shows may be the second of its name. */
    @Override
    public List<Verdict> unread(AwsContext context) {
        List<Verdict> open = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (HostedZone zone : account.names().zones()) {
                if (zone.name().isEmpty()) {
                    zone.settings()
                            .missing()
                            .ifPresent(
                                    need -> open.add(new Verdict.Unknown(zone.id(), Optional.empty(), List.of(need))));
                }
            }
        }
        return open;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        if (subject.zones().size() > 1) {
            return List.of(judge(subject.context(), subject.name(), subject.zones()));
        }
        List<Need> unread = subject.context().cloud().accounts().stream()
                .flatMap(account -> account.survey().unlisted("zone-list", account.number()).stream())
                .toList();
        return List.of(
                unread.isEmpty()
                        ? new Verdict.Clean(subject.zones().get(0).id(), subject.site())
                        : subject.unknown(unread));
    }

    private static Verdict judge(AwsContext context, String name, List<HostedZone> zones) {
        Optional<Set<String>> delegated = Delegation.of(context.cloud(), name).map(Delegation.Named::servers);
        HostedZone odd = zones.stream()
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
                + String.join(", ", zones.stream().map(HostedZone::id).toList()) + ".";
        return new Verdict.Flagged(Finding.of(CARD, odd.id(), HostVerdicts.site(context, name), says, because));
    }
}
