package warden.core.azure.role;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.access.Truth;
import warden.core.algebra.Glob;

/**
 * The condition of an assignment, as far as it is understood: a conjunction of clauses, each of which limits some actions to containers of one
 * name, or blobs of one path. Everything else is not understood as a whole, so that what the assignment grants is not known.
 *
 * <p>Source: Azure role-based access control, "Azure role assignment condition format and syntax".
 *
 * @param clauses empty when the condition is not understood
 */
public record AssignmentCondition(List<Clause> clauses, boolean isUnderstood) {
    private static final String CONTAINER = "Microsoft.Storage/storageAccounts/blobServices/containers:name";
    private static final String PATH = "Microsoft.Storage/storageAccounts/blobServices/containers/blobs:path";
    private static final Pattern TOKEN = Pattern.compile(
            "\\s+|(\\(|\\)|!|\\{|\\}|'[^']*+(?:''[^']*+)*+'|@[A-Za-z]+\\[[^\\]]*\\]|[A-Za-z][A-Za-z.]*)");

    /** The provider takes no longer ones. */
    private static final int LONGEST = 8_192;
    /** Far beyond what anybody writes; deeper ones are not followed. */
    private static final int DEEPEST = 64;

    public AssignmentCondition {
        clauses = List.copyOf(clauses);
    }

    /** What a clause compares. */
    public enum Attribute {
        CONTAINER_NAME,
        BLOB_PATH
    }

    /**
     * One clause.
     *
     * @param actions patterns of the data actions that it limits
     * @param sparesListing true when listing is not limited though it takes the same action as reading
     */
    public record Clause(
            List<String> actions, boolean sparesListing, Attribute attribute, String operator, String value) {
        public Clause {
            actions = List.copyOf(actions);
        }

        /** True when it limits an action. */
        boolean limits(String action, boolean isListing) {
            return !(isListing && sparesListing)
                    && actions.stream().anyMatch(pattern -> ActionPattern.matches(pattern, action));
        }

        /** Returns whether a name fits. */
        boolean fits(String name) {
            return switch (operator) {
                case "stringequals" -> name.equals(value);
                case "stringequalsignorecase" -> name.equalsIgnoreCase(value);
                default -> Glob.parse(value).matches(name);
            };
        }
    }

    /** Parses a condition. */
    static AssignmentCondition parse(String text, String version) {
        if (!version.equals("2.0") || text.length() > LONGEST) {
            return notUnderstood();
        }
        try {
            Parser parser = new Parser(tokens(text));
            List<Clause> clauses = parser.conjunction();
            return parser.isDone() && !clauses.isEmpty() ? new AssignmentCondition(clauses, true) : notUnderstood();
        } catch (IllegalArgumentException another) {
            return notUnderstood();
        }
    }

    /** A condition of which nothing is known. */
    static AssignmentCondition notUnderstood() {
        return new AssignmentCondition(List.of(), false);
    }

    /**
     * Returns whether it lets an action through.
     *
     * @param container the container's name; empty when any may be meant
     * @param blob the blob's name; absent when any may be meant, or none is
     */
    public Truth lets(String action, boolean isListing, String container, Optional<String> blob) {
        if (!isUnderstood) {
            return Truth.UNKNOWN;
        }
        Truth lets = Truth.TRUE;
        for (Clause clause : clauses) {
            if (!clause.limits(action, isListing)) {
                continue;
            }
            if (clause.attribute() == Attribute.CONTAINER_NAME) {
                lets = lets.and(container.isEmpty() ? Truth.UNKNOWN : Truth.of(clause.fits(container)));
            } else {
                lets = lets.and(isListing || blob.isEmpty() ? Truth.UNKNOWN : Truth.of(clause.fits(blob.get())));
            }
        }
        return lets;
    }

    /** Returns the path patterns that limit an action in a container; none where it is not limited by paths. */
    public List<String> paths(String action) {
        return clauses.stream()
                .filter(clause -> clause.attribute() == Attribute.BLOB_PATH && clause.limits(action, false))
                .map(Clause::value)
                .toList();
    }

    /** Returns a path that fits every clause that limits an action; absent where none was found. */
    public Optional<String> fittingPath(String action) {
        List<Clause> limiting = clauses.stream()
                .filter(clause -> clause.attribute() == Attribute.BLOB_PATH && clause.limits(action, false))
                .toList();
        return limiting.stream()
                .map(clause -> clause.value().replace("*", "").replace('?', 'x'))
                .map(path -> path.isEmpty() || path.endsWith("/") ? path + "x" : path)
                .filter(path -> limiting.stream().allMatch(clause -> clause.fits(path)))
                .findFirst();
    }

