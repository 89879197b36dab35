package warden.core.aws.policy;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.Year;
import java.time.YearMonth;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.regex.Pattern;
import warden.core.access.Truth;
import warden.core.algebra.Addresses;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.RangeSet;
import warden.core.algebra.Scale;
import warden.core.algebra.TextSet;
import warden.core.algebra.ValueSet;
import warden.core.aws.policy.Operator.Family;
import warden.core.aws.policy.ValueTemplate.Resolution;
import warden.core.aws.policy.ValueTemplate.Wildcards;

/** One value of a condition, made ready to be compared with what a request carries. */
sealed interface ValueTest {
    /** Returns whether {@code value} passes, for a request with {@code context}. */
    Truth passes(String value, Context context);

    /** Returns the present values that pass; absent when that hangs on a variable that {@code context} does not settle. */
    Optional<ValueSet> passing(Context context);

    /** Compares texts, by equality or by pattern. */
    record TextTest(ValueTemplate template, Family family) implements ValueTest {
        @Override
        public Truth passes(String value, Context context) {
            Resolution resolution = template.resolve(context);
            if (resolution instanceof Resolution.Pattern pattern) {
                return Truth.of(
                        family == Family.TEXT_IGNORING_CASE
                                ? pattern.glob().matchesIgnoringCase(value)
                                : pattern.glob().matches(value));
            }
            return resolution instanceof Resolution.NoValue ? Truth.FALSE : Truth.UNKNOWN;
        }

        @Override
        public Optional<ValueSet> passing(Context context) {
            if (!template.variables().stream().allMatch(context::settles)) {
                return Optional.empty();
            }
            Resolution resolution = template.resolve(context);
            if (resolution instanceof Resolution.Pattern pattern) {
                return Optional.of(TextSet.present(
                        family == Family.TEXT_IGNORING_CASE
                                ? Language.matchingIgnoringCase(pattern.glob())
                                : Language.matching(pattern.glob())));
            }
            return resolution instanceof Resolution.NoValue
                    ? Optional.of(TextSet.present(Language.none()))
                    : Optional.empty();
        }
    }

    /** Compares values on a scale: the request's value passes when it lies in the set. */
    record RangeTest(Scale scale, RangeSet values) implements ValueTest {
        @Override
        public Truth passes(String value, Context context) {
            return Truth.of(parse(scale, value).map(values::contains).orElse(false));
        }

        @Override
        public Optional<ValueSet> passing(Context context) {
            return Optional.of(values);
        }
    }

    /** A numeric text that cannot make the arithmetic large. */
    Pattern NUMBER = Pattern.compile("[+-]?[0-9]{1,40}(\\.[0-9]{1,40})?([eE][+-]?[0-9]{1,2})?");

    /**
     * Makes the test for one value.
     *
     * @return absent when the value is none that the operator can compare, which the provider refuses
     */
    static Optional<ValueTest> of(Operator operator, String value, boolean variables) {
        boolean templated = variables && operator.takesVariables();
        return switch (operator.family()) {
            case TEXT, TEXT_IGNORING_CASE -> text(operator, value, Wildcards.NONE, templated);
            case PATTERN -> text(operator, value, Wildcards.ANYWHERE, templated);
            case ARN -> text(operator, value, Wildcards.AS_IN_ARNS, templated);
            case BINARY -> text(operator, value, Wildcards.NONE, false);
            case TRUTH, PRESENCE ->
                value.equalsIgnoreCase("true") || value.equalsIgnoreCase("false")
                        ? Optional.of(new TextTest(
                                ValueTemplate.parse(value, Wildcards.NONE, false)
                                        .orElseThrow(),
                                Family.TEXT_IGNORING_CASE))
                        : Optional.empty();
            case NUMBER -> parse(Scale.NUMBER, value).map(number -> range(operator, Scale.NUMBER, number));
            case DATE -> parse(Scale.TIME, value).map(time -> range(operator, Scale.TIME, time));
            case ADDRESS ->
                Addresses.range(value)
                        .map(range ->
                                new RangeTest(Scale.ADDRESS, RangeSet.from(Scale.ADDRESS, range.first(), range.end())));
        };
    }

    private static Optional<ValueTest> text(Operator operator, String value, Wildcards wildcards, boolean variables) {
        return ValueTemplate.parse(value, wildcards, variables)
                .map(template -> new TextTest(template, operator.family()));
    }

    private static RangeTest range(Operator operator, Scale scale, BigDecimal limit) {
        RangeSet values =
                switch (operator) {
                    case NUMERIC_LESS_THAN, DATE_LESS_THAN -> RangeSet.below(scale, limit, false);
                    case NUMERIC_LESS_THAN_EQUALS, DATE_LESS_THAN_EQUALS -> RangeSet.below(scale, limit, true);
                    case NUMERIC_GREATER_THAN, DATE_GREATER_THAN -> RangeSet.above(scale, limit, false);
                    case NUMERIC_GREATER_THAN_EQUALS, DATE_GREATER_THAN_EQUALS -> RangeSet.above(scale, limit, true);
                    default -> RangeSet.of(scale, limit);
                };
        return new RangeTest(scale, values);
    }

    /** Reads a value on a scale; absent when the text is none. */
    static Optional<BigDecimal> parse(Scale scale, String text) {
        return switch (scale) {
            case NUMBER -> NUMBER.matcher(text).matches() ? Optional.of(new BigDecimal(text)) : Optional.empty();
            case ADDRESS -> Addresses.address(text);
            case TIME -> time(text);
        };
    }

    /** Reads a time: seconds since 1970, or one of the ISO 8601 forms of the W3C profile. */
    private static Optional<BigDecimal> time(String text) {
        if (NUMBER.matcher(text).matches() && text.length() > 4) {
            return Optional.of(new BigDecimal(text));
        }
        return firstOf(
                () -> seconds(OffsetDateTime.parse(text)),
                () -> seconds(LocalDateTime.parse(text).atOffset(ZoneOffset.UTC)),
                () -> seconds(LocalDate.parse(text).atStartOfDay().atOffset(ZoneOffset.UTC)),
                () -> seconds(YearMonth.parse(text).atDay(1).atStartOfDay().atOffset(ZoneOffset.UTC)),
                () -> seconds(Year.parse(text).atDay(1).atStartOfDay().atOffset(ZoneOffset.UTC)));
    }

    private static BigDecimal seconds(OffsetDateTime time) {
        return BigDecimal.valueOf(time.toEpochSecond()).add(BigDecimal.valueOf(time.getNano(), 9));
    }

    @SafeVarargs
    private static Optional<BigDecimal> firstOf(Supplier<BigDecimal>... forms) {
        for (Supplier<BigDecimal> form : forms) {
            try {
                return Optional.of(form.get());
            } catch (DateTimeException notThisForm) {
                // The next form may fit.
            }
        }
        return Optional.empty();
    }

    /** True when the pattern could be an ARN: six parts or more. */
    static boolean isArnShaped(Glob glob) {
        return glob.toString().chars().filter(c -> c == ':').count() >= 5;
    }
}
