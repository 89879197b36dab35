package warden.core.algebra;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * IP addresses and their ranges in CIDR notation (RFC 4632, RFC 4291), as numbers: an IPv4 address is its 32-bit value, an
 * IPv6 address its 128-bit value plus 2^130. Names are never looked up.
 */
public final class Addresses {
    static final BigDecimal IPV6_FIRST = new BigDecimal(BigInteger.ONE.shiftLeft(130));

    /**
     * A range of addresses.
     *
     * @param first the lowest address, as a number
     * @param length the length of the prefix in bits
     * @param bits 32 for IPv4, 128 for IPv6
     */
    public record Range(BigDecimal first, int length, int bits) {
        /** Returns the number after the highest address. */
        public BigDecimal end() {
            return first.add(new BigDecimal(BigInteger.ONE.shiftLeft(bits - length)));
        }

        /** True when {@code address} lies in this range. */
        public boolean contains(BigDecimal address) {
            return first.compareTo(address) <= 0 && address.compareTo(end()) < 0;
        }
    }

    private Addresses() {}

    /** Parses one address; absent when the text is none. */
    public static Optional<BigDecimal> address(String text) {
        return text.indexOf(':') >= 0 ? ipv6(text) : ipv4(text);
    }

    /** Parses an address or a range such as {@code 192.0.2.0/24}; host bits are cleared. Absent when the text is none. */
    public static Optional<Range> range(String text) {
        int slash = text.indexOf('/');
        String host = slash < 0 ? text : text.substring(0, slash);
        int bits = host.indexOf(':') >= 0 ? 128 : 32;
        int length = bits;
        if (slash >= 0) {
            String digits = text.substring(slash + 1);
            if (!digits.matches("[0-9]{1,3}")) {
                return Optional.empty();
            }
            length = Integer.parseInt(digits);
            if (length > bits) {
                return Optional.empty();
            }
        }
        int prefix = length;
        return address(host).map(value -> {
            BigDecimal base = bits == 128 ? IPV6_FIRST : BigDecimal.ZERO;
            BigInteger host128 = value.subtract(base).toBigInteger();
            BigInteger network = host128.shiftRight(bits - prefix).shiftLeft(bits - prefix);
            return new Range(new BigDecimal(network).add(base), prefix, bits);
        });
    }

    private static Optional<BigDecimal> ipv4(String text) {
        String[] parts = text.split("\\.", -1);
        if (parts.length != 4) {
            return Optional.empty();
        }
        long value = 0;
        for (String part : parts) {
            if (part.isEmpty() || part.length() > 3 || !part.chars().allMatch(c -> c >= '0' && c <= '9')) {
                return Optional.empty();
            }
            int octet = Integer.parseInt(part);
            if (octet > 255) {
                return Optional.empty();
            }
            value = value << 8 | octet;
        }
        return Optional.of(BigDecimal.valueOf(value));
    }

    private static Optional<BigDecimal> ipv6(String text) {
        int gap = text.indexOf("::");
        if (gap >= 0 && text.indexOf("::", gap + 1) >= 0) {
            return Optional.empty();
        }
        Optional<List<Integer>> head = groups(gap < 0 ? text : text.substring(0, gap), gap < 0);
        Optional<List<Integer>> tail = gap < 0 ? Optional.of(List.of()) : groups(text.substring(gap + 2), true);
        if (head.isEmpty() || tail.isEmpty()) {
            return Optional.empty();
        }
        int count = head.get().size() + tail.get().size();
        if (gap < 0 ? count != 8 : count > 7) {
            return Optional.empty();
        }
        List<Integer> all = new ArrayList<>(head.get());
        for (int i = count; i < 8; i++) {
            all.add(0);
        }
        all.addAll(tail.get());
        BigInteger value = BigInteger.ZERO;
        for (int group : all) {
            value = value.shiftLeft(16).or(BigInteger.valueOf(group));
        }
        // An IPv4 address written the IPv6 way (::ffff:192.0.2.1) is that IPv4 address.
        if (value.shiftRight(32).equals(BigInteger.valueOf(0xFFFF))) {
            return Optional.of(new BigDecimal(value.and(BigInteger.valueOf(0xFFFFFFFFL))));
        }
        return Optional.of(new BigDecimal(value).add(IPV6_FIRST));
    }

    private static Optional<List<Integer>> groups(String text, boolean mayEndInIpv4) {
        List<Integer> groups = new ArrayList<>();
        if (text.isEmpty()) {
            return Optional.of(groups);
        }
        String[] parts = text.split(":", -1);
        for (int i = 0; i < parts.length; i++) {
            if (mayEndInIpv4 && i == parts.length - 1 && parts[i].indexOf('.') >= 0) {
                Optional<BigDecimal> last = ipv4(parts[i]);
                if (last.isEmpty()) {
                    return Optional.empty();
                }
                groups.add((int) (last.get().longValue() >> 16));
                groups.add((int) (last.get().longValue() & 0xFFFF));
            } else if (parts[i].matches("[0-9A-Fa-f]{1,4}")) {
                groups.add(Integer.parseInt(parts[i], 16));
            } else {
                return Optional.empty();
            }
        }
        return Optional.of(groups);
    }

    /** Spells an address; the inverse of {@link #address}. */
    static String spell(BigDecimal value) {
        if (value.compareTo(IPV6_FIRST) < 0) {
            long v4 = value.longValue();
            return (v4 >> 24 & 255) + "." + (v4 >> 16 & 255) + "." + (v4 >> 8 & 255) + "." + (v4 & 255);
        }
        BigInteger v6 = value.subtract(IPV6_FIRST).toBigInteger();
        StringBuilder out = new StringBuilder();
        for (int i = 7; i >= 0; i--) {
            out.append(Integer.toHexString(
                    v6.shiftRight(16 * i).and(BigInteger.valueOf(0xFFFF)).intValue()));
            out.append(i == 0 ? "" : ":");
        }
        return out.toString();
    }

    /** True when the number is an address of either kind. */
    static boolean isAddress(BigDecimal value) {
        BigDecimal sinceIpv6 = value.subtract(IPV6_FIRST);
        boolean whole = value.stripTrailingZeros().scale() <= 0;
        boolean ipv4 = value.signum() >= 0 && value.compareTo(new BigDecimal(1L << 32)) < 0;
        return whole
                && (ipv4
                        || (sinceIpv6.signum() >= 0
                                && sinceIpv6.compareTo(new BigDecimal(BigInteger.ONE.shiftLeft(128))) < 0));
    }

    /** Spells the addresses from {@code first} to before {@code end}: as a CIDR range where they are one. */
    static String spellRange(BigDecimal first, BigDecimal end) {
        BigInteger size = end.subtract(first).toBigInteger();
        int bits = first.compareTo(IPV6_FIRST) < 0 ? 32 : 128;
        boolean isRange = size.signum() > 0
                && size.bitCount() == 1
                && size.bitLength() - 1 <= bits
                && first.toBigInteger().mod(size).signum() == 0;
        if (isRange) {
            int length = bits - (size.bitLength() - 1);
            return spell(first) + (length == bits ? "" : "/" + length);
        }
        boolean acrossKinds = bits == 32 && end.compareTo(new BigDecimal(1L << 32)) > 0;
        return acrossKinds
                ? spell(first) + " and above, and all of IPv6"
                : spell(first) + " to " + spell(end.subtract(BigDecimal.ONE));
    }
}
