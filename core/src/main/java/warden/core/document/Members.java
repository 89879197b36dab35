package warden.core.document;

import java.util.AbstractMap;
import java.util.AbstractSet;
import java.util.Arrays;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.NoSuchElementException;
import java.util.Objects;
import java.util.Set;
import java.util.function.BiConsumer;
import org.jspecify.annotations.Nullable;

/**
 * The members of an object that has few, in their order. Looked through from the beginning: most objects have a handful of members, for which a table
 * takes several times the memory, and a survey has hundreds of thousands of them. Cannot be changed.
 */
final class Members extends AbstractMap<String, JsonPart> {
    /** An object with more members gets a table. */
    private static final int MOST = 12;

    private final String[] names;
    private final JsonPart[] parts;

    private Members(String[] names, JsonPart[] parts) {
        this.names = names;
        this.parts = parts;
    }

    /** Takes the members of an object one by one. */
    static final class Collector {
        private String[] names = new String[4];
        private JsonPart[] parts = new JsonPart[4];
        private int size;
        private @Nullable Map<String, JsonPart> many;

        /**
         * Adds a member. Of two with one name the last counts, in the place of the first.
         *
         * @return whether there was one of this name
         */
        boolean add(String name, JsonPart part) {
            if (many != null) {
                return many.put(name, part) != null;
            }
            int place = place(names, size, name);
            if (place >= 0) {
                parts[place] = part;
                return true;
            }
            if (size == MOST) {
                many = new LinkedHashMap<>(4 * MOST);
                for (int i = 0; i < size; i++) {
                    many.put(names[i], parts[i]);
                }
                many.put(name, part);
                return false;
            }
            if (size == names.length) {
                names = Arrays.copyOf(names, Math.min(MOST, 2 * size));
                parts = Arrays.copyOf(parts, names.length);
            }
            names[size] = name;
            parts[size++] = part;
            return false;
        }

        /** Returns what was added, to be changed by nobody. */
        Map<String, JsonPart> members() {
            return many != null ? many : new Members(Arrays.copyOf(names, size), Arrays.copyOf(parts, size));
        }
    }

    private static int place(String[] names, int size, @Nullable Object name) {
        for (int i = 0; i < size; i++) {
            if (names[i].equals(name)) {
                return i;
            }
        }
        return -1;
    }

    @Override
    public int size() {
        return names.length;
    }

    @Override
    public boolean containsKey(@Nullable Object name) {
        return place(names, names.length, name) >= 0;
    }

    @Override
    public @Nullable JsonPart get(@Nullable Object name) {
        int place = place(names, names.length, name);
        return place < 0 ? null : parts[place];
    }

    @Override
    public void forEach(BiConsumer<? super String, ? super JsonPart> action) {
        Objects.requireNonNull(action);
        for (int i = 0; i < names.length; i++) {
            action.accept(names[i], parts[i]);
        }
    }

    @Override
    public Set<Entry<String, JsonPart>> entrySet() {
        return new AbstractSet<>() {
            @Override
            public int size() {
                return names.length;
            }

            @Override
            public Iterator<Entry<String, JsonPart>> iterator() {
                return new Iterator<>() {
                    private int next;

                    @Override
                    public boolean hasNext() {
                        return next < names.length;
                    }

                    @Override
                    public Entry<String, JsonPart> next() {
                        if (next == names.length) {
                            throw new NoSuchElementException();
                        }
                        return Map.entry(names[next], parts[next++]);
                    }
                };
            }
        };
    }
}
