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
        for (ZonePair pair : pairs(old, now)) {
            if (pair.old().isPresent() && pair.now().isPresent()) {
                changes.records(pair.old().get(), pair.now().get());
            } else if (pair.now().isPresent()) {
                changes.only(pair.name(), oldUnlisted, NameChange.NEW);
            } else {
                changes.only(pair.name(), newUnlisted, NameChange.GONE);
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

    private record ZonePair(String name, Optional<Zone> old, Optional<Zone> now) {}

    /**
     * Pairs zones by their names, private ones and public ones apart. Of several of one name those pair that have the same identifier, and what is
     * left in the order of the lists; two zones without partners of one name are told apart by their identifiers.
     */
    private static List<ZonePair> pairs(List<? extends Zone> old, List<? extends Zone> now) {
        Map<String, List<Zone>> before = byName(old);
        Map<String, List<Zone>> after = byName(now);
        TreeSet<String> names = new TreeSet<>(before.keySet());
        names.addAll(after.keySet());
        List<ZonePair> pairs = new ArrayList<>();
        for (String name : names) {
            List<Zone> ones = new ArrayList<>(before.getOrDefault(name, List.of()));
            List<Zone> others = new ArrayList<>(after.getOrDefault(name, List.of()));
            boolean isOnly = ones.size() <= 1 && others.size() <= 1;
            for (Zone one : List.copyOf(ones)) {
                others.stream()
                        .filter(other -> other.id().equals(one.id()))
                        .findFirst()
                        .ifPresent(same -> {
                            pairs.add(new ZonePair(name, Optional.of(one), Optional.of(same)));
                            ones.remove(one);
                            others.remove(same);
                        });
            }
            for (int i = 0; i < Math.max(ones.size(), others.size()); i++) {
                Optional<Zone> one = i < ones.size() ? Optional.of(ones.get(i)) : Optional.empty();
                Optional<Zone> other = i < others.size() ? Optional.of(others.get(i)) : Optional.empty();
                String id = other.or(() -> one).map(Zone::id).orElse("");
                pairs.add(new ZonePair(isOnly ? name : name + " (" + id + ")", one, other));
            }
        }
        return pairs;
    }

    private static Map<String, List<Zone>> byName(List<? extends Zone> zones) {
        Map<String, List<Zone>> all = new LinkedHashMap<>();
        for (Zone zone : zones) {
            zone.name().ifPresent(name -> all.computeIfAbsent(
                            zone.isPrivate() ? name + " (private)" : name, key -> new ArrayList<>())
                    .add(zone));
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
