package warden.core.algebra;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * A set of requests: a union of boxes. A box gives a {@link ValueSet} for some dimensions (action, resource, a condition
 * key); a dimension that it does not name may have any value. Immutable. A union of more than {@value #MOST_BOXES} boxes is not
 * built: {@link TooComplexException}.
 */
public final class RequestSet {
    private static final int MOST_BOXES = 600;
    private static final RequestSet NONE = new RequestSet(List.of());
    private static final RequestSet ALL = new RequestSet(List.of(new Box(Map.of())));

    /**
     * One box. No dimension is empty or everything.
     *
     * @param sides the dimensions that are limited, by name; a sorted map is not changed any more
     */
    public record Box(Map<String, ValueSet> sides) {
        public Box {
            // A sorted map, so that whatever is made from boxes comes out in one order. One that is sorted was made for
            // this box.
            sides = Collections.unmodifiableMap(sides instanceof TreeMap ? sides : new TreeMap<>(sides));
        }
    }

    private final List<Box> boxes;

    private RequestSet(List<Box> boxes) {
        this.boxes = boxes;
    }

    /** Returns the empty set. */
    public static RequestSet none() {
        return NONE;
    }

    /** Returns the set of all requests. */
    public static RequestSet all() {
        return ALL;
    }

    /** Returns the requests whose value in {@code dimension} is one of {@code values}. */
    public static RequestSet where(String dimension, ValueSet values) {
        if (values.isEmpty()) {
            return NONE;
        }
        return values.isEverything() ? ALL : new RequestSet(List.of(new Box(Map.of(dimension, values))));
    }

    /** Returns the boxes whose union this set is; they do not overlap more than their making made them. */
    public List<Box> boxes() {
        return boxes;
    }

    /** Returns the requests in this set or the other. Cost: product of the numbers of boxes. */
    public RequestSet union(RequestSet other) {
        if (this == other || other == NONE || this == ALL) {
            return this;
        }
        if (this == NONE || other == ALL) {
            return other;
        }
        List<Box> result = new ArrayList<>(boxes);
        for (Box box : other.boxes) {
            if (!isCovered(box, result)) {
                result.removeIf(has -> covers(box, has));
                result.add(box);
                limit(result);
            }
        }
        return new RequestSet(result);
    }

    /** Returns the requests in both sets. Cost: product of the numbers of boxes. */
    public RequestSet intersect(RequestSet other) {
        if (this == ALL || other == NONE || this == other) {
            return this == ALL ? other : this == other ? this : NONE;
        }
        if (other == ALL || this == NONE) {
            return this;
        }
        RequestSet result = NONE;
        for (Box mine : boxes) {
            for (Box theirs : other.boxes) {
                result = result.union(meet(mine, theirs));
            }
        }
        return result;
    }

    /** Returns the requests in this set that are not in the other. Cost: exponential in the other's boxes at worst. */
    public RequestSet minus(RequestSet other) {
        if (this == NONE || other == NONE) {
            return this;
        }
        if (this == other || other == ALL) {
            return NONE;
        }
        List<Box> left = boxes;
        for (Box taken : other.boxes) {
            List<Box> next = new ArrayList<>();
            for (Box box : left) {
                cut(box, taken, next);
                limit(next);
            }
            left = next;
        }
        return new RequestSet(List.copyOf(left));
    }

    /** True when the request that has {@code text} in one dimension, and in every other no value at all, is in this set. */
    public boolean holdsPlainest(String dimension, String text) {
        return boxes.stream().anyMatch(box -> box.sides().entrySet().stream()
                .allMatch(side -> side.getKey().equals(dimension) && side.getValue() instanceof TextSet texts
                        ? texts.texts().contains(text)
                        : side.getValue().admitsAbsence()));
    }

    /** True when no request is in this set. */
    public boolean isEmpty() {
        return boxes.isEmpty();
    }

    /** True when every request of this set is in the other. */
    public boolean isSubsetOf(RequestSet other) {
        return minus(other).isEmpty();
    }

    /** True when every request is in this set. */
    public boolean isEverything() {
        return ALL.isSubsetOf(this);
    }

    private static RequestSet meet(Box a, Box b) {
        Map<String, ValueSet> sides = new TreeMap<>(a.sides());
        for (Map.Entry<String, ValueSet> side : b.sides().entrySet()) {
            ValueSet mine = sides.get(side.getKey());
            ValueSet both = mine == null ? side.getValue() : mine.intersect(side.getValue());
            if (both.isEmpty()) {
                return NONE;
            }
            sides.put(side.getKey(), both);
        }
        return new RequestSet(List.of(new Box(sides)));
    }

    private static boolean areDisjoint(Box a, Box b) {
        for (Map.Entry<String, ValueSet> side : b.sides().entrySet()) {
            ValueSet mine = a.sides().get(side.getKey());
            if (mine != null && mine.isDisjointFrom(side.getValue())) {
                return true;
            }
        }
        return false;
    }

    /** Splits {@code box} into pieces outside {@code taken}: one piece for each dimension that {@code taken} limits. */
    private static void cut(Box box, Box taken, List<Box> out) {
        if (areDisjoint(box, taken)) {
            out.add(box);
            return;
        }
        Map<String, ValueSet> inside = new TreeMap<>(box.sides());
        for (Map.Entry<String, ValueSet> side : taken.sides().entrySet()) {
            ValueSet mine = inside.get(side.getKey());
            ValueSet outside = mine == null ? side.getValue().complement() : mine.minus(side.getValue());
            if (!outside.isEmpty()) {
                Map<String, ValueSet> piece = new TreeMap<>(inside);
                piece.put(side.getKey(), outside);
                out.add(new Box(piece));
            }
            inside.put(side.getKey(), mine == null ? side.getValue() : mine.intersect(side.getValue()));
        }
    }

    private static boolean isCovered(Box box, List<Box> boxes) {
        for (Box has : boxes) {
            if (covers(has, box)) {
                return true;
            }
        }
        return false;
    }

    private static boolean covers(Box large, Box small) {
        for (Map.Entry<String, ValueSet> side : large.sides().entrySet()) {
            ValueSet limited = small.sides().get(side.getKey());
            if (limited == null || !limited.isSubsetOf(side.getValue())) {
                return false;
            }
        }
        return true;
    }

    private static void limit(List<Box> boxes) {
        if (boxes.size() > MOST_BOXES) {
            throw new TooComplexException(
                    "the statements together split the requests into more than " + MOST_BOXES + " cases");
        }
    }
}
