package warden.core.algebra;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Random;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.fixture.Seeded;

class LanguageLawsTest {
    private static final List<String> TEXTS = GlobTest.shortTexts("ab/", 5);

    private static void holds(long seed, int patterns, Consumer<List<String>> law) {
        Seeded.holds(
                seed,
                75,
                random -> Seeded.list(random, patterns, patterns, () -> pattern(random)),
                made -> Seeded.smallerItems(made, Seeded::shorter),
                law);
    }

    private static String pattern(Random random) {
        return String.join("", Seeded.list(random, 0, 7, () -> Seeded.of(random, "a", "b", "/", "*", "?")));
    }

    private static Language of(String pattern) {
        return Language.matching(Glob.parse(pattern));
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void unionIntersectionAndDifferenceAreThoseOfSets(long seed) {
        holds(seed, 2, made -> areThoseOfSets(made.get(0), made.get(1)));
    }

    private static void areThoseOfSets(String first, String second) {
        Language a = of(first);
        Language b = of(second);
        for (String text : TEXTS) {
            boolean inA = Glob.parse(first).matches(text);
            boolean inB = Glob.parse(second).matches(text);
            assertThat(a.union(b).contains(text)).isEqualTo(inA || inB);
            assertThat(a.intersect(b).contains(text)).isEqualTo(inA && inB);
            assertThat(a.minus(b).contains(text)).isEqualTo(inA && !inB);
            assertThat(a.complement().contains(text)).isEqualTo(!inA);
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void deMorganAndDistributivityHold(long seed) {
        holds(seed, 3, made -> lawsHold(made.get(0), made.get(1), made.get(2)));
    }

    private static void lawsHold(String first, String second, String third) {
        Language a = of(first);
        Language b = of(second);
        Language c = of(third);
        assertThat(a.union(b).complement().isSameAs(a.complement().intersect(b.complement())))
                .isTrue();
        assertThat(a.intersect(b.union(c)).isSameAs(a.intersect(b).union(a.intersect(c))))
                .isTrue();
        assertThat(a.complement().complement().isSameAs(a)).isTrue();
        assertThat(a.minus(b).isSameAs(a.intersect(b.complement()))).isTrue();
        assertThat(a.union(a.complement()).isEverything()).isTrue();
        assertThat(a.intersect(a.complement()).isEmpty()).isTrue();
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void witnessesAreShortestMembers(long seed) {
        holds(seed, 2, made -> witnessIsShortest(made.get(0), made.get(1)));
    }

    private static void witnessIsShortest(String first, String second) {
        Language difference = of(first).minus(of(second));
        if (difference.isEmpty()) {
            assertThat(difference.witness()).isEmpty();
            assertThat(TEXTS)
                    .noneMatch(text -> Glob.parse(first).matches(text)
                            && !Glob.parse(second).matches(text));
        } else {
            String witness = difference.witness().orElseThrow();
            assertThat(Glob.parse(first).matches(witness)).isTrue();
            assertThat(Glob.parse(second).matches(witness)).isFalse();
            assertThat(TEXTS).noneMatch(text -> text.length() < witness.length() && difference.contains(text));
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void theQuotientHoldsTheRests(long seed) {
        holds(seed, 2, made -> quotientHolds(made.get(0), made.get(1)));
    }

    private static void quotientHolds(String pattern, String prefix) {
        Language rests = of(pattern).afterPrefix(prefix);
        for (String text : TEXTS) {
            assertThat(rests.contains(text)).isEqualTo(Glob.parse(pattern).matches(prefix + text));
        }
    }

    @Test
    void caseIsFoldedWhereAsked() {
        Language language = Language.matchingIgnoringCase(Glob.parse("TrUe"));
        assertThat(List.of("true", "TRUE", "tRuE")).allMatch(language::contains);
        assertThat(language.contains("tru")).isFalse();
    }

    @Test
    void witnessesReadWell() {
        assertThat(of("public/?").witness()).contains("public/a");
        assertThat(of("*").minus(of("")).witness()).contains("a");
    }

    @Test
    void refusesWhatGrowsTooLarge() {
        assertThatThrownBy(() -> of("*a" + "?".repeat(40))).isInstanceOf(TooComplexException.class);
    }
}
