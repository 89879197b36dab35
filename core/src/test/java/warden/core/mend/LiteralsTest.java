package warden.core.mend;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

class LiteralsTest {
    private static final Difference TLS = new Difference("MinimumProtocolVersion", "TLSv1", "TLSv1.2_2021");

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '^',
            value = {
                "MinimumProtocolVersion: TLSv1   # old|MinimumProtocolVersion: TLSv1.2_2021   # old",
                "MinimumProtocolVersion: 'TLSv1'|MinimumProtocolVersion: 'TLSv1.2_2021'",
                "\"MinimumProtocolVersion\": \"TLSv1\",|\"MinimumProtocolVersion\": \"TLSv1.2_2021\",",
                "minimum_protocol_version   = \"TLSv1\"|minimum_protocol_version   = \"TLSv1.2_2021\"",
                "- MinimumProtocolVersion: TLSv1|- MinimumProtocolVersion: TLSv1.2_2021"
            })
    void changesALiteralAndNothingElse(String line, String wanted) {
        String around = "Resources:\n  Edge:\n    %s\n  Other:\n    MinimumProtocolVersion: TLSv1\n";
        assertThat(Literals.changed(String.format(around, line), 2, TLS)).contains(String.format(around, wanted));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "MinimumProtocolVersion: !Ref Floor",
                "MinimumProtocolVersion: TLSv1.1_2016",
                "# MinimumProtocolVersion: TLSv1",
                "minimum_protocol_version = var.floor",
                "X: {MinimumProtocolVersion: TLSv1}",
                "MinimumProtocolVersion: \"${TLSv1}\""
            })
    void leavesWhatIsNoLiteral(String line) {
        assertThat(Literals.changed("Resources:\n  Edge:\n    " + line + "\n", 2, TLS))
                .isEmpty();
    }

    @Test
    void leavesWhatIsThereTwice() {
        String text =
                "  Edge:\n    a:\n      MinimumProtocolVersion: TLSv1\n    b:\n      MinimumProtocolVersion: TLSv1\n";
        assertThat(Literals.changed(text, 1, TLS)).isEmpty();
        // Nearer, there is one only.
        assertThat(Literals.changed(text, 2, TLS)).isPresent();
    }

    @ParameterizedTest
    @ValueSource(strings = {"a b", "${x}", "\"", "a: b", "", "&a", "a#b"})
    void writesNoValueThatALanguageMayReadInAnotherWay(String hostile) {
        assertThat(Literals.changed("  e:\n    x: 1\n", 1, new Difference("x", "1", hostile)))
                .isEmpty();
    }

    private static Difference.Found between(String before, String after) {
        return Difference.between(part(before), part(after));
    }

    private static JsonPart part(String json) {
        return JsonReader.read(json.replace('\'', '"')).root().orElseThrow();
    }

    @Test
    void tellsValuesFromShapes() {
        assertThat(between("{'a':{'b':[1,{'c':true}]}}", "{'a':{'b':[2,{'c':false}]}}")
                        .values())
                .containsExactly(new Difference("b", "1", "2"), new Difference("c", "true", "false"));
        assertThat(between("{'a':1,'b':2}", "{'b':2,'a':1}").isNone()).isTrue();
        assertThat(between("{'a':null}", "{'a':null}").isNone()).isTrue();
        for (String other : new String[] {"{'a':1,'b':2}", "{}", "{'a':[1]}", "{'a':null}", "{'a':{}}"}) {
            assertThat(between("{'a':1}", other).isOfAnotherShape()).as(other).isTrue();
        }
        assertThat(between("{'a':[1,2]}", "{'a':[1]}").isOfAnotherShape()).isTrue();
    }
}
