package warden.core.access;

import java.util.Collections;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * Who can do what with one store.
 *
 * @param store the store's identifier
 * @param name how people call it
 * @param rows callers and how far each ability of theirs reaches
 * @param unread the rows of those that exist, or may, and were not read: what they can do is not known
 */
public record Matrix(String store, String name, List<Row> rows, List<Row> unread) {
    public Matrix {
        rows = List.copyOf(rows);
        unread = List.copyOf(unread);
    }

    /** What a caller is to the store. */
    public enum Kind {
        /** Nobody in particular. */
        STRANGERS,
        /** An edge that fetches from the store. */
        EDGE,
        /** Somebody with a name. */
        NAMED
    }

    /**
     * A row.
     *
     * @param who the caller, as questions spell it, or an edge's identifier
     */
    public record Row(String who, Kind kind, Map<Ability, Extent> abilities) {
        public Row {
            abilities = Collections.unmodifiableMap(new EnumMap<>(abilities));
        }

        /** True for the rows of callers who are nobody in particular. */
        public boolean isStrangers() {
            return kind == Kind.STRANGERS;
        }

        /** True when some ability is there, or may be. */
        public boolean hasAny() {
            return abilities.values().stream().anyMatch(extent -> extent.kind() != Extent.Kind.NONE);
        }
    }

    /** Returns all rows, those of which nothing is known last. */
    public List<Row> allRows() {
        return Stream.concat(rows.stream(), unread.stream()).toList();
    }
}
