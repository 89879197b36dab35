package warden.core.drift;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import warden.core.cloud.Changes.NameChange;
import warden.core.cloud.Changes.NameKind;
import warden.core.cloud.Changes.OfName;
import warden.core.names.HostRecord;
import warden.core.names.Zone;
import warden.core.survey.Need;

/** What changed in zones and their records. A list that was not read to its end says nothing of what is not in it. */
public final class ZoneChanges {
    private final List<OfName> changes = new ArrayList<>();
    private final List<Need> open = new ArrayList<>();
    private final UnaryOperator<String> oldName;

    private ZoneChanges(UnaryOperator<String> oldName) {
        this.oldName = oldName;
    }

    /**
     * Compares.
     *
     * @param oldUnlisted what keeps the old zones from being known as a whole; absent when they are
     * @param newUnlisted the same of the new ones
     * @param oldName how the old state calls what the new one calls otherwise, such as an edge's own host
     */
    public static ZoneChanges between(
            List<? extends Zone> old,
            Optional<Need> oldUnlisted,
            List<? extends Zone> now,
            Optional<Need> newUnlisted,
            UnaryOperator<String> oldName) {
        ZoneChanges changes = new ZoneChanges(oldName);
        Map<String, Zone> before = byName(old);
        Map<String, Zone> after = byName(now);
        TreeSet<String> names = new TreeSet<>(before.keySet());
        names.addAll(after.keySet());
        for (String name : names) {
            Zone one = before.get(name);
            Zone other = after.get(name);
            if (one != null && other != null) {
                changes.records(one, other);
            } else if (other != null) {
                changes.only(name, oldUnlisted, NameChange.NEW);
            } else {
                changes.only(name, newUnlisted, NameChange.GONE);
            }
        }
        return changes;
    }

    public List<OfName> changes() {
        return List.copyOf(changes);
    }

    /** Returns what keeps from telling more. */
    public List<Need> open() {
        return List.copyOf(open);
    }

    private void only(String name, Optional<Need> unlisted, NameChange change) {
        if (unlisted.isPresent()) {
            open.add(unlisted.get());
        } else {
            changes.add(new OfName(name, NameKind.ZONE, change, Optional.empty(), Optional.empty()));
        }
    }

    /** Of several zones of one name, the private ones and the public ones stand apart. */
    private static Map<String, Zone> byName(List<? extends Zone> zones) {
        Map<String, Zone> all = new LinkedHashMap<>();
        for (Zone zone : zones) {
            zone.name().ifPresent(name -> all.putIfAbsent(zone.isPrivate() ? name + " (private)" : name, zone));
        }
        return all;
    }

    private void records(Zone old, Zone now) {
        old.records().missing().ifPresent(open::add);
        now.records().missing().ifPresent(open::add);
        if (old.records().missing().isPresent() || now.records().missing().isPresent()) {
            return;
        }
        Map<String, HostRecord> before = byKey(old);
        Map<String, HostRecord> after = byKey(now);
        TreeSet<String> keys = new TreeSet<>(before.keySet());
        keys.addAll(after.keySet());
        for (String key : keys) {
            Optional<String> one = Optional.ofNullable(before.get(key)).map(record -> target(record, name -> name));
            Optional<String> other = Optional.ofNullable(after.get(key)).map(record -> target(record, oldName));
            if (one.equals(other)) {
                continue;
            }
            Optional<Need> unlisted =
                    one.isEmpty() ? old.unlisted() : other.isEmpty() ? now.unlisted() : Optional.empty();
            if (unlisted.isPresent()) {
                open.add(unlisted.get());
                continue;
            }
            NameChange change = one.isEmpty() ? NameChange.NEW : other.isEmpty() ? NameChange.GONE : NameChange.MOVED;
            changes.add(new OfName(key, NameKind.RECORD, change, one, other));
        }
    }

    private static Map<String, HostRecord> byKey(Zone zone) {
        Map<String, HostRecord> all = new LinkedHashMap<>();
        for (HostRecord record : zone.records().found().orElse(List.of())) {
            String variant = record.variant().isEmpty() ? "" : " (" + record.variant() + ")";
            all.put(record.host() + " " + record.type() + variant, record);
        }
        return all;
    }

    private static String target(HostRecord record, UnaryOperator<String> called) {
        return record.alias()
                .map(called)
                .orElseGet(() -> record.values().stream().map(called).sorted().collect(Collectors.joining(" ")));
    }
}
