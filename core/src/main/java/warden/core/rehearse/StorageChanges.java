package warden.core.rehearse;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import warden.core.content.PublishedPath;

/**
 * What changed in storage.
 *
 * @param changes in the order of stores and keys
 */
public record StorageChanges(List<Change> changes) {
    private static final int MOST_NOTABLE = 10;

    public StorageChanges {
        changes = List.copyOf(changes);
    }

    /** What became of an object. */
    public enum Kind {
        UPLOADED,
        OVERWRITTEN,
        DELETED;

        /** Returns the word that formats use. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * One object.
     *
     * @param store the store's identifier
     */
    public record Change(String store, String key, Kind kind) {}

    /**
     * A change that somebody should look at.
     *
     * @param why as a phrase
     */
    public record Notable(Change change, String why) {}

    /**
     * What is known of an object.
     *
     * @param tag that changes with its content; empty where it is not known
     * @param type its content type; absent where it is not known
     */
    public record Stored(String tag, Optional<String> type) {}

    /** Compares what stores held before and after: what is known of objects, by store and key. */
    public static StorageChanges between(
            Map<String, Map<String, Stored>> before, Map<String, Map<String, Stored>> after) {
        List<Change> changes = new ArrayList<>();
        for (String store : new TreeSet<>(
                Stream.concat(before.keySet().stream(), after.keySet().stream()).toList())) {
            Map<String, Stored> old = before.getOrDefault(store, Map.of());
            Map<String, Stored> now = after.getOrDefault(store, Map.of());
            for (String key : new TreeSet<>(
                    Stream.concat(old.keySet().stream(), now.keySet().stream()).toList())) {
                if (!old.containsKey(key)) {
                    changes.add(new Change(store, key, Kind.UPLOADED));
                } else if (!now.containsKey(key)) {
                    changes.add(new Change(store, key, Kind.DELETED));
                } else if (!old.get(key).equals(now.get(key))) {
                    changes.add(new Change(store, key, Kind.OVERWRITTEN));
                }
            }
        }
        return new StorageChanges(changes);
    }

    public long count(Kind kind) {
        return changes.stream().filter(change -> change.kind() == kind).count();
    }

    /**
     * Returns the changes that matter most, at most ten.
     *
     * @param indexes the names of index documents, by store
     */
    public List<Notable> notable(Map<String, String> indexes, Map<String, Map<String, Stored>> after) {
        List<Notable> gone = new ArrayList<>();
        List<Notable> there = new ArrayList<>();
        for (Change change : changes) {
            if (change.kind() == Kind.DELETED) {
                if (change.key().equals(indexes.getOrDefault(change.store(), "index.html"))) {
                    gone.add(new Notable(change, "the index document is gone"));
                }
                continue;
            }
            Optional<String> type = Optional.ofNullable(
                            after.getOrDefault(change.store(), Map.of()).get(change.key()))
                    .flatMap(Stored::type);
            why(change.key(), type).ifPresent(why -> there.add(new Notable(change, why)));
        }
        return Stream.concat(gone.stream(), there.stream()).limit(MOST_NOTABLE).toList();
    }

    private static Optional<String> why(String key, Optional<String> type) {
        Optional<String> name = PublishedPath.privateName(key);
        if (name.isPresent()) {
            return Optional.of(name.get() + " is not made to be published");
        }
        if (PublishedPath.isSourceMap(key)) {
            return Optional.of("a source map, from which the sources can be read");
        }
        return type.filter(given -> PublishedPath.isWrongType(key, given))
                .map(given -> "is sent as " + given + ", "
                        + (PublishedPath.isPage(key)
                                ? "so that browsers download the page"
                                : "which browsers do not take for what it is"));
    }

    /** Returns the changes of a store, by key. */
    public Map<String, Kind> of(String store) {
        Map<String, Kind> own = new TreeMap<>();
        changes.stream()
                .filter(change -> change.store().equals(store))
                .forEach(change -> own.put(change.key(), change.kind()));
        return own;
    }
}
