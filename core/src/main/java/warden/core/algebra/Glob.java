package warden.core.algebra;

import java.util.Arrays;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * A wildcard pattern as a sequence of tokens: literal code points and four wildcards. Two patterns are equal when their
 * tokens are. Immutable.
 */
public final class Glob {
    /** Any one code point. */
    public static final int ONE = -1;
    /** Any number of code points, none included. */
    public static final int MANY = -2;
    /** Any one code point except a colon. */
    public static final int ONE_IN_PART = -3;
    /** Any number of code points except colons. */
    public static final int MANY_IN_PART = -4;

    /** Absent where the pattern has no wildcard, as most have none: the text says it all. */
    private final int @Nullable [] wild;
    /** The one text that the pattern matches; absent when it has a wildcard. */
    private final @Nullable String only;
    /** What stands before the star where that is the only wildcard, and the last token; absent for all others. */
    private final @Nullable String beginning;
    /** True when it has stars of both kinds. */
    private final boolean mixesStars;

    private Glob(String only) {
        this.wild = null;
        this.only = only;
        this.beginning = null;
        this.mixesStars = false;
    }

    private Glob(int[] wild) {
        this.wild = wild;
        this.only = null;
        int plain = wild.length - 1;
        this.beginning = wild[plain] == MANY && isPlain(Arrays.copyOf(wild, plain)) ? new String(wild, 0, plain) : null;
        this.mixesStars = beginning == null && mixesStars(wild);
    }

    private static Glob made(int[] tokens) {
        return isPlain(tokens) ? new Glob(new String(tokens, 0, tokens.length)) : new Glob(tokens);
    }

    private static boolean isPlain(int[] tokens) {
        for (int token : tokens) {
            if (token < 0) {
                return false;
            }
        }
        return true;
    }

    /** Returns the pattern that these tokens spell; literals are code points, wildcards the constants above. */
    public static Glob of(int... tokens) {
        return made(tokens.clone());
    }

    /** Parses {@code *} and {@code ?} as wildcards that cross everything. */
    public static Glob parse(String text) {
        if (text.indexOf('*') < 0 && text.indexOf('?') < 0) {
            return new Glob(text);
        }
        int[] tokens = codePoints(text);
        for (int i = 0; i < tokens.length; i++) {
            tokens[i] = tokens[i] == '*' ? MANY : tokens[i] == '?' ? ONE : tokens[i];
        }
        return new Glob(tokens);
    }

    /** Returns the pattern that matches exactly {@code text}. */
    public static Glob literal(String text) {
        return new Glob(text);
    }

    /** Returns this pattern followed by the other. */
    public Glob then(Glob next) {
        int[] first = tokens();
        int[] second = next.tokens();
        int[] joined = Arrays.copyOf(first, first.length + second.length);
        System.arraycopy(second, 0, joined, first.length, second.length);
        return made(joined);
    }

    /**
     * Returns what is left of this pattern after {@code prefix}, when the pattern begins with plain characters for the whole of it; absent
     * when a wildcard comes first. A pattern that contradicts the prefix leaves nothing: {@link Remainder#matchesNothing}.
     */
    public Optional<Remainder> after(String prefix) {
        int[] tokens = tokens();
        int token = 0;
        for (int at = 0; at < prefix.length(); ) {
            int c = prefix.codePointAt(at);
            at += Character.charCount(c);
            if (token == tokens.length) {
                return Optional.of(new Remainder(Optional.empty()));
            }
            if (tokens[token] < 0) {
                return Optional.empty();
            }
            if (tokens[token++] != c) {
                return Optional.of(new Remainder(Optional.empty()));
            }
        }
        return Optional.of(new Remainder(Optional.of(made(Arrays.copyOfRange(tokens, token, tokens.length)))));
    }

    private static int[] codePoints(String text) {
        int[] points = new int[text.codePointCount(0, text.length())];
        for (int i = 0, at = 0; i < points.length; i++) {
            points[i] = text.codePointAt(at);
            at += Character.charCount(points[i]);
        }
        return points;
    }

    /** What is left of a pattern after a prefix; absent when nothing that begins so matches. */
    public record Remainder(Optional<Glob> glob) {
        public boolean matchesNothing() {
            return glob.isEmpty();
        }
    }

    /** Returns what stands before the first {@code end}; absent when a wildcard comes first, or when there is no such character. */
    public Optional<String> literalBefore(char end) {
        int[] tokens = tokens();
        for (int i = 0; i < tokens.length && tokens[i] >= 0; i++) {
            if (tokens[i] == end) {
                return Optional.of(new String(tokens, 0, i));
            }
        }
        return Optional.empty();
    }

    /** True when the pattern has no wildcard, so that it matches one text only. */
    public boolean isLiteral() {
        return only != null;
    }

    /** True when every text matches: one or more {@link #MANY} and nothing else. */
    public boolean matchesEverything() {
        if (wild == null) {
            return false;
        }
        for (int token : wild) {
            if (token != MANY) {
                return false;
            }
        }
        return true;
    }

