package warden.core.algebra;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Source: RFC 4632 for IPv4 ranges, RFC 4291 section 2.2 for IPv6 text. */
class AddressesTest {
    @ParameterizedTest
    @CsvSource({
        "192.0.2.1, 192.0.2.0/24, true",
        "192.0.3.1, 192.0.2.0/24, false",
        "192.0.2.255, 192.0.2.0/24, true",
        "192.0.2.7, 192.0.2.99/24, true",
        "10.1.2.3, 10.1.2.3, true",
        "10.1.2.4, 10.1.2.3/32, false",
        "255.255.255.255, 0.0.0.0/0, true",
        "2001:db8::1, 2001:db8::/32, true",
        "2001:db9::1, 2001:db8::/32, false",
        "::1, ::1/128, true",
        "fe80::1, ::/0, true",
        "192.0.2.1, ::/0, false",
        "::1, 0.0.0.0/0, false",
        "2001:DB8:0:0:0:0:0:1, 2001:db8::1/128, true"
    })
    void liesInARangeOfItsOwnKind(String address, String range, boolean inside) {
        assertThat(Addresses.range(range)
                        .orElseThrow()
                        .contains(Addresses.address(address).orElseThrow()))
                .isEqualTo(inside);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "1.2.3",
                "1.2.3.4.5",
                "256.0.0.1",
                "1.2.3.4 ",
                "01234.1.1.1",
                "a.b.c.d",
                "1::2::3",
                ":::",
                "12345::",
                "1:2:3:4:5:6:7",
                "1:2:3:4:5:6:7:8:9",
                "g::1",
                "*"
            })
    void refusesOtherText(String text) {
        assertThat(Addresses.address(text)).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(strings = {"1.2.3.4/33", "1.2.3.4/-1", "1.2.3.4/", "/8", "::1/129", "1.2.3.4/8/8", "1.2.3.4/x"})
    void refusesOtherRanges(String text) {
        assertThat(Addresses.range(text)).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "192.0.2.0/24, 192.0.2.0/24",
        "192.0.2.77/24, 192.0.2.0/24",
        "0.0.0.0/0, 0.0.0.0/0",
        "10.0.0.0/8, 10.0.0.0/8"
    })
    void spellsARangeAsOne(String range, String spelled) {
        Addresses.Range parsed = Addresses.range(range).orElseThrow();
        assertThat(Addresses.spellRange(parsed.first(), parsed.end())).isEqualTo(spelled);
    }

    @Test
    void keepsTheTwoKindsApart() {
        BigDecimal last = Addresses.address("255.255.255.255").orElseThrow();
        BigDecimal first = Addresses.address("::").orElseThrow();
        assertThat(last).isLessThan(first);
        assertThat(Addresses.isAddress(last)).isTrue();
        assertThat(Addresses.isAddress(first)).isTrue();
        assertThat(Addresses.isAddress(last.add(BigDecimal.ONE))).isFalse();
        assertThat(Addresses.isAddress(BigDecimal.ONE.negate())).isFalse();
        assertThat(Addresses.isAddress(new BigDecimal("0.5"))).isFalse();
    }
}
