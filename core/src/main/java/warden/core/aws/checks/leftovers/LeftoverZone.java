package warden.core.aws.checks.leftovers;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.ZoneCheck;
import warden.core.aws.names.HostedZone;
import warden.core.checks.LeftoversCards;
import warden.core.names.HostRecord;

/** Finds zones without records of their own. */
final class LeftoverZone implements ZoneCheck {
    private static final CheckCard CARD = LeftoversCards.LEFTOVER_ZONE;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        return List.of(judge(subject.zone()));
    }

    private static Verdict judge(HostedZone zone) {
        if (zone.records().isUnread()) {
            return new Verdict.Unknown(
                    zone.id(),
                    Optional.empty(),
                    zone.records().missing().stream().toList());
        }
        List<HostRecord> records = zone.records().found().orElse(List.of());
        String apex = zone.name().orElse("");
        boolean onlyItsOwn = zone.isComplete()
                && records.stream()
                        .allMatch(record ->
                                (record.type().equals("NS") || record.type().equals("SOA"))
                                        && (apex.isEmpty() || record.host().equals(apex)));
        return onlyItsOwn
                ? new Verdict.Flagged(Finding.of(
                        CARD,
                        zone.id(),
                        Optional.empty(),
                        "The zone " + (apex.isEmpty() ? zone.id() : apex)
                                + " has nothing but its own NS and SOA records.",
                        List.of(zone.records().citation().orElseThrow().at("/ResourceRecordSets", ""))))
                : unseen(zone, records);
    }

    /** A zone of which only its own records were seen may hold others further on. */
    private static Verdict unseen(HostedZone zone, List<HostRecord> records) {
        boolean others = records.stream()
                .anyMatch(
                        record -> !record.type().equals("NS") && !record.type().equals("SOA"));
        return zone.unlisted()
                .filter(need -> !others)
                .<Verdict>map(need -> new Verdict.Unknown(zone.id(), Optional.empty(), List.of(need)))
                .orElseGet(() -> new Verdict.Clean(zone.id(), Optional.empty()));
    }
}
