package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class DisplayTextTest {
    @ParameterizedTest
    @ValueSource(strings = {"", "plain", "Skerry ø 島", "🚢 ferry", "tabs are no good, spaces are"})
    void leavesOrdinaryTextAlone(String text) {
        assertThat(DisplayText.clean(text)).isSameAs(text);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "\u001b[31mred",
                "a\nb",
                "a\rb",
                "a\tb",
                "bell\u0007",
                "\u009b31m",
                "turned \u202e text",
                "\u2066isolate",
                "zero\u200bwidth",
                "\ufeffmark",
                "half \ud83d",
                "\udea2 half",
                "line\u2028end",
                "\u061c",
                "no character \ufffe",
                "\ufff9note",
                "##vso[task.setvariable variable=x]y",
                "a ##[error]b"
            })
    void takesOutWhatCouldDisturb(String text) {
        String clean = DisplayText.clean(text);
        assertThat(clean).contains("\ufffd").hasSameSizeAs(text);
        assertThat(DisplayText.clean(clean)).isEqualTo(clean);
        assertThat(clean.chars()).noneMatch(c -> c < 0x20 || c == 0x1b || c == 0x202e);
    }

    @Test
    void shortensNamesBetweenCharacters() {
        assertThat(DisplayText.name("x".repeat(120))).hasSize(120).doesNotContain("…");
        assertThat(DisplayText.name("x".repeat(121))).hasSize(120).endsWith("…");
        String ships = DisplayText.name("🚢".repeat(500));
        assertThat(ships.codePointCount(0, ships.length())).isEqualTo(120);
        assertThat(ships).doesNotContain("\ufffd");
    }

    @Test
    void shortensLongWordsOfASentenceInTheirMiddle() {
        String sentence = "Anyone can read " + "x".repeat(200) + " and 🚢.";
        assertThat(DisplayText.brief(sentence)).isEqualTo(sentence);
        String brief = DisplayText.brief("Anyone can read a" + "x".repeat(10_000) + "z of it\n");
        assertThat(brief)
                .hasSize(16 + 200 + 7)
                .startsWith("Anyone can read axx")
                .contains("x…x")
                .endsWith("xz of it\ufffd");
        assertThat(DisplayText.brief("🚢 ".repeat(5_000))).endsWith("…").satisfies(text -> assertThat(
                        text.codePointCount(0, text.length()))
                .isEqualTo(4_000));
    }

    @ParameterizedTest
    @CsvSource({
        "hots, hosts",
        "HOSTS, hosts",
        "bucket-polcy, bucket-policy",
        "open-around-cd, open-around-cdn",
        "zzz, ",
        "'', ",
        "hst, hosts"
    })
    void findsTheNearestWord(String word, String nearest) {
        List<String> known = List.of("hosts", "bucket-policy", "open-around-cdn", "origin");
        if (word.equals("hst")) {
            // Two letters are too many for a word of three.
            assertThat(Words.nearest(word, known)).isEmpty();
        } else {
            assertThat(Words.nearest(word, known).orElse(null)).isEqualTo(nearest);
        }
        assertThat(Words.nearest("x".repeat(10_000), known)).isEmpty();
    }
}
