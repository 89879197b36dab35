package warden.core.aws.policy;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/**
 * The condition operators, without suffix and prefix.
 * Source: IAM User Guide, "IAM JSON policy elements: Condition operators".
 */
public enum Operator {
    STRING_EQUALS("StringEquals", Family.TEXT, false),
    STRING_NOT_EQUALS("StringNotEquals", Family.TEXT, true),
    STRING_EQUALS_IGNORE_CASE("StringEqualsIgnoreCase", Family.TEXT_IGNORING_CASE, false),
    STRING_NOT_EQUALS_IGNORE_CASE("StringNotEqualsIgnoreCase", Family.TEXT_IGNORING_CASE, true),
    STRING_LIKE("StringLike", Family.PATTERN, false),
    STRING_NOT_LIKE("StringNotLike", Family.PATTERN, true),
    NUMERIC_EQUALS("NumericEquals", Family.NUMBER, false),
    NUMERIC_NOT_EQUALS("NumericNotEquals", Family.NUMBER, true),
    NUMERIC_LESS_THAN("NumericLessThan", Family.NUMBER, false),
    NUMERIC_LESS_THAN_EQUALS("NumericLessThanEquals", Family.NUMBER, false),
    NUMERIC_GREATER_THAN("NumericGreaterThan", Family.NUMBER, false),
    NUMERIC_GREATER_THAN_EQUALS("NumericGreaterThanEquals", Family.NUMBER, false),
    DATE_EQUALS("DateEquals", Family.DATE, false),
    DATE_NOT_EQUALS("DateNotEquals", Family.DATE, true),
    DATE_LESS_THAN("DateLessThan", Family.DATE, false),
    DATE_LESS_THAN_EQUALS("DateLessThanEquals", Family.DATE, false),
    DATE_GREATER_THAN("DateGreaterThan", Family.DATE, false),
    DATE_GREATER_THAN_EQUALS("DateGreaterThanEquals", Family.DATE, false),
    BOOL("Bool", Family.TRUTH, false),
    BINARY_EQUALS("BinaryEquals", Family.BINARY, false),
    IP_ADDRESS("IpAddress", Family.ADDRESS, false),
    NOT_IP_ADDRESS("NotIpAddress", Family.ADDRESS, true),
    ARN_EQUALS("ArnEquals", Family.ARN, false),
    ARN_NOT_EQUALS("ArnNotEquals", Family.ARN, true),
    ARN_LIKE("ArnLike", Family.ARN, false),
    ARN_NOT_LIKE("ArnNotLike", Family.ARN, true),
    NULL("Null", Family.PRESENCE, false);

    /** What an operator takes its values to be. */
    public enum Family {
        TEXT,
        TEXT_IGNORING_CASE,
        PATTERN,
        NUMBER,
        DATE,
        TRUTH,
        BINARY,
        ADDRESS,
        ARN,
        PRESENCE
    }

    private static final Map<String, Operator> BY_WORD = new HashMap<>();

    static {
        for (Operator operator : values()) {
            BY_WORD.put(operator.word, operator);
        }
    }

    private final String word;
    private final Family family;
    private final boolean negated;

    Operator(String word, Family family, boolean negated) {
        this.word = word;
        this.family = family;
        this.negated = negated;
    }

    /** Finds an operator by its word, spelled as the provider's guide spells it. */
    public static Optional<Operator> named(String word) {
        return Optional.ofNullable(BY_WORD.get(word));
    }

    /** Returns the operator's name in a document. */
    public String word() {
        return word;
    }

    /** Returns what its values are. */
    public Family family() {
        return family;
    }

    /** True for the operators that hold when no value matches. */
    public boolean isNegated() {
        return negated;
    }

    /** True for the operators whose values may hold policy variables. */
    public boolean takesVariables() {
        return switch (family) {
            case TEXT, TEXT_IGNORING_CASE, PATTERN, ARN -> true;
            case NUMBER, DATE, TRUTH, BINARY, ADDRESS, PRESENCE -> false;
        };
    }
}
