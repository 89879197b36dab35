package warden.core.algebra;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class LanguageLawsTest {
    private static final List<String> TEXTS = GlobTest.shortTexts("ab/", 5);

    @Provide
    Arbitrary<String> patterns() {
        return Arbitraries.strings().withChars("ab/*?").ofMaxLength(7);
    }

    private static Language of(String pattern) {
        return Language.matching(Glob.parse(pattern));
    }

    @Property(tries = 300)
    void unionIntersectionAndDifferenceAreThoseOfSets(
            @ForAll("patterns") String first, @ForAll("patterns") String second) {
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

    @Property(tries = 300)
    void deMorganAndDistributivityHold(
            @ForAll("patterns") String first, @ForAll("patterns") String second, @ForAll("patterns") String third) {
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

    @Property(tries = 300)
    void witnessesAreShortestMembers(@ForAll("patterns") String first, @ForAll("patterns") String second) {
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

    @Property(tries = 300)
    void theQuotientHoldsTheRests(@ForAll("patterns") String pattern, @ForAll("patterns") String prefix) {
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
