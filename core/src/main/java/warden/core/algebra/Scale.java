package warden.core.algebra;

import java.math.BigDecimal;
import java.time.Instant;

/** The kinds of ordered values that conditions compare, each mapped onto numbers. */
public enum Scale {
    /** Any decimal number. */
    NUMBER,
    /** Points in time, in seconds since 1970-01-01T00:00:00Z. */
    TIME,
    /** IPv4 addresses from 0 to 2^32, IPv6 addresses from 2^130 upwards; nothing between. */
    ADDRESS;

    /** Spells a value of this scale as a request would carry it. */
    String spell(BigDecimal value) {
        return switch (this) {
            case NUMBER -> value.stripTrailingZeros().toPlainString();
            case TIME -> Instant.ofEpochSecond(value.longValue()).toString();
            case ADDRESS -> Addresses.spell(value);
        };
    }
}