    private static List<String> tokens(String text) {
        List<String> tokens = new ArrayList<>();
        int depth = 0;
        Matcher matcher = TOKEN.matcher(text);
        int at = 0;
        while (at < text.length()) {
            if (!matcher.find(at) || matcher.start() != at) {
                throw new IllegalArgumentException("no token at " + at);
            }
            if (matcher.group(1) != null) {
                tokens.add(matcher.group(1));
                depth += matcher.group(1).equals("(") ? 1 : matcher.group(1).equals(")") ? -1 : 0;
                if (depth > DEEPEST) {
                    throw new IllegalArgumentException("brackets too deep");
                }
            }
            at = matcher.end();
        }
        return tokens;
    }

    /** Reads the one form that is understood; whatever departs from it ends the reading. */
    private static final class Parser {
        private final List<String> tokens;
        private int at;

        Parser(List<String> tokens) {
            this.tokens = tokens;
        }

        boolean isDone() {
            return at == tokens.size();
        }

        private String peek() {
            return at < tokens.size() ? tokens.get(at) : "";
        }

        private String next() {
            if (isDone()) {
                throw new IllegalArgumentException("ends too early");
            }
            return tokens.get(at++);
        }

        private boolean take(String token) {
            if (peek().equalsIgnoreCase(token)) {
                at++;
                return true;
            }
            return false;
        }

        private void demand(String token) {
            if (!take(token)) {
                throw new IllegalArgumentException("expected " + token);
            }
        }

        List<Clause> conjunction() {
            List<Clause> clauses = new ArrayList<>(part());
            while (take("AND")) {
                clauses.addAll(part());
            }
            return clauses;
        }

        /** A clause with its brackets, or several of them within brackets of their own. */
        private List<Clause> part() {
            demand("(");
            int mark = at;
            try {
                Clause clause = clause();
                demand(")");
                return List.of(clause);
            } catch (IllegalArgumentException noClause) {
                at = mark;
            }
            List<Clause> inner = conjunction();
            demand(")");
            return inner;
        }

        private Clause clause() {
            List<String> actions = new ArrayList<>();
            boolean spares = exceptions(actions);
            demand("OR");
            int brackets = 0;
            while (take("(")) {
                brackets++;
            }
            String attribute = next();
            String operator = next().toLowerCase(Locale.ROOT);
            String value = literal();
            if (operator.equals("stringlike") && value.contains("\\")) {
                // The backslash takes a wildcard's meaning away; how it stands in paths is not worked out here.
                throw new IllegalArgumentException("an escape");
            }
            for (; brackets > 0; brackets--) {
                demand(")");
            }
            if (!List.of("stringequals", "stringequalsignorecase", "stringlike").contains(operator)) {
                throw new IllegalArgumentException(operator);
            }
            return new Clause(actions, spares, attribute(attribute), operator, value);
        }

        private static Attribute attribute(String token) {
            if (token.equalsIgnoreCase("@Resource[" + CONTAINER + "]")) {
                return Attribute.CONTAINER_NAME;
            }
            if (token.equalsIgnoreCase("@Resource[" + PATH + "]")) {
                return Attribute.BLOB_PATH;
            }
            throw new IllegalArgumentException(token);
        }

        /** Reads {@code !(ActionMatches{'A'})}, several of them joined by AND, in brackets or not. */
        private boolean exceptions(List<String> actions) {
            boolean spares = false;
            if (peek().equals("(")) {
                at++;
                spares = exceptions(actions);
                demand(")");
            } else {
                spares = exception(actions);
            }
            while (take("AND")) {
                spares |= peek().equals("(") ? bracketed(actions) : exception(actions);
            }
            return spares;
        }

        private boolean bracketed(List<String> actions) {
            demand("(");
            boolean spares = exceptions(actions);
            demand(")");
            return spares;
        }

        private boolean exception(List<String> actions) {
            demand("!");
            demand("(");
            demand("ActionMatches");
            demand("{");
            actions.add(literal());
            demand("}");
            boolean spares = false;
            if (take("AND")) {
                demand("NOT");
                demand("SubOperationMatches");
                demand("{");
                if (!literal().equalsIgnoreCase("Blob.List")) {
                    throw new IllegalArgumentException("another sub-operation");
                }
                demand("}");
                spares = true;
            }
            demand(")");
            return spares;
        }

        private String literal() {
            String token = peek();
            if (token.length() < 2 || token.charAt(0) != '\'') {
                throw new IllegalArgumentException("expected a text");
            }
            at++;
            return token.substring(1, token.length() - 1).replace("''", "'");
        }
    }
}
