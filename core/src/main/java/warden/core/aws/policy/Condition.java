package warden.core.aws.policy;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Truth;
import warden.core.algebra.Language;
import warden.core.algebra.Proposition;
import warden.core.algebra.RangeSet;
import warden.core.algebra.Scale;
import warden.core.algebra.TextSet;
import warden.core.algebra.ValueSet;
import warden.core.aws.policy.Operator.Family;
import warden.core.document.Pointer;

/**
 * One line of a condition block: an operator, a key, and values of which one must match (for a negated operator: none may).
 *
 * <p>Source: IAM User Guide, "IAM JSON policy elements: Condition", "Condition operators" and "Set operators for
 * multivalued context keys".
 */
public final class Condition {
    /** How a key with several values is looked at. */
    public enum Quantifier {
        /** No prefix. */
        NONE,
        /** {@code ForAllValues:}, which an absent or empty set passes. */
        ALL,
        /** {@code ForAnyValue:}, which an absent or empty set never passes, negated operators included. */
        ANY
    }

    /** Keys that carry several values in one request. Source: IAM User Guide, "AWS global condition context keys". */
    private static final Set<String> MULTIVALUED = Set.of(
            "aws:principalorgpaths",
            "aws:principalservicenameslist",
            "aws:resourceorgpaths",
            "aws:sourceorgpaths",
            "aws:calledvia",
            "aws:tagkeys",
            "s3:requestobjecttagkeys",
            "kms:encryptioncontextkeys",
            "kms:resourcealiases");

    private final Pointer at;
    private final Operator operator;
    private final Quantifier quantifier;
    private final boolean ifExists;
    private final String key;
    private final String lowerCaseKey;
    private final List<String> values;
    private final List<ValueTest> tests;

    Condition(
            Pointer at,
            Operator operator,
            Quantifier quantifier,
            boolean ifExists,
            String key,
            List<String> values,
            List<ValueTest> tests) {
        this.at = at;
        this.operator = operator;
        this.quantifier = quantifier;
        this.ifExists = ifExists;
        this.key = key;
        this.lowerCaseKey = key.toLowerCase(java.util.Locale.ROOT);
        this.values = List.copyOf(values);
        this.tests = List.copyOf(tests);
    }

    /** Returns where the values stand. */
    public Pointer at() {
        return at;
    }

    public Operator operator() {
        return operator;
    }

    public Quantifier quantifier() {
        return quantifier;
    }

    /** True when the operator has the suffix {@code IfExists}. */
    public boolean ifExists() {
        return ifExists;
    }

    /** Returns the key as the document spells it. */
    public String key() {
        return key;
    }

    /** Returns the key in lower case, in which keys are compared. */
    public String lowerCaseKey() {
        return lowerCaseKey;
    }

    /** Returns the values as the document spells them. */
    public List<String> values() {
        return values;
    }

    /** Returns whether the condition holds for a request with {@code context}. */
    public Truth holds(Context context) {
        ContextValue value = context.get(lowerCaseKey);
        if (value instanceof ContextValue.Known known && !known.values().isEmpty()) {
            return holdsFor(known.values(), context);
        }
        if (value instanceof ContextValue.OneOf oneOf) {
            Truth present = holdsForOneOf(oneOf.values(), context);
            return !oneOf.mayBeAbsent() || present == holdsWhenAbsent() ? present : Truth.UNKNOWN;
        }
        return holdsWhenAbsent();
    }

    private Truth holdsWhenAbsent() {
        if (operator.family() == Family.PRESENCE) {
            return wants("true");
        }
        if (ifExists) {
            return Truth.TRUE;
        }
        return switch (quantifier) {
            case ALL -> Truth.TRUE;
            case ANY -> Truth.FALSE;
            case NONE -> Truth.of(operator.isNegated());
        };
    }

    private Truth wants(String presence) {
        return Truth.of(values.stream().anyMatch(presence::equalsIgnoreCase));
    }

    private Truth holdsFor(List<String> carried, Context context) {
        if (operator.family() == Family.PRESENCE) {
            return wants("false");
        }
        boolean negated = operator.isNegated();
        // Without a prefix a negated operator looks for a match among all that is carried, and none may be there.
        Truth result =
                quantifier == Quantifier.ANY || (quantifier == Quantifier.NONE && !negated) ? Truth.FALSE : Truth.TRUE;
        for (String value : carried) {
            Truth matched = matchesOne(value, context);
            Truth passed = negated ? matched.not() : matched;
            result = quantifier == Quantifier.ANY || (quantifier == Quantifier.NONE && !negated)
                    ? result.or(passed)
                    : result.and(passed);
        }
        return result;
    }

    private Truth matchesOne(String value, Context context) {
        Truth matched = Truth.FALSE;
        for (ValueTest test : tests) {
            matched = matched.or(passes(test, value, context));
            if (matched == Truth.TRUE) {
                return matched;
            }
        }
        return matched;
    }

