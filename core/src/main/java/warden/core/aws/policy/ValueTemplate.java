package warden.core.aws.policy;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import warden.core.algebra.Glob;

/**
 * A text of a policy that may hold wildcards and policy variables such as {@code ${aws:username}} or
 * {@code ${aws:PrincipalTag/team, 'none'}}. The escapes {@code ${*}}, {@code ${?}} and {@code ${$}} stand for the plain characters. What a
 * variable stands for is taken literally, its stars too.
 *
 * <p>Source: IAM User Guide, "IAM policy elements: Variables and tags".
 */
public final class ValueTemplate {
    /** How the stars and question marks of a text are to be understood. */
    public enum Wildcards {
        /** They are plain characters. */
        NONE,
        /** They cross everything. */
        ANYWHERE,
        /**
         * In the first five colon-separated parts they stay within the part; in the last they cross everything, colons too. Source: IAM User
         * Guide, "IAM JSON policy elements: Resource" and "Condition operators", section "Amazon Resource Name (ARN) condition operators".
         */
        AS_IN_ARNS
    }

    /** What a template is for one request. */
    public sealed interface Resolution {
        /** A pattern. */
        record Pattern(Glob glob) implements Resolution {}

        /** A variable without a default has no value: the template matches nothing. */
        record NoValue() implements Resolution {}

        /** A variable's value is not known. */
        record NotKnown() implements Resolution {}
    }

    private static final Resolution NO_VALUE = new Resolution.NoValue();
    private static final Resolution NOT_KNOWN = new Resolution.NotKnown();

    /** A stretch of the template: a pattern, or a variable with its default (null when it has none). */
    private record Piece(
            @Nullable Glob glob, String variable, @Nullable String fallback) {}

    private final List<Piece> pieces;
    private final @Nullable Resolution constant;

    private ValueTemplate(List<Piece> pieces) {
        this.pieces = List.copyOf(pieces);
        boolean plain = pieces.stream().allMatch(piece -> piece.glob() != null);
        this.constant = plain ? new Resolution.Pattern(join(pieces)) : null;
    }

    private static Glob join(List<Piece> pieces) {
        Glob whole = Glob.of();
        for (Piece piece : pieces) {
            if (piece.glob() != null) {
                whole = whole.then(piece.glob());
            }
        }
        return whole;
    }

    /**
     * Parses a text.
     *
     * @param variables whether variables are understood, which they are in documents of version 2012-10-17 only
     * @return absent when a variable is opened and not closed, or is empty
     */
    public static Optional<ValueTemplate> parse(String text, Wildcards wildcards, boolean variables) {
        List<Piece> pieces = new ArrayList<>();
        List<Integer> tokens = new ArrayList<>();
        int colons = 0;
        for (int i = 0; i < text.length(); ) {
            if (variables && text.startsWith("${", i)) {
                int close = text.indexOf('}', i);
                if (close < 0 || close == i + 2) {
                    return Optional.empty();
                }
                String inside = text.substring(i + 2, close);
                if (inside.equals("*") || inside.equals("?") || inside.equals("$")) {
                    tokens.add((int) inside.charAt(0));
                } else {
                    flush(tokens, pieces);
                    pieces.add(variable(inside));
                }
                i = close + 1;
                continue;
            }
            int c = text.codePointAt(i);
            i += Character.charCount(c);
            colons += c == ':' ? 1 : 0;
            boolean crossing = wildcards == Wildcards.ANYWHERE || (wildcards == Wildcards.AS_IN_ARNS && colons >= 5);
            if (wildcards != Wildcards.NONE && c == '*') {
                tokens.add(crossing ? Glob.MANY : Glob.MANY_IN_PART);
            } else if (wildcards != Wildcards.NONE && c == '?') {
                tokens.add(crossing ? Glob.ONE : Glob.ONE_IN_PART);
            } else {
                tokens.add(c);
            }
        }
        flush(tokens, pieces);
        return Optional.of(new ValueTemplate(pieces));
    }

    private static Piece variable(String inside) {
        int comma = inside.indexOf(',');
        if (comma < 0) {
            return new Piece(null, inside.strip().toLowerCase(Locale.ROOT), null);
        }
        String fallback = inside.substring(comma + 1).strip();
        if (fallback.length() >= 2 && fallback.startsWith("'") && fallback.endsWith("'")) {
            fallback = fallback.substring(1, fallback.length() - 1);
        }
        return new Piece(null, inside.substring(0, comma).strip().toLowerCase(Locale.ROOT), fallback);
    }

    private static void flush(List<Integer> tokens, List<Piece> pieces) {
        if (!tokens.isEmpty()) {
            pieces.add(new Piece(
                    Glob.of(tokens.stream().mapToInt(Integer::intValue).toArray()), "", null));
            tokens.clear();
        }
    }

    /** Returns the pattern that this template is for a request with {@code context}. */
    public Resolution resolve(Context context) {
        if (constant != null) {
            return constant;
        }
        Glob whole = Glob.of();
        for (Piece piece : pieces) {
            if (piece.glob() != null) {
                whole = whole.then(piece.glob());
                continue;
            }
            ContextValue value = context.get(piece.variable());
            if (value instanceof ContextValue.Known known && known.values().size() == 1) {
                whole = whole.then(Glob.literal(known.values().get(0)));
            } else if (value instanceof ContextValue.OneOf
                    || (value instanceof ContextValue.Known known
                            && known.values().size() > 1)) {
                return NOT_KNOWN;
            } else if (piece.fallback() != null) {
                whole = whole.then(Glob.literal(piece.fallback()));
            } else {
                return NO_VALUE;
            }
        }
        return new Resolution.Pattern(whole);
    }

    /** Returns the pattern when there is no variable in it. */
    public Optional<Glob> constant() {
        return constant instanceof Resolution.Pattern pattern ? Optional.of(pattern.glob()) : Optional.empty();
    }

    /** Returns the names of the variables, in lower case. */
    public Set<String> variables() {
        Set<String> names = new TreeSet<>();
        for (Piece piece : pieces) {
            if (piece.glob() == null) {
                names.add(piece.variable());
            }
        }
        return names;
    }
}
