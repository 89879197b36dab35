package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class JsonMembersTest {
    @Test
    void givesEachMembersText() {
        assertThat(JsonMembers.of(
                                " {\"a\": {\"b\":[1,\"}\\\"]\"]} ,\n\"c\\u0064\":\"x,y\", \"e\":-1.5e3,\"f\":null, \"g\":[] }\n")
                        .orElseThrow())
                .containsExactly(
                        java.util.Map.entry("a", "{\"b\":[1,\"}\\\"]\"]}"),
                        java.util.Map.entry("cd", "\"x,y\""),
                        java.util.Map.entry("e", "-1.5e3"),
                        java.util.Map.entry("f", "null"),
                        java.util.Map.entry("g", "[]"));
        assertThat(JsonMembers.of("{}").orElseThrow()).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "[]",
                "{",
                "{\"a\"",
                "{\"a\":",
                "{\"a\":1",
                "{\"a\":\"x",
                "{\"a\":[1}",
                "{a:1}",
                "{\"a\":1} x",
                "{\"a\":1 \"b\":2}",
                "{,}",
                "{\"a\":{}"
            })
    void whatIsNoObjectGivesNothing(String text) {
        // A part that is no JSON by itself shows when it is read.
        boolean isOpen = JsonMembers.of(text)
                .map(members -> members.values().stream()
                        .anyMatch(part -> JsonReader.read(part).root().isEmpty()))
                .orElse(true);
        assertThat(isOpen).isTrue();
    }
}
