package warden.core.aws.checks.dns;

import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.ZoneCheck;
import warden.core.names.HostRecord;
import warden.core.survey.Need;

/** Finds CNAME records at the apex of a zone. */
final class ApexCname implements ZoneCheck {
    private static final CheckCard CARD = new CheckCard(
            "apex-cname",
            Area.DNS,
            Severity.HIGH,
            "a CNAME at the apex of a zone",
            "zone-records",
            "The apex also holds the zone's own records, which a CNAME hides: mail and the zone itself may fail.",
            "Use an alias record at the apex.",
            "Route 53 Developer Guide, \"Choosing between alias and non-alias records\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<HostRecord> cname = subject.zone().records().found().stream()
                .flatMap(List::stream)
                .filter(record -> record.host().equals(subject.name())
                        && record.type().equals("CNAME")
                        && record.alias().isEmpty())
                .findFirst();
        if (cname.isPresent()) {
            return List.of(HostVerdicts.flagged(
                    subject.context(),
                    CARD,
                    subject.name(),
                    "The apex " + subject.name() + " of the zone has a CNAME record.",
                    List.of(cname.get().at())));
        }
        Optional<Need> unlisted = subject.name().isEmpty()
                ? subject.zone().settings().missing()
                : subject.zone().unlisted();
        String apex = subject.name().isEmpty() ? subject.zone().id() : subject.name();
        return List.of(unlisted.<Verdict>map(need -> new Verdict.Unknown(apex, subject.site(), List.of(need)))
                .orElseGet(() -> new Verdict.Clean(apex, subject.site())));
    }
}