    /**
     * A variable without a value matches nothing. Whether a negated operator then holds is not said in the guide, and a pattern
     * that is no ARN is not described for the ARN operators: both are unknown.
     */
    private Truth passes(ValueTest test, String value, Context context) {
        if (test instanceof ValueTest.TextTest text) {
            ValueTemplate.Resolution resolution = text.template().resolve(context);
            if (operator.isNegated() && resolution instanceof ValueTemplate.Resolution.NoValue) {
                return Truth.UNKNOWN;
            }
            if (operator.family() == Family.ARN
                    && resolution instanceof ValueTemplate.Resolution.Pattern pattern
                    && !ValueTest.isArnShaped(pattern.glob())) {
                return Truth.UNKNOWN;
            }
        }
        return test.passes(value, context);
    }

    private Truth holdsForOneOf(Language possible, Context context) {
        if (operator.family() == Family.PRESENCE) {
            return wants("false");
        }
        Optional<ValueSet> passing = passing(context);
        if (passing.isEmpty() || !(passing.get() instanceof TextSet texts)) {
            return Truth.UNKNOWN;
        }
        Truth matched = possible.isSubsetOf(texts.texts())
                ? Truth.TRUE
                : possible.intersect(texts.texts()).isEmpty() ? Truth.FALSE : Truth.UNKNOWN;
        return operator.isNegated() ? matched.not() : matched;
    }

    /** Returns the present values that match one of this condition's values; absent when that is not settled. */
    private Optional<ValueSet> passing(Context context) {
        ValueSet union = nothing();
        for (ValueTest test : tests) {
            if (operator.family() == Family.ARN
                    && test instanceof ValueTest.TextTest text
                    && text.template()
                            .constant()
                            .filter(glob -> !ValueTest.isArnShaped(glob))
                            .isPresent()) {
                return Optional.empty();
            }
            Optional<ValueSet> passing = test.passing(context);
            if (passing.isEmpty()) {
                return Optional.empty();
            }
            union = union.union(passing.get());
        }
        return Optional.of(union);
    }

    private ValueSet nothing() {
        return switch (operator.family()) {
            case NUMBER -> RangeSet.none(Scale.NUMBER);
            case DATE -> RangeSet.none(Scale.TIME);
            case ADDRESS -> RangeSet.none(Scale.ADDRESS);
            default -> TextSet.present(Language.none());
        };
    }

    /**
     * One dimension of a request set, and the values in it for which a condition holds.
     *
     * @param dimension the key in lower case with the kind of values, or a spelling of the whole condition where it has no finer structure
     */
    public record Side(String dimension, ValueSet values) {}

    /**
     * Returns the requests for which this condition holds, as values of one dimension. Exact for keys with one value; for
     * keys with several values, and where a variable is open, the condition is a proposition of its own.
     */
    public Side side(Context context) {
        Optional<ValueSet> passing = MULTIVALUED.contains(lowerCaseKey) ? Optional.empty() : passing(context);
        if (operator.family() == Family.PRESENCE) {
            boolean absent = wants("true") == Truth.TRUE;
            boolean present = wants("false") == Truth.TRUE;
            return new Side(lowerCaseKey + "|text", new TextSet(present ? Language.all() : Language.none(), absent));
        }
        if (passing.isEmpty()) {
            return new Side(spelled(), new Proposition(true, false));
        }
        boolean absentHolds = holdsWhenAbsent() == Truth.TRUE;
        ValueSet holding = operator.isNegated() ? passing.get().complement() : passing.get();
        if (holding instanceof RangeSet range) {
            return new Side(lowerCaseKey + "|" + operator.family(), range.withAbsence(absentHolds));
        }
        return new Side(lowerCaseKey + "|text", new TextSet(((TextSet) holding).texts(), absentHolds));
    }

    /** True when no variable stands in any value, so that the condition is about the same values in every request. */
    public boolean isConstant() {
        return tests.stream()
                .allMatch(test -> !(test instanceof ValueTest.TextTest text)
                        || text.template().variables().isEmpty());
    }

    /** Returns a text that is the same for conditions that mean the same. */
    String meaning() {
        return quantifier + " " + operator + " " + ifExists + " " + lowerCaseKey + " "
                + values.stream().distinct().sorted().toList();
    }

    /** Spells the condition as one line: {@code ForAnyValue:StringLike aws:TagKeys [team, site]}. */
    public String spelled() {
        String prefix =
                switch (quantifier) {
                    case NONE -> "";
                    case ALL -> "ForAllValues:";
                    case ANY -> "ForAnyValue:";
                };
        return prefix + operator.word() + (ifExists ? "IfExists" : "") + " " + key + " " + values;
    }
}
