package warden.core.algebra;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * A union of intervals on a {@link Scale}, and perhaps absence and "present, but no value of this scale" (a text where a
 * number was asked). Held as the sorted list of boundaries at which membership changes.
 */
public final class RangeSet implements ValueSet {
    private static final BigDecimal TWO = BigDecimal.valueOf(2);

    /** A boundary just before or just after a value; {@code null} is the boundary before everything. */
    private record Boundary(@Nullable BigDecimal value, boolean after) implements Comparable<Boundary> {
        @Override
        public int compareTo(Boundary other) {
            if (value == null || other.value == null) {
                return Boolean.compare(value != null, other.value != null);
            }
            int order = value.compareTo(other.value);
            return order != 0 ? order : Boolean.compare(after, other.after);
        }
    }

    private static final Boundary LOWEST = new Boundary(null, false);

    private final Scale scale;
    private final List<Boundary> changes;
    private final boolean foreign;
    private final boolean absence;

    private RangeSet(Scale scale, List<Boundary> changes, boolean foreign, boolean absence) {
        this.scale = scale;
        this.changes = List.copyOf(changes);
        this.foreign = foreign;
        this.absence = absence;
    }

    /** Returns the empty set on {@code scale}. */
    public static RangeSet none(Scale scale) {
        return new RangeSet(scale, List.of(), false, false);
    }

    /** Returns the values from {@code first} to before {@code end}. */
    public static RangeSet from(Scale scale, BigDecimal first, BigDecimal end) {
        return new RangeSet(scale, List.of(new Boundary(first, false), new Boundary(end, false)), false, false);
    }

    /** Returns the set of this one value. */
    public static RangeSet of(Scale scale, BigDecimal value) {
        return new RangeSet(scale, List.of(new Boundary(value, false), new Boundary(value, true)), false, false);
    }

    /** Returns the values below {@code limit}; with {@code inclusive} the limit too. */
    public static RangeSet below(Scale scale, BigDecimal limit, boolean inclusive) {
        return new RangeSet(scale, List.of(LOWEST, new Boundary(limit, inclusive)), false, false);
    }

    /** Returns the values above {@code limit}; with {@code inclusive} the limit too. */
    public static RangeSet above(Scale scale, BigDecimal limit, boolean inclusive) {
        return new RangeSet(scale, List.of(new Boundary(limit, !inclusive)), false, false);
    }

    /** Returns this set, with absence a member or not as said. */
    public RangeSet withAbsence(boolean admitted) {
        return new RangeSet(scale, changes, foreign, admitted);
    }

    @Override
    public RangeSet intersect(ValueSet other) {
        RangeSet that = (RangeSet) other;
        TreeSet<Boundary> all = new TreeSet<>(changes);
        all.addAll(that.changes);
        List<Boundary> result = new ArrayList<>();
        Iterator<Boundary> mine = changes.iterator();
        Iterator<Boundary> theirs = that.changes.iterator();
        Boundary nextMine = mine.hasNext() ? mine.next() : null;
        Boundary nextTheirs = theirs.hasNext() ? theirs.next() : null;
        boolean inMine = false;
        boolean inTheirs = false;
        boolean in = false;
        for (Boundary boundary : all) {
            if (nextMine != null && nextMine.compareTo(boundary) == 0) {
                inMine = !inMine;
                nextMine = mine.hasNext() ? mine.next() : null;
            }
            if (nextTheirs != null && nextTheirs.compareTo(boundary) == 0) {
                inTheirs = !inTheirs;
                nextTheirs = theirs.hasNext() ? theirs.next() : null;
            }
            if (in != (inMine && inTheirs)) {
                in = !in;
                result.add(boundary);
            }
        }
        return new RangeSet(scale, result, foreign && that.foreign, absence && that.absence);
    }

    @Override
    public RangeSet complement() {
        List<Boundary> flipped = new ArrayList<>(changes);
        if (!flipped.isEmpty() && flipped.get(0).equals(LOWEST)) {
            flipped.remove(0);
        } else {
            flipped.add(0, LOWEST);
        }
        return new RangeSet(scale, flipped, !foreign, !absence);
    }

    @Override
    public boolean isEmpty() {
        return !absence && !foreign && pick().isEmpty();
    }

    @Override
    public boolean isEverything() {
        return complement().isEmpty();
    }

    @Override
    public boolean admitsAbsence() {
        return absence;
    }

    @Override
    public Optional<String> witness() {
        Optional<String> value = pick().map(scale::spell);
        return value.isPresent() || !foreign ? value : Optional.of("none");
    }

    /** True when {@code value} lies in one of the intervals. */
    public boolean contains(BigDecimal value) {
        boolean in = false;
        Boundary here = new Boundary(value, false);
        for (Boundary boundary : changes) {
            if (boundary.compareTo(here) <= 0) {
                in = !in;
            }
        }
        return in;
    }

    /** Returns a value in one of the intervals that the scale has; absent when there is none. */
    private Optional<BigDecimal> pick() {
        for (int i = 0; i < changes.size(); i += 2) {
            Boundary open = changes.get(i);
            Boundary close = i + 1 < changes.size() ? changes.get(i + 1) : null;
            for (BigDecimal candidate : candidates(open, close)) {
                boolean onScale = scale != Scale.ADDRESS || Addresses.isAddress(candidate);
                if (onScale && contains(candidate)) {
                    return Optional.of(candidate);
                }
            }
        }
        return Optional.empty();
    }

    private List<BigDecimal> candidates(Boundary open, @Nullable Boundary close) {
        BigDecimal low = open.value();
        BigDecimal high = close == null ? null : close.value();
        List<BigDecimal> candidates = new ArrayList<>();
        if (scale == Scale.ADDRESS) {
            candidates.add(BigDecimal.ZERO);
            candidates.add(Addresses.IPV6_FIRST);
        }
        if (low != null) {
            candidates.add(low);
            candidates.add(low.add(BigDecimal.ONE));
        }
        if (high != null) {
            candidates.add(high);
            candidates.add(high.subtract(BigDecimal.ONE));
        }
        if (low != null && high != null) {
            candidates.add(low.add(high).divide(TWO, Math.max(low.scale(), high.scale()) + 1, RoundingMode.HALF_UP));
        }
        if (low == null && high == null) {
            candidates.add(BigDecimal.ZERO);
        }
        return candidates;
    }

    /** Returns the intervals that are whole CIDR ranges or single values, spelled; for showing only. */
    public List<String> spelled() {
        List<String> out = new ArrayList<>();
        for (int i = 0; i < changes.size(); i += 2) {
            BigDecimal low = changes.get(i).value();
            BigDecimal high = i + 1 < changes.size() ? changes.get(i + 1).value() : null;
            if (low == null && high == null) {
                out.add("any value");
            } else if (low == null) {
                out.add((scale == Scale.TIME ? "before " : "below ") + scale.spell(high));
            } else if (high == null) {
                out.add((scale == Scale.TIME ? "after " : "above ") + scale.spell(low));
            } else if (low.compareTo(high) == 0) {
                out.add(scale.spell(low));
            } else {
                out.add(
                        scale == Scale.ADDRESS
                                ? Addresses.spellRange(low, high)
                                : scale.spell(low) + " to " + scale.spell(high));
            }
        }
        return out;
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof RangeSet that
                && scale == that.scale
                && changes.equals(that.changes)
                && foreign == that.foreign
                && absence == that.absence;
    }

    @Override
    public int hashCode() {
        return changes.hashCode();
    }
}
