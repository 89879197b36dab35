package warden.core.algebra;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.List;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.fixture.Seeded;

class RangeSetTest {
    private static RangeSet cidr(String text) {
        Addresses.Range range = Addresses.range(text).orElseThrow();
        return RangeSet.from(Scale.ADDRESS, range.first(), range.end());
    }

    private static BigDecimal number(int value) {
        return BigDecimal.valueOf(value);
    }

    /** Two bounds, whether the first belongs to its range, and a number to look for. */
    private record Bounds(int a, int b, boolean inclusive, int value) {
        static Bounds below(int most, Random random) {
            return new Bounds(
                    random.nextInt(most + 1), random.nextInt(most + 1), random.nextBoolean(), random.nextInt(most + 1));
        }

        Stream<Bounds> smaller() {
            return Stream.of(
                            new Bounds(a - 1, b, inclusive, value),
                            new Bounds(a, b - 1, inclusive, value),
                            new Bounds(a, b, inclusive, value - 1))
                    .filter(bounds -> bounds.a >= 0 && bounds.b >= 0 && bounds.value >= 0);
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2})
    void operationsAreThoseOfSets(long seed) {
        Seeded.holds(seed, 100, random -> Bounds.below(20, random), Bounds::smaller, RangeSetTest::operations);
    }

    private static void operations(Bounds bounds) {
        int a = bounds.a();
        int b = bounds.b();
        boolean inclusive = bounds.inclusive();
        int value = bounds.value();
        RangeSet below = RangeSet.below(Scale.NUMBER, number(a), inclusive);
        RangeSet above = RangeSet.above(Scale.NUMBER, number(b), !inclusive);
        boolean inBelow = inclusive ? value <= a : value < a;
        boolean inAbove = inclusive ? value > b : value >= b;
        BigDecimal at = number(value);
        assertThat(below.contains(at)).isEqualTo(inBelow);
        assertThat(above.contains(at)).isEqualTo(inAbove);
        assertThat(below.intersect(above).contains(at)).isEqualTo(inBelow && inAbove);
        assertThat(((RangeSet) below.union(above)).contains(at)).isEqualTo(inBelow || inAbove);
        assertThat(below.complement().contains(at)).isEqualTo(!inBelow);
        assertThat(((RangeSet) below.minus(above)).contains(at)).isEqualTo(inBelow && !inAbove);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2})
    void emptinessAgreesWithTheWitness(long seed) {
        Seeded.holds(
                seed,
                100,
                random -> Bounds.below(9, random),
                Bounds::smaller,
                bounds -> emptiness(bounds.a(), bounds.b()));
    }

    private static void emptiness(int a, int b) {
        RangeSet between = RangeSet.above(Scale.NUMBER, number(a), false)
                .intersect(RangeSet.below(Scale.NUMBER, number(b), false));
        assertThat(between.isEmpty()).isEqualTo(a >= b);
        assertThat(between.witness().isPresent()).isEqualTo(a < b);
        between.witness().ifPresent(text -> assertThat(between.contains(new BigDecimal(text)))
                .isTrue());
    }

    @Test
    void complementsKeepAbsenceAndForeignValues() {
        RangeSet office = cidr("203.0.113.0/24");
        assertThat(office.admitsAbsence()).isFalse();
        assertThat(office.complement().admitsAbsence()).isTrue();
        assertThat(office.union(office.complement()).isEverything()).isTrue();
        assertThat(office.minus(cidr("203.0.0.0/16")).isEmpty()).isTrue();
        assertThat(office.withAbsence(true).isEmpty()).isFalse();
    }

    @Test
    void allAddressesOfBothKindsAreEverythingThatIsAnAddress() {
        ValueSet both = cidr("0.0.0.0/0").union(cidr("::/0"));
        assertThat(both.complement().minus(RangeSet.none(Scale.ADDRESS)).witness())
                .contains("none");
        assertThat(cidr("0.0.0.0/0").complement().witness()).contains("0:0:0:0:0:0:0:0");
        assertThat(cidr("0.0.0.0/0").union(cidr("::/0")).isSubsetOf(cidr("0.0.0.0/0")))
                .isFalse();
    }

    @ParameterizedTest
    @CsvSource({
        "203.0.113.0/24, 203.0.113.0/24",
        "203.0.113.77/24, 203.0.113.0/24",
        "203.0.113.7, 203.0.113.7",
        "2001:db8::/32, 2001:db8:0:0:0:0:0:0/32",
        "::ffff:203.0.113.7, 203.0.113.7"
    })
    void spellsRanges(String text, String spelled) {
        if (text.startsWith("::ffff")) {
            assertThat(Addresses.address(text)).isEqualTo(Addresses.address(spelled));
        } else {
            assertThat(cidr(text).spelled()).isEqualTo(List.of(spelled));
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "1.2.3",
                "1.2.3.256",
                "1.2.3.4/33",
                "1.2.3.4/x",
                "1::2::3",
                "12345::",
                "a.b.c.d",
                "1:2:3:4:5:6:7",
                "::/129",
                "1.2.3.4/"
            })
    void refusesWhatIsNoAddress(String text) {
        assertThat(Addresses.range(text)).isEmpty();
    }
}
