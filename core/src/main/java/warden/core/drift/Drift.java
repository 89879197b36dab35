package warden.core.drift;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Ability;
import warden.core.access.Gain;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.cloud.Changes.OfCredential;
import warden.core.cloud.Changes.OfName;
import warden.core.cloud.Changes.OfReach;
import warden.core.survey.Need;
import warden.core.trace.Trace;

/**
 * What changed in meaning between two states of the same accounts.
 *
 * @param reach who gained and who lost; the same change for several stores once
 * @param visits the addresses whose answer differs
 * @param credentials new and gone ones, and those whose rights or trust changed
 * @param names hosts, records, zones and certificates
 * @param formOnly how many readings differ in text, and nothing told here rests on them
 * @param incomparable what one side does not know
 */
public record Drift(
        List<ReachEntry> reach,
        List<VisitEntry> visits,
        List<OfCredential> credentials,
        List<OfName> names,
        Findings findings,
        int formOnly,
        List<Need> incomparable) {
    public Drift {
        reach = List.copyOf(reach);
        visits = List.copyOf(visits);
        credentials = List.copyOf(credentials);
        names = List.copyOf(names);
        incomparable = List.copyOf(incomparable);
    }

    /**
     * One change of who can do what.
     *
     * @param stores the stores of which it is true
     * @param gained its witness is of the first store
     */
    public record ReachEntry(
            List<String> stores,
            String who,
            boolean isOutsider,
            boolean publishes,
            Ability ability,
            Optional<Gain> gained,
            Optional<Gain> lost) {
        public ReachEntry {
            stores = List.copyOf(stores);
        }

        /** True when somebody outside, or a publisher, can do more than before. */
        public boolean isWorse() {
            return gained.isPresent() && (isOutsider || publishes);
        }
    }

    /** One address whose answer differs. */
    public record VisitEntry(String url, Trace old, Trace now, boolean isWorse) {}

    /** A finding that became more or less severe. */
    public record Changed(Finding finding, Severity from, Severity to) {
        /** True when it became more severe. */
        public boolean isWorse() {
            return to.compareTo(from) < 0;
        }
    }

    /**
     * What became of findings.
     *
     * @param form those about a document's form only, new ones and gone ones: told, and nothing rests on them
     */
    public record Findings(List<Finding> fresh, List<Finding> gone, List<Changed> changed, List<Finding> form) {
        public Findings {
            fresh = List.copyOf(fresh);
            gone = List.copyOf(gone);
            changed = List.copyOf(changed);
            form = List.copyOf(form);
        }
    }

    /** True when nothing changed in meaning. */
    public boolean isEmpty() {
        return reach.isEmpty()
                && visits.isEmpty()
                && credentials.isEmpty()
                && names.isEmpty()
                && findings.fresh().isEmpty()
                && findings.gone().isEmpty()
                && findings.changed().isEmpty();
    }

    /** True when something got worse. */
    public boolean isWorse() {
        return !worseOnly().isEmpty();
    }

    /** Returns this without what got better, or narrower, or is neither. */
    public Drift worseOnly() {
        return new Drift(
                reach.stream().filter(ReachEntry::isWorse).toList(),
                visits.stream().filter(VisitEntry::isWorse).toList(),
                credentials.stream().filter(OfCredential::isWorse).toList(),
                List.of(),
                new Findings(
                        findings.fresh(),
                        List.of(),
                        findings.changed().stream().filter(Changed::isWorse).toList(),
                        List.of()),
                formOnly,
                incomparable);
    }

    /** Returns the same changes of several stores as one. */
    static List<ReachEntry> merged(List<OfReach> changes, Set<String> publishers) {
        Map<List<Object>, List<OfReach>> alike = new LinkedHashMap<>();
        for (OfReach each : changes) {
            List<Object> kind = List.of(
                    each.who(),
                    each.ability(),
                    each.gained().map(Gain::extent),
                    each.gained().map(Gain::which).orElse(List.of()),
                    each.lost().map(Gain::extent),
                    each.lost().map(Gain::which).orElse(List.of()));
            alike.computeIfAbsent(kind, key -> new ArrayList<>()).add(each);
        }
        List<ReachEntry> entries = new ArrayList<>();
        for (List<OfReach> same : alike.values()) {
            OfReach first = same.get(0);
            entries.add(new ReachEntry(
                    same.stream().map(OfReach::store).toList(),
                    first.who(),
                    first.isOutsider(),
                    publishers.contains(first.who()),
                    first.ability(),
                    first.gained(),
                    first.lost()));
        }
        return entries;
    }
}