    /** True when {@code text} as a whole matches. Cost: length of the text times length of the pattern at worst. */
    public boolean matches(String text) {
        return matches(text, 0, text.length(), false);
    }

    /** As {@link #matches(String)}, with letters compared without regard to case. */
    public boolean matchesIgnoringCase(String text) {
        return matches(text, 0, text.length(), true);
    }

    /** True when the part of {@code text} from {@code from} to before {@code to} matches; UTF-16 offsets. */
    public boolean matches(String text, int from, int to) {
        return matches(text, from, to, false);
    }

    private boolean matches(String text, int from, int to, boolean ignoreCase) {
        if (only != null && !ignoreCase) {
            return only.length() == to - from && text.startsWith(only, from);
        }
        if (beginning != null && !ignoreCase) {
            return beginning.length() <= to - from && text.startsWith(beginning, from);
        }
        int[] tokens = tokens();
        int at = from;
        int token = 0;
        int starToken = -1;
        int starAt = 0;
        while (at < to) {
            int kind = token < tokens.length ? tokens[token] : Integer.MIN_VALUE;
            if (kind == MANY || kind == MANY_IN_PART) {
                starToken = token++;
                starAt = at;
                continue;
            }
            int c = text.codePointAt(at);
            if (kind != Integer.MIN_VALUE && steps(kind, c, ignoreCase)) {
                at += Character.charCount(c);
                token++;
                continue;
            }
            // Let the last star take one more code point. Only the last star need be revisited: what an earlier star
            // could take more of, a later one of the same kind can take too. Two kinds in one pattern do not follow
            // that rule, so such patterns go to the exhaustive way.
            if (starToken < 0) {
                return false;
            }
            if (mixesStars) {
                return exhaustively(tokens, text, from, to, ignoreCase);
            }
            int taken = text.codePointAt(starAt);
            if (tokens[starToken] == MANY_IN_PART && taken == ':') {
                return exhaustively(tokens, text, from, to, ignoreCase);
            }
            starAt += Character.charCount(taken);
            at = starAt;
            token = starToken + 1;
        }
        while (token < tokens.length && (tokens[token] == MANY || tokens[token] == MANY_IN_PART)) {
            token++;
        }
        return token == tokens.length;
    }

    private static boolean mixesStars(int[] tokens) {
        boolean many = false;
        boolean inPart = false;
        for (int token : tokens) {
            many |= token == MANY;
            inPart |= token == MANY_IN_PART;
        }
        return many && inPart;
    }

    /** Simulates all positions at once (Thompson's construction); right for every mix of wildcards. */
    private static boolean exhaustively(int[] tokens, String text, int from, int to, boolean ignoreCase) {
        boolean[] here = new boolean[tokens.length + 1];
        here[0] = true;
        close(tokens, here);
        for (int at = from; at < to; ) {
            int c = text.codePointAt(at);
            at += Character.charCount(c);
            boolean[] next = new boolean[tokens.length + 1];
            for (int i = 0; i < tokens.length; i++) {
                if (here[i] && steps(tokens[i], c, ignoreCase)) {
                    boolean star = tokens[i] == MANY || tokens[i] == MANY_IN_PART;
                    next[star ? i : i + 1] = true;
                }
            }
            close(tokens, next);
            here = next;
        }
        return here[tokens.length];
    }

    private static void close(int[] tokens, boolean[] positions) {
        for (int i = 0; i < tokens.length; i++) {
            if (positions[i] && (tokens[i] == MANY || tokens[i] == MANY_IN_PART)) {
                positions[i + 1] = true;
            }
        }
    }

    private static boolean steps(int token, int c, boolean ignoreCase) {
        return switch (token) {
            case ONE, MANY -> true;
            case ONE_IN_PART, MANY_IN_PART -> c != ':';
            default -> token == c || (ignoreCase && foldedEquals(token, c));
        };
    }

    private static boolean foldedEquals(int a, int b) {
        return Character.toLowerCase(a) == Character.toLowerCase(b)
                || Character.toUpperCase(a) == Character.toUpperCase(b);
    }

    /** Returns the tokens, for those who build automata from them; not to be changed. */
    int[] tokens() {
        return wild != null ? wild : codePoints(Objects.requireNonNull(only));
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Glob glob && Objects.equals(only, glob.only) && Arrays.equals(wild, glob.wild);
    }

    /** The text remembers its own. */
    @Override
    public int hashCode() {
        return only != null ? only.hashCode() : Arrays.hashCode(wild);
    }

    /** Spells the pattern with {@code *} and {@code ?}; literal stars and question marks as {@code ${*}}, {@code ${?}}. */
    @Override
    public String toString() {
        if (only != null && only.indexOf('*') < 0 && only.indexOf('?') < 0) {
            return only;
        }
        StringBuilder out = new StringBuilder();
        for (int token : tokens()) {
            switch (token) {
                case ONE, ONE_IN_PART -> out.append('?');
                case MANY, MANY_IN_PART -> out.append('*');
                case '*', '?' -> out.append("${").appendCodePoint(token).append('}');
                default -> out.appendCodePoint(token);
            }
        }
        return out.toString();
    }
}
