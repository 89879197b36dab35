package warden.core.secret;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import org.junit.jupiter.api.Test;
import warden.core.secret.Anchors.Places;

class AnchorsTest {
    private static List<Integer> all(Places places) {
        List<Integer> all = new ArrayList<>();
        for (int i = 0; places != null && i < places.count(); i++) {
            all.add(places.get(i));
        }
        return all;
    }

    @Test
    void tellsForEachGroupWhereItsTextsStand() {
        Anchors anchors = new Anchors();
        int keys = anchors.add(List.of("AKIA", "-u"));
        int names = anchors.addOfAnyCase(List.of("token", "api-key"));
        int none = anchors.add(List.of("absent"));
        Places[] places = anchors.in("AKIA -uAKIA akia Token TOKEN API-Key toke");
        assertThat(all(places[keys])).containsExactly(0, 5, 7);
        assertThat(all(places[names])).containsExactly(17, 23, 29);
        assertThat(places[none]).isNull();
    }

    @Test
    void lettersBeyondAsciiAndShortTextsHoldNone() {
        Anchors anchors = new Anchors();
        int group = anchors.add(List.of("://", "ab"));
        for (String text : List.of("", "a", "á", "äb", "a\u0180b", "\uD83D\uDE00", "bà")) {
            assertThat(all(anchors.in(text)[group])).as(text).isEmpty();
        }
        assertThat(all(anchors.in("áab\uD83D\uDE00://é")[group])).containsExactly(1, 5);
    }

    /** Each place by itself, as the standard library compares. */
    @Test
    void findsWhatALookAtEachPlaceFinds() {
        List<String> exact = List.of("ab", "abc", "ba", "c-a", "--");
        List<String> anyCase = List.of("bca", "a-b", "cc");
        Anchors anchors = new Anchors();
        anchors.add(exact);
        anchors.addOfAnyCase(anyCase);
        Random random = new Random(11);
        for (int round = 0; round < 2_000; round++) {
            StringBuilder made = new StringBuilder();
            for (int i = random.nextInt(40); i > 0; i--) {
                made.append("abcABC-\u00e4".charAt(random.nextInt(8)));
            }
            String text = made.toString();
            String lower = text.toLowerCase(Locale.ROOT);
            List<Integer> exactly = new ArrayList<>();
            List<Integer> somehow = new ArrayList<>();
            for (int at = 0; at < text.length(); at++) {
                for (String anchor : exact) {
                    if (text.startsWith(anchor, at)) {
                        exactly.add(at);
                    }
                }
                for (String anchor : anyCase) {
                    if (lower.startsWith(anchor, at)) {
                        somehow.add(at);
                    }
                }
            }
            Places[] places = anchors.in(text);
            assertThat(all(places[0])).as(text).isEqualTo(exactly);
            assertThat(all(places[1])).as(text).isEqualTo(somehow);
        }
    }
}
