package warden.core.algebra;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * A regular language over Unicode code points: a set of texts that is closed under union, intersection and complement.
 * Held as a complete deterministic automaton. Invariants: state 0 is the start; the moves of state s are those at indices from
 * {@code starts[s]} to before {@code starts[s + 1]}; among them the cuts rise, the first is 0, and the target at index i holds from
 * cut i to before cut i+1; the empty set and the full set are each one object. Immutable; no operation alters its operands.
 *
 * <p>An automaton of more than {@value #MOST_STATES} states is not built: {@link TooComplexException}.
 */
public final class Language {
    private static final int MOST_STATES = 4_000;
    private static final int ROUNDS = 40;
    private static final long WORTH_SPENDING = 1_000;
    private static final Language NONE = new Moves(1).move(0, 0).end().accepting(bits());
    private static final Language ALL = new Moves(1).move(0, 0).end().accepting(bits(0));
    private static final Language NOT_EMPTY =
            new Moves(2).move(0, 1).end().move(0, 1).end().accepting(bits(1));

    private final int[] starts;
    private final int[] cuts;
    private final int[] targets;
    private final BitSet accepting;
    /** Worked out when it is first asked for; who races for it finds the same. */
    private int @Nullable [] sample;

    private Language(int[] starts, int[] cuts, int[] targets, BitSet accepting) {
        this.starts = starts;
        this.cuts = cuts;
        this.targets = targets;
        this.accepting = accepting;
    }

    /** The moves of an automaton while it is built, state after state; neighbours that lead to the same state become one move. */
    private static final class Moves {
        private int[] starts;
        private int[] cuts;
        private int[] targets;
        private int states;
        private int size;

        Moves(int expectedStates) {
            starts = new int[expectedStates + 1];
            cuts = new int[3 * expectedStates];
            targets = new int[cuts.length];
        }

        /** Adds a move of the state that is being built. */
        Moves move(int cut, int target) {
            if (size > starts[states] && targets[size - 1] == target) {
                return this;
            }
            if (size == cuts.length) {
                cuts = Arrays.copyOf(cuts, 2 * size);
                targets = Arrays.copyOf(targets, 2 * size);
            }
            cuts[size] = cut;
            targets[size++] = target;
            return this;
        }

        /** Ends the state. */
        Moves end() {
            states++;
            if (states == starts.length) {
                starts = Arrays.copyOf(starts, 2 * states);
            }
            starts[states] = size;
            return this;
        }

        Language accepting(BitSet accepting) {
            return new Language(
                    Arrays.copyOf(starts, states + 1),
                    Arrays.copyOf(cuts, size),
                    Arrays.copyOf(targets, size),
                    accepting);
        }
    }

    private static BitSet bits(int... set) {
        BitSet bits = new BitSet();
        for (int bit : set) {
            bits.set(bit);
        }
        return bits;
    }

    /** Returns the empty set. */
    public static Language none() {
        return NONE;
    }

    /** Returns the set of all texts. */
    public static Language all() {
        return ALL;
    }

    /** Returns the set of all texts but the empty one. */
    public static Language notEmpty() {
        return NOT_EMPTY;
    }

    /** Returns the set of this one text. */
    public static Language of(String text) {
        return matching(Glob.literal(text));
    }

    /** Returns the set of these texts. */
    public static Language of(Iterable<String> texts) {
        Language union = NONE;
        for (String text : texts) {
            union = union.union(of(text));
        }
        return union;
    }

    /** Returns the set of texts that the pattern matches. */
    public static Language matching(Glob glob) {
        return glob.matchesEverything() ? ALL : subsetConstruction(glob.tokens(), false);
    }

    /** Returns the set of texts of so many digits of ASCII. */
    public static Language digits(int count) {
        int dead = count + 1;
        Moves moves = new Moves(count + 2);
        for (int s = 0; s < count; s++) {
            moves.move(0, dead).move('0', s + 1).move('9' + 1, dead).end();
        }
        return moves.move(0, dead).end().move(0, dead).end().accepting(bits(count));
    }

    /** Returns the set of texts that begin with {@code prefix}. */
    public static Language beginning(String prefix) {
        return matching(Glob.literal(prefix).then(Glob.of(Glob.MANY)));
    }

    /** Returns the set of texts that are the pattern, letters compared without regard to case. */
    public static Language matchingIgnoringCase(Glob glob) {
        return glob.matchesEverything() ? ALL : subsetConstruction(glob.tokens(), true);
    }

    /**
     * Builds the automaton of a pattern by the subset construction. Positions before the last star reached are dropped:
     * whatever they lead to, the star leads to as well. So the number of states is the sum over the stretches between stars,
     * not the product.
     */
    private static Language subsetConstruction(int[] tokens, boolean ignoreCase) {
        int plain = 0;
        while (plain < tokens.length && tokens[plain] >= 0) {
            plain++;
        }
        boolean endsInStar = plain == tokens.length - 1 && tokens[plain] == Glob.MANY;
        if (plain == tokens.length || endsInStar) {
            return chain(tokens, plain, endsInStar, ignoreCase);
        }
        TreeSet<Integer> cutSet = new TreeSet<>(List.of(0));
        for (int token : tokens) {
            if (token == Glob.ONE_IN_PART || token == Glob.MANY_IN_PART) {
                cutSet.add((int) ':');
                cutSet.add(':' + 1);
            } else if (token >= 0) {
                for (int variant : variants(token, ignoreCase)) {
                    cutSet.add(variant);
                    cutSet.add(variant + 1);
                }
            }
        }
        cutSet.remove(Character.MAX_CODE_POINT + 1);
        int[] alphabet = cutSet.stream().mapToInt(Integer::intValue).toArray();
        Map<Positions, Integer> numbers = new HashMap<>();
        List<BitSet> states = new ArrayList<>();
        Moves moves = new Moves(tokens.length + 2);
        BitSet start = bits(0);
        close(start, tokens);
        numbers.put(Positions.of(start), 0);
        states.add(start);
        for (int s = 0; s < states.size(); s++) {
            BitSet here = states.get(s);
            Effort.spend(alphabet.length + here.cardinality());
            for (int a = 0; a < alphabet.length; a++) {
                BitSet next = step(here, tokens, alphabet[a], ignoreCase);
                Positions key = Positions.of(next);
                Integer number = numbers.get(key);
                if (number == null) {
                    number = states.size();
                    limit(number);
                    numbers.put(key, number);
                    states.add(next);
                }
                moves.move(alphabet[a], number);
            }
            moves.end();
        }
        BitSet accepting = new BitSet();
        for (int s = 0; s < states.size(); s++) {
            accepting.set(s, states.get(s).get(tokens.length));
        }
        return moves.accepting(accepting);
    }

    /** A set of positions as a key; the hash of a bit set itself puts sets of one bit into few places. */
    private record Positions(long[] words) {
        static Positions of(BitSet bits) {
            return new Positions(bits.toLongArray());
        }

        @Override
        public boolean equals(Object other) {
            return other instanceof Positions that && Arrays.equals(words, that.words);
        }

        @Override
        public int hashCode() {
            long hash = 0;
            for (long word : words) {
                hash = (hash ^ word) * 0x9E3779B97F4A7C15L;
                hash ^= hash >>> 32;
            }
            return (int) hash;
        }
    }

    /** Builds the automaton of a plain text, or of all texts that begin with one: a state for each character. */
    private static Language chain(int[] tokens, int length, boolean endsInStar, boolean ignoreCase) {
        limit(length + 1);
        Effort.spend(length);
        int dead = length + 1;
        Moves moves = new Moves(length + 2);
        for (int s = 0; s < length; s++) {
            int next = 0;
            for (int variant : variants(tokens[s], ignoreCase)) {
                if (variant > next) {
                    moves.move(next, dead);
                }
                moves.move(variant, s + 1);
                next = variant + 1;
            }
            if (next <= Character.MAX_CODE_POINT) {
                moves.move(next, dead);
            }
            moves.end();
        }
        moves.move(0, endsInStar ? length : dead).end();
        if (!endsInStar || length > 0) {
            moves.move(0, dead).end();
        }
        return moves.accepting(bits(length));
    }

    private static BitSet step(BitSet here, int[] tokens, int c, boolean ignoreCase) {
        BitSet next = new BitSet();
        for (int i = here.nextSetBit(0); i >= 0 && i < tokens.length; i = here.nextSetBit(i + 1)) {
            int token = tokens[i];
            switch (token) {
                case Glob.ONE -> next.set(i + 1);
                case Glob.MANY -> next.set(i);
                case Glob.ONE_IN_PART -> next.set(i + 1, i + 2, c != ':');
                case Glob.MANY_IN_PART -> {
                    if (c != ':') {
                        next.set(i);
                    }
                }
                default -> {
                    for (int variant : variants(token, ignoreCase)) {
                        if (variant == c) {
                            next.set(i + 1);
                        }
                    }
                }
            }
        }
        close(next, tokens);
        return next;
    }

    private static void close(BitSet positions, int[] tokens) {
        int lastStar = -1;
        for (int i = positions.nextSetBit(0); i >= 0 && i < tokens.length; i = positions.nextSetBit(i + 1)) {
            if (tokens[i] == Glob.MANY || tokens[i] == Glob.MANY_IN_PART) {
                positions.set(i + 1);
                lastStar = tokens[i] == Glob.MANY ? i : lastStar;
            }
        }
        if (lastStar > 0) {
            positions.clear(0, lastStar);
        }
    }

    /** Returns the code points that are the same as {@code c}, each once, in rising order. */
    private static int[] variants(int c, boolean ignoreCase) {
        int lower = ignoreCase ? Character.toLowerCase(c) : c;
        int upper = ignoreCase ? Character.toUpperCase(c) : c;
        return lower == upper && lower == c
                ? new int[] {c}
                : IntStream.of(c, lower, upper).sorted().distinct().toArray();
    }

    private static void limit(int states) {
        if (states > MOST_STATES) {
            throw new TooComplexException("the patterns together need more than " + MOST_STATES + " states");
        }
    }

    /** Returns the texts in this set or the other. Cost: product of the numbers of states at worst. */
    public Language union(Language other) {
        if (this == ALL || other == NONE || this == other) {
            return this;
        }
        if (other == ALL || this == NONE) {
            return other;
        }
        return product(other, true, true, true);
    }

    /** Returns the texts in both sets. Cost: product of the numbers of states at worst. */
    public Language intersect(Language other) {
        if (this == NONE || other == ALL || this == other) {
            return this;
        }
        if (other == NONE || this == ALL) {
            return other;
        }
        if (other == NOT_EMPTY && !hasEmptyText()) {
            return this;
        }
        if (this == NOT_EMPTY && !other.hasEmptyText()) {
            return other;
        }
        return product(other, true, false, false);
    }

    /** Returns the texts in this set that are not in the other. Cost: product of the numbers of states at worst. */
    public Language minus(Language other) {
        if (this == NONE || other == NONE) {
            return this;
        }
        if (other == ALL || this == other) {
            return NONE;
        }
        return product(other, false, true, false);
    }

    /** Returns the texts that are not in this set. Cost: linear. */
    public Language complement() {
        if (this == ALL) {
            return NONE;
        }
        if (this == NONE) {
            return ALL;
        }
        BitSet flipped = (BitSet) accepting.clone();
        flipped.flip(0, states());
        return new Language(starts, cuts, targets, flipped);
    }

    /** The product construction; the flags say whether a pair accepts when both do, only the left, only the right. */
    private Language product(Language other, boolean both, boolean onlyLeft, boolean onlyRight) {
        PairNumbers pairs = new PairNumbers();
        pairs.number(0, 0);
        Moves moves = new Moves(Math.max(states(), other.states()));
        long effort = 0;
        for (int s = 0; s < pairs.size(); s++) {
            int l = starts[pairs.left(s)];
            int r = other.starts[pairs.right(s)];
            int leftEnd = starts[pairs.left(s) + 1];
            int rightEnd = other.starts[pairs.right(s) + 1];
            effort = spendInParts(effort + leftEnd - l + rightEnd - r);
            while (true) {
                int number = pairs.number(targets[l], other.targets[r]);
                limit(number);
                moves.move(Math.max(cuts[l], other.cuts[r]), number);
                int nextLeft = l + 1 < leftEnd ? cuts[l + 1] : Integer.MAX_VALUE;
                int nextRight = r + 1 < rightEnd ? other.cuts[r + 1] : Integer.MAX_VALUE;
                if (nextLeft == Integer.MAX_VALUE && nextRight == Integer.MAX_VALUE) {
                    break;
                }
                l += nextLeft <= nextRight ? 1 : 0;
                r += nextRight <= nextLeft ? 1 : 0;
            }
            moves.end();
        }
        Effort.spend(effort);
        BitSet accepts = new BitSet();
        for (int s = 0; s < pairs.size(); s++) {
            boolean left = accepting.get(pairs.left(s));
            boolean right = other.accepting.get(pairs.right(s));
            accepts.set(s, left ? (right ? both : onlyLeft) : right && onlyRight);
        }
        return moves.accepting(accepts).reduced();
    }

    /** True when a text of this set is in the other, or is not, as {@code inside} says. The product construction, building nothing. */
    private boolean hasMember(Language other, boolean inside) {
        PairNumbers pairs = new PairNumbers();
        pairs.number(0, 0);
        long effort = 0;
        for (int s = 0; s < pairs.size(); s++) {
            int left = pairs.left(s);
            int right = pairs.right(s);
            if (accepting.get(left) && other.accepting.get(right) == inside) {
                Effort.spend(effort);
                return true;
            }
            int l = starts[left];
            int r = other.starts[right];
            int leftEnd = starts[left + 1];
            int rightEnd = other.starts[right + 1];
            effort = spendInParts(effort + leftEnd - l + rightEnd - r);
            while (true) {
                limit(pairs.number(targets[l], other.targets[r]));
                int nextLeft = l + 1 < leftEnd ? cuts[l + 1] : Integer.MAX_VALUE;
                int nextRight = r + 1 < rightEnd ? other.cuts[r + 1] : Integer.MAX_VALUE;
                if (nextLeft == Integer.MAX_VALUE && nextRight == Integer.MAX_VALUE) {
                    break;
                }
                l += nextLeft <= nextRight ? 1 : 0;
                r += nextRight <= nextLeft ? 1 : 0;
            }
        }
        Effort.spend(effort);
        return false;
    }

    /** Spends effort once it has become worth the while; returns what is still to be spent. */
    private static long spendInParts(long effort) {
        if (effort < WORTH_SPENDING) {
            return effort;
        }
        Effort.spend(effort);
        return 0;
    }

    /**
     * Returns the same language with fewer states: equal states are joined by Moore's refinement, given up after a fixed number of rounds.
     * It begins with how far each state is from accepting and from rejecting, which equal states share; so the states of a long text are
     * told apart at once, and not one more in each round. Fewer is not needed for rightness, only for size.
     */
    private Language reduced() {
        int[] toAccepting = distances(accepting);
        if (toAccepting[0] < 0) {
            return NONE;
        }
        BitSet rejecting = (BitSet) accepting.clone();
        rejecting.flip(0, states());
        int[] toRejecting = distances(rejecting);
        if (toRejecting[0] < 0) {
            return ALL;
        }
        PairNumbers groups = new PairNumbers();
        int[] group = new int[states()];
        for (int s = 0; s < group.length; s++) {
            group[s] = groups.number(toAccepting[s] + 1, toRejecting[s] + 1);
        }
        int count = groups.size();
        for (int round = 0; round < ROUNDS; round++) {
            Map<Signature, Integer> signatures = new HashMap<>();
            int[] finer = new int[group.length];
            long effort = 0;
            for (int s = 0; s < group.length; s++) {
                effort = spendInParts(effort + starts[s + 1] - starts[s]);
                Signature signature = signature(group, s);
                Integer number = signatures.get(signature);
                if (number == null) {
                    number = signatures.size();
                    signatures.put(signature, number);
                }
                finer[s] = number;
            }
            Effort.spend(effort);
            boolean stable = signatures.size() == count;
            count = signatures.size();
            group = finer;
            if (stable) {
                return quotient(group, count);
            }
        }
        return this;
    }

    /** A state's own group and, by cut, the groups that it leads to. */
    private record Signature(int[] values) {
        @Override
        public boolean equals(Object other) {
            return other instanceof Signature that && Arrays.equals(values, that.values);
        }

        @Override
        public int hashCode() {
            return Arrays.hashCode(values);
        }
    }

    private Signature signature(int[] group, int state) {
        int[] values = new int[1 + 2 * (starts[state + 1] - starts[state])];
        values[0] = group[state];
        int n = 1;
        int last = -1;
        for (int i = starts[state]; i < starts[state + 1]; i++) {
            int target = group[targets[i]];
            if (target != last) {
                values[n++] = cuts[i];
                values[n++] = target;
                last = target;
            }
        }
        return new Signature(n == values.length ? values : Arrays.copyOf(values, n));
    }

    private Language quotient(int[] group, int count) {
        Moves moves = new Moves(count);
        BitSet accepts = new BitSet();
        // Groups are numbered in the order in which their first states are met, so each new one is the next; state 0
        // stays the start.
        for (int s = 0, built = 0; built < count; s++) {
            if (group[s] == built) {
                for (int i = starts[s]; i < starts[s + 1]; i++) {
                    moves.move(cuts[i], group[targets[i]]);
                }
                moves.end();
                accepts.set(built++, accepting.get(s));
            }
        }
        return moves.accepting(accepts);
    }

    /** Returns for each state how many steps it takes at least to one of {@code goals}; -1 where none can be reached. */
    private int[] distances(BitSet goals) {
        int states = states();
        int[] count = new int[states + 1];
        for (int target : targets) {
            count[target + 1]++;
        }
        for (int s = 0; s < states; s++) {
            count[s + 1] += count[s];
        }
        int[] sources = new int[targets.length];
        int[] next = count.clone();
        for (int s = 0; s < states; s++) {
            for (int i = starts[s]; i < starts[s + 1]; i++) {
                sources[next[targets[i]]++] = s;
            }
        }
        int[] distances = new int[states];
        Arrays.fill(distances, -1);
        int[] open = new int[states];
        int size = 0;
        for (int s = goals.nextSetBit(0); s >= 0; s = goals.nextSetBit(s + 1)) {
            distances[s] = 0;
            open[size++] = s;
        }
        for (int done = 0; done < size; done++) {
            int state = open[done];
            for (int i = count[state]; i < count[state + 1]; i++) {
                if (distances[sources[i]] < 0) {
                    distances[sources[i]] = distances[state] + 1;
                    open[size++] = sources[i];
                }
            }
        }
        return distances;
    }

    /** True when no text is in this set. Cost: constant, since every operation returns the one empty set. */
    public boolean isEmpty() {
        return this == NONE;
    }

    /** True when every text is in this set. Cost: constant, since every operation returns the one full set. */
    public boolean isEverything() {
        return this == ALL;
    }

    /** True when every text of this set is in the other. Cost: product of the numbers of states at worst. */
    public boolean isSubsetOf(Language other) {
        if (this == NONE || other == ALL || this == other) {
            return true;
        }
        if (other == NOT_EMPTY) {
            return !hasEmptyText();
        }
        return other != NONE && this != ALL && other.accepts(sample()) && !hasMember(other, false);
    }

    private boolean hasEmptyText() {
        return accepting.get(0);
    }

    /** Returns a member of a set that is not empty, remembered: most questions about two sets are settled by one member. */
    private int[] sample() {
        int[] known = sample;
        if (known == null) {
            known = shortest();
            sample = known;
        }
        return known;
    }

    private int[] shortest() {
        int[] from = new int[states()];
        int[] by = new int[states()];
        int[] open = new int[states()];
        Arrays.fill(from, -1);
        from[0] = 0;
        int size = 1;
        for (int done = 0; done < size; done++) {
            int state = open[done];
            if (accepting.get(state)) {
                int length = 0;
                for (int s = state; s != 0; s = from[s]) {
                    length++;
                }
                int[] member = new int[length];
                for (int s = state; s != 0; s = from[s]) {
                    member[--length] = by[s];
                }
                return member;
            }
            for (int i = starts[state]; i < starts[state + 1]; i++) {
                int target = targets[i];
                if (from[target] < 0) {
                    from[target] = state;
                    by[target] = cuts[i];
                    open[size++] = target;
                }
            }
        }
        throw new IllegalStateException("a set that is not empty has a member");
    }

    private boolean accepts(int[] codePoints) {
        int state = 0;
        for (int c : codePoints) {
            state = next(state, c);
        }
        return accepting.get(state);
    }

    private int next(int state, int codePoint) {
        int found = Arrays.binarySearch(cuts, starts[state], starts[state + 1], codePoint);
        return targets[found >= 0 ? found : -found - 2];
    }

    /** True when no text is in both sets. Cost: product of the numbers of states at worst. */
    public boolean isDisjointFrom(Language other) {
        if (this == NONE || other == NONE) {
            return true;
        }
        return this != ALL
                && other != ALL
                && !other.accepts(sample())
                && !accepts(other.sample())
                && !hasMember(other, true);
    }

    /** True when both sets have the same members. */
    public boolean isSameAs(Language other) {
        return isSubsetOf(other) && other.isSubsetOf(this);
    }

    /** True when {@code text} is in this set. */
    public boolean contains(String text) {
        return accepting.get(walk(text));
    }

    /** Returns the texts t such that {@code prefix} followed by t is in this set (the left quotient). */
    public Language afterPrefix(String prefix) {
        int state = walk(prefix);
        if (state == 0) {
            return this;
        }
        // Swap the state with the start.
        Moves moves = new Moves(states());
        for (int s = 0; s < states(); s++) {
            int row = s == 0 ? state : s == state ? 0 : s;
            for (int i = starts[row]; i < starts[row + 1]; i++) {
                moves.move(cuts[i], targets[i] == 0 ? state : targets[i] == state ? 0 : targets[i]);
            }
            moves.end();
        }
        BitSet accepts = (BitSet) accepting.clone();
        accepts.set(0, accepting.get(state));
        accepts.set(state, accepting.get(0));
        return moves.accepting(accepts).reduced();
    }

    private int walk(String text) {
        int state = 0;
        for (int i = 0; i < text.length(); ) {
            int c = text.codePointAt(i);
            i += Character.charCount(c);
            state = next(state, c);
        }
        return state;
    }

    /** Returns a shortest member, with characters that read well where there is a choice; absent when empty. */
    public Optional<String> witness() {
        Map<Integer, Supplier<String>> texts = new HashMap<>();
        texts.put(0, () -> "");
        ArrayDeque<Integer> open = new ArrayDeque<>(List.of(0));
        while (!open.isEmpty()) {
            int state = open.remove();
            if (accepting.get(state)) {
                return Optional.of(texts.get(state).get());
            }
            for (int i = starts[state]; i < starts[state + 1]; i++) {
                int target = targets[i];
                if (!texts.containsKey(target)) {
                    String letter = Character.toString(readable(state, target));
                    Supplier<String> before = texts.get(state);
                    texts.put(target, () -> before.get() + letter);
                    open.add(target);
                }
            }
        }
        return Optional.empty();
    }

    /** Returns the code point from {@code state} to {@code target} that reads best: a letter, a digit, then any other. */
    private int readable(int state, int target) {
        int best = -1;
        int bestRank = Integer.MAX_VALUE;
        for (int i = starts[state]; i < starts[state + 1]; i++) {
            if (targets[i] == target) {
                int last = i + 1 < starts[state + 1] ? cuts[i + 1] - 1 : Character.MAX_CODE_POINT;
                for (int[] wish : new int[][] {{'a', 'z'}, {'0', '9'}, {'A', 'Z'}, {'!', '~'}, {' ', ' '}}) {
                    int c = Math.max(wish[0], cuts[i]);
                    if (c <= Math.min(wish[1], last)) {
                        int rank = rank(c);
                        if (rank < bestRank) {
                            best = c;
                            bestRank = rank;
                        }
                    }
                }
                if (best < 0) {
                    best = notSurrogate(cuts[i], last);
                }
            }
        }
        return best;
    }

    private static int notSurrogate(int first, int last) {
        boolean surrogate = first >= Character.MIN_SURROGATE && first <= Character.MAX_SURROGATE;
        return surrogate && last > Character.MAX_SURROGATE ? Character.MAX_SURROGATE + 1 : first;
    }

    private static int rank(int c) {
        if (c >= 'a' && c <= 'z') {
            return c - 'a';
        }
        if (c >= '0' && c <= '9') {
            return 100 + c;
        }
        return (c >= 'A' && c <= 'Z' ? 200 : 400) + c;
    }

    /** Returns the number of states: the measure of size in which costs are given. */
    public int states() {
        return starts.length - 1;
    }
}
