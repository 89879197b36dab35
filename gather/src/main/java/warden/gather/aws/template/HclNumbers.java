package warden.gather.aws.template;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.core.document.Placeholders;

/**
 * Numbers and comparisons of the tool's language: numbers have no bounds, division leaves fractions, and what is of two kinds is never equal. Source:
 * the language's documentation, "Arithmetic and logical operators", "Equality operators".
 */
final class HclNumbers {
    private static final int LARGEST_SCALE = 400;

    private HclNumbers() {}

    /** Returns a whole number that fits as a long, any other as it is. */
    static Object normal(BigDecimal number) {
        if (number.signum() == 0) {
            return 0L;
        }
        // A hostile exponent would be written out digit by digit.
        if (Math.abs((long) number.scale()) > LARGEST_SCALE) {
            return Unknown.of("a number that is too large");
        }
        BigDecimal plain = number.stripTrailingZeros();
        boolean isWhole = plain.scale() <= 0 && plain.precision() - plain.scale() < 19;
        return isWhole ? (Object) plain.longValueExact() : new BigDecimal(plain.toPlainString());
    }

    /** Returns the number that a value is, texts of digits among them as the language converts them; absent for what is none. */
    static Optional<BigDecimal> number(@Nullable Object value) {
        try {
            return value instanceof Number || value instanceof String
                    ? Optional.of(new BigDecimal(value.toString()))
                    : Optional.empty();
        } catch (NumberFormatException none) {
            return Optional.empty();
        }
    }

    static @Nullable Object calculated(String operator, @Nullable Object left, @Nullable Object right) {
        Optional<BigDecimal> one = number(left);
        Optional<BigDecimal> other = number(right);
        if (one.isEmpty() || other.isEmpty()) {
            return Unknown.error("a calculation with what is no number");
        }
        BigDecimal a = one.get();
        BigDecimal b = other.get();
        if (Math.abs((long) a.scale()) > LARGEST_SCALE || Math.abs((long) b.scale()) > LARGEST_SCALE) {
            return Unknown.of("a number that is too large");
        }
        boolean divides = operator.equals("/") || operator.equals("%");
        if (divides && b.signum() == 0) {
            return Unknown.error("a division by nothing");
        }
        return switch (operator) {
            case "+" -> normal(a.add(b));
            case "-" -> normal(a.subtract(b));
            case "*" -> normal(a.multiply(b, MathContext.UNLIMITED));
            case "/" -> normal(a.divide(b, MathContext.DECIMAL128));
            case "%" -> normal(a.remainder(b));
            case "<" -> a.compareTo(b) < 0;
            case ">" -> a.compareTo(b) > 0;
            case "<=" -> a.compareTo(b) <= 0;
            default -> a.compareTo(b) >= 0;
        };
    }

    /** True for what is not told, whole or in part. */
    static boolean isOpen(@Nullable Object value) {
        return value instanceof Unknown
                || value instanceof Partly
                || value instanceof String text && Placeholders.isIn(text);
    }

    /** True for what is not told, or holds something that is not. */
    static boolean holdsOpen(@Nullable Object value) {
        if (value instanceof List<?> list) {
            return list.stream().anyMatch(HclNumbers::holdsOpen);
        }
        if (value instanceof Map<?, ?> map) {
            return map.values().stream().anyMatch(HclNumbers::holdsOpen);
        }
        return isOpen(value) || value instanceof HclFunctions.Encoded encoded && holdsOpen(encoded.value());
    }

    /** Returns whether two values are the same; absent where a part of them that is not told decides. */
    static Optional<Boolean> areEqual(@Nullable Object left, @Nullable Object right) {
        if (isOpen(left) || isOpen(right)) {
            return Optional.empty();
        }
        if (left == null || right == null) {
            return Optional.of(left == right);
        }
        if (left instanceof Number && right instanceof Number) {
            return Optional.of(new BigDecimal(left.toString()).compareTo(new BigDecimal(right.toString())) == 0);
        }
        boolean isPlain = left instanceof String || left instanceof Boolean || left instanceof Number;
        if (isPlain) {
            return Optional.of(left.equals(right));
        }
        if (holdsOpen(left) || holdsOpen(right)) {
            return Optional.empty();
        }
        if (left instanceof List<?> || left instanceof Map<?, ?>) {
            return Optional.of(left.equals(right));
        }
        return Optional.empty();
    }

    static Object truth(Optional<Boolean> told) {
        return told.map(Object.class::cast).orElseGet(() -> Unknown.of("a condition that is not told"));
    }
}
