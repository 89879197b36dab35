package warden.core.algebra;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class GlobTest {
    @ParameterizedTest
    @CsvSource({
        "*, '', true",
        "*, abc, true",
        "?, '', false",
        "?, a, true",
        "?, ab, false",
        "a*c, abbc, true",
        "a*c, ac, true",
        "a*c, ab, false",
        "*a*b*, xaybz, true",
        "*a*b*, xbya, false",
        "**, x, true",
        "a?*, a, false",
        "abc, abc, true",
        "abc, ABC, false",
        "*.html, index.html, true",
        "a*a*a, aaaa, true",
        "a*a*a, aa, false"
    })
    void matchesStarsAndQuestionMarks(String pattern, String text, boolean expected) {
        assertThat(Glob.parse(pattern).matches(text)).isEqualTo(expected);
        assertThat(Language.matching(Glob.parse(pattern)).contains(text)).isEqualTo(expected);
    }

    @Test
    void countsACodePointForAQuestionMark() {
        assertThat(Glob.parse("?").matches("\u26F4")).isTrue();
        assertThat(Glob.parse("?").matches("\uD83D\uDEA2")).isTrue();
        assertThat(Glob.parse("??").matches("\uD83D\uDEA2")).isFalse();
        assertThat(Language.matching(Glob.parse("?")).contains("\uD83D\uDEA2")).isTrue();
    }

    @Test
    void keepsPartWildcardsWithinTheirPart() {
        Glob account = Glob.literal("arn:").then(Glob.of(Glob.MANY_IN_PART)).then(Glob.literal(":x"));
        assertThat(account.matches("arn:aws:x")).isTrue();
        assertThat(account.matches("arn:aws:more:x")).isFalse();
        assertThat(account.then(Glob.parse("*")).matches("arn:aws:xyz:q")).isTrue();
        assertThat(account.then(Glob.parse("*z")).matches("arn:aws:x:y:z")).isTrue();
    }

    @Test
    void agreesWithItsLanguageOnEveryShortText() {
        int[] letters = {'a', ':', Glob.ONE, Glob.MANY, Glob.ONE_IN_PART, Glob.MANY_IN_PART};
        List<String> texts = shortTexts("ab:", 4);
        for (int[] tokens : words(letters, 4)) {
            Glob glob = Glob.of(tokens);
            Language language = Language.matching(glob);
            for (String text : texts) {
                assertThat(language.contains(text)).as("%s on %s", glob, text).isEqualTo(glob.matches(text));
            }
        }
    }

    @Test
    void isQuickOnHostilePatterns() {
        String hostile = "*a".repeat(2_000) + "*b";
        assertThat(Glob.parse(hostile).matches("a".repeat(10_000))).isFalse();
    }

    static List<String> shortTexts(String alphabet, int longest) {
        List<String> texts = new ArrayList<>(List.of(""));
        for (int from = 0, length = 0; length < longest; length++) {
            int to = texts.size();
            for (int i = from; i < to; i++) {
                for (char letter : alphabet.toCharArray()) {
                    texts.add(texts.get(i) + letter);
                }
            }
            from = to;
        }
        return texts;
    }

    private static List<int[]> words(int[] letters, int longest) {
        List<int[]> words = new ArrayList<>(List.of(new int[0]));
        for (int from = 0, length = 0; length < longest; length++) {
            int to = words.size();
            for (int i = from; i < to; i++) {
                for (int letter : letters) {
                    int[] longer = java.util.Arrays.copyOf(words.get(i), words.get(i).length + 1);
                    longer[longer.length - 1] = letter;
                    words.add(longer);
                }
            }
            from = to;
        }
        return words;
    }
}
