package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import warden.core.document.JsonLayout.OneLine;

class JsonLayoutTest {
    @Test
    void laysADocumentOut() {
        Object document = Json.object(
                "name", "say \"ahoy\"\n",
                "none", List.of(),
                "empty", Map.of(),
                "left out", Optional.empty(),
                "list", List.of("a", 1),
                "nothing", null,
                "short", new OneLine(List.of("a", true)),
                "pair", new OneLine(Json.object("b", "c", "d", 2)),
                "inner", List.of(Json.object("x", Json.object("y", false))));
        String text = JsonLayout.of(document, 2);
        assertThat(text).isEqualTo("""
                        {
                          "name": "say \\"ahoy\\"\\n",
                          "none": [],
                          "empty": {},
                          "list": [
                            "a",
                            1
                          ],
                          "nothing": null,
                          "short": ["a", true],
                          "pair": {"b": "c", "d": 2},
                          "inner": [
                            {
                              "x": {
                                "y": false
                              }
                            }
                          ]
                        }
                        """);
        assertThat(JsonReader.read(text).problems()).isEmpty();
        assertThat(JsonReader.read(text).root().map(Json::text))
                .contains(Json.text(JsonReader.read(text).root().orElseThrow()));
    }

    @Test
    void takesAnyDepthOfIndentation() {
        assertThat(JsonLayout.of(List.of(List.of(1)), 1)).isEqualTo("[\n [\n  1\n ]\n]\n");
        assertThat(JsonLayout.of("word", 4)).isEqualTo("\"word\"\n");
    }
}
