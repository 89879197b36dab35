package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class JsonEditTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{} | /a | 1 | {\"a\":1}",
                "{\"a\":1,\"b\":2} | /a | [3] | {\"a\":[3],\"b\":2}",
                "{\"b\":1.50} | /a/c/d | \"x\" | {\"b\":1.50,\"a\":{\"c\":{\"d\":\"x\"}}}",
                "{\"a\":null} | /a/b | true | {\"a\":{\"b\":true}}",
                "{\"a\":[1,2]} | /a/- | 3 | {\"a\":[1,2,3]}",
                "{\"a\":[1,{\"b\":2}]} | /a/1/b | 3 | {\"a\":[1,{\"b\":3}]}",
                "{\"a/b\":1} | /a~1b | 2 | {\"a/b\":2}",
                "[1] | '' | 2 | 2"
            })
    void setsOnePlace(String document, String pointer, String value, String expected) {
        assertThat(JsonEdit.set(document, pointer, value)).isEqualTo(expected);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{\"a\":1,\"b\":2} | /a | {\"b\":2}",
                "{\"a\":[1,2,3]} | /a/1 | {\"a\":[1,3]}",
                "{\"a\":{\"b\":{\"c\":1,\"d\":2}}} | /a/b/c | {\"a\":{\"b\":{\"d\":2}}}",
                "{\"a\":1} | /x/y | {\"a\":1}",
                "{\"a\":[1]} | /a/7 | {\"a\":[1]}"
            })
    void removesOnePlace(String document, String pointer, String expected) {
        assertThat(JsonEdit.remove(document, pointer)).isEqualTo(expected);
    }

    @Test
    void goesThroughNothingElseThanObjectsAndArrays() {
        assertThatThrownBy(() -> JsonEdit.set("{\"a\":1}", "/a/b", "2"))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessage("no object or array at b");
        assertThatThrownBy(() -> JsonEdit.set("{\"a\":[]}", "/a/3", "2")).isInstanceOf(IllegalArgumentException.class);
    }
}
