package warden.core.survey;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

class PassageTest {
    private static JsonPart part(String json, String... path) {
        return JsonReader.read(json).root().orElseThrow().find(path).orElseThrow();
    }

    @Test
    void tellsWhereAPartStandsAndItsWords() {
        Passage passage = Passage.of(part("{\"Rules\":{\"a/b\":{\"Status\":\"Enabled\"}}}", "Rules", "a/b"));
        assertThat(passage.path()).isEqualTo("/Rules/a~1b");
        assertThat(passage.quote()).isEqualTo("{\"Status\":\"Enabled\"}");
    }

    @Test
    void quotesNoMoreThanTheBeginning() {
        // Each boat is two characters of a Java text, and one of a reader's.
        for (String letter : List.of("x", "⛴", "\uD83D\uDEA4")) {
            String whole = letter.repeat(200);
            assertThat(Passage.of("", whole).quote()).isEqualTo(whole);
            assertThat(Passage.of("", whole + letter).quote()).isEqualTo(letter.repeat(199) + "…");
            String spelled = Passage.of(part("{\"a\":\"" + letter.repeat(5_000) + "\"}", "a"))
                    .quote();
            assertThat(spelled).isEqualTo("\"" + letter.repeat(198) + "…");
        }
    }

    @Test
    void isEqualToWhatSaysTheSameAtTheSamePlace() {
        Passage ofPart = Passage.of(part("{\"a\":[1,2]}", "a"));
        Passage spelled = Passage.of("/a", "[1,2]");
        assertThat(ofPart).isEqualTo(spelled).hasSameHashCodeAs(spelled);
        assertThat(ofPart).isNotEqualTo(Passage.of("/b", "[1,2]")).isNotEqualTo(Passage.of("/a", "[1,3]"));
    }

    @Test
    void makesCitationsOfOnePlaceTheSame() {
        Citation line = new Citation("s.ndjson", 3, "bucket-policy", "arn:aws:s3:::notices", "", "");
        Set<Citation> all = new HashSet<>();
        all.add(line.at(part("{\"a\":[1,2]}", "a")));
        all.add(line.at("/a", "[1,2]"));
        all.add(line.at("/a", "[1]"));
        assertThat(all).hasSize(2);
    }
}
