package warden.standin;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.EnumMap;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.standin.Faults.Misfortune;

/** What the simulated clouds share. */
class WireTest {
    @Test
    void takesQueriesApart() {
        assertThat(UrlText.form("list-type=2&prefix=a%2Fb+c&delete&empty=&broken=%zz"))
                .containsExactly(
                        Map.entry("list-type", "2"),
                        Map.entry("prefix", "a/b c"),
                        Map.entry("delete", ""),
                        Map.entry("empty", ""),
                        Map.entry("broken", "%zz"));
        assertThat(UrlText.form("")).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({"/a%20b, /a b", "/a+b, /a+b", "/%41%2F, /A/", "/%C3%B8, /ø"})
    void keepsAPlusInAPath(String sent, String meant) {
        assertThat(UrlText.unescaped(sent)).isEqualTo(meant);
    }

    @Test
    void dealsMisfortunesAsOftenAsAskedAndTheSameEachTime() {
        Faults faults = new Faults(0, 20, 10, 5, Set.of());
        Map<Misfortune, Integer> count = new EnumMap<>(Misfortune.class);
        Random random = new Random(1);
        Random again = new Random(1);
        for (int i = 0; i < 10_000; i++) {
            Misfortune next = faults.next(random);
            assertThat(faults.next(again)).isEqualTo(next);
            count.merge(next, 1, Integer::sum);
        }
        assertThat(count.get(Misfortune.THROTTLE)).isBetween(1_850, 2_150);
        assertThat(count.get(Misfortune.RESET)).isBetween(880, 1_120);
        assertThat(count.get(Misfortune.TRUNCATE)).isBetween(410, 590);
        assertThat(Faults.none().next(random)).isEqualTo(Misfortune.NONE);
    }

    @Test
    void writesWhatXmlCanCarry() {
        assertThat(XmlText.of("Keys", "urn:x", xml -> xml.text("Key", "a<&\r\u0001\"'")
                        .element("Inner", inner -> inner.spelled("<Done/>"))))
                .isEqualTo("<Keys xmlns=\"urn:x\"><Key>a&lt;&amp;&#13;\uFFFD\"'</Key><Inner><Done/></Inner></Keys>");
    }

    @ParameterizedTest
    @CsvSource({"0, 3, abc", "2, 3, cab", "3, 0, ''", "5, 4, cabc"})
    void whatIsMadeUpIsTheSameInParts(long from, long length, String part) {
        Content made = new Content.MadeUp("abc".getBytes(), 10);
        assertThat(new String(made.part(from, length).bytes())).isEqualTo(part);
        assertThat(new String(made.bytes()).substring((int) from, (int) (from + length)))
                .isEqualTo(part);
    }
}
