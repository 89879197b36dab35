package warden.core.document;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.document.JsonPart.JsonNull;
import warden.core.document.JsonPart.JsonObject;
import warden.core.document.JsonReader.JsonProblem;

class JsonReaderTest {
    private static JsonPart read(String text) {
        JsonReader.Result result = JsonReader.read(text.replace('\'', '"'));
        assertThat(result.problems()).isEmpty();
        return result.root().orElseThrow();
    }

    @Test
    void knowsWhereEachPartStood() {
        JsonPart root = read("{'Statement':[{'Action':'x'},{'a/b':{'c~d':1}}]}");
        assertThat(at(root.list("Statement").get(0).find("Action").orElseThrow()))
                .isEqualTo("/Statement/0/Action");
        assertThat(at(root.list("Statement").get(1).find("a/b", "c~d").orElseThrow()))
                .isEqualTo("/Statement/1/a~1b/c~0d");
        JsonReader.Result based = JsonReader.read("{\"a\":1}", Pointer.ROOT.member("Policy"));
        assertThat(at(based.root().orElseThrow().find("a").orElseThrow())).isEqualTo("/Policy/a");
    }

    private static String at(JsonPart part) {
        return part.at().toString();
    }

    @Test
    void tellsOfAMemberThatStandsTwice() {
        JsonReader.Result result = JsonReader.read("{\"Effect\":\"Deny\",\"Effect\":\"Allow\"}");
        assertThat(result.root()).isPresent();
        assertThat(result.problems())
                .containsExactly(new JsonProblem(Pointer.ROOT.member("Effect"), "stands twice in the same object"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{ | is not valid JSON (line 1",
                "{'a':1} {'b':2} | has text after its end, at line 1",
                "[1,] | is not valid JSON",
                "{'a':01} | is not valid JSON",
                "{a:1} | is not valid JSON",
                "['\\x'] | is not valid JSON",
                "NaN | is not valid JSON",
                "// remark | is not valid JSON"
            })
    void saysWhatIsWrongWithoutThrowing(String text, String says) {
        assertThat(JsonReader.read(text.replace('\'', '"')).problems())
                .singleElement()
                .satisfies(problem -> assertThat(problem.says()).startsWith(says));
    }

    @ParameterizedTest
    @ValueSource(strings = {"", " ", "\n\t"})
    void callsNothingEmpty(String text) {
        assertThat(JsonReader.read(text).problems()).singleElement().satisfies(problem -> assertThat(problem.says())
                .isEqualTo("is empty"));
    }

    @Test
    void stopsAtDepthsThatNoAnswerHas() {
        String deep = "[".repeat(100_000) + "]".repeat(100_000);
        JsonReader.Result result = JsonReader.read(deep);
        assertThat(result.root()).isEmpty();
        assertThat(result.problems().get(0).says()).startsWith("is nested deeper than 200 levels");
        assertThat(JsonReader.read("[".repeat(150) + "]".repeat(150)).root()).isPresent();
    }

    @Test
    void keepsNumbersAsTheyWereWritten() {
        JsonPart root = read("{'a':1.50,'b':1e3,'c':12345678901234567890123,'d':-0}");
        assertThat(root.text("a")).contains("1.50");
        assertThat(root.text("b")).contains("1e3");
        assertThat(root.text("c")).contains("12345678901234567890123");
        assertThat(root.text("d")).contains("-0");
    }

    @Test
    void findsOnlyWhatIsThere() {
        JsonPart root = read("{'a':{'b':null,'t':true,'s':'true','w':'yes','l':[1,'x',[2],null]}}");
        assertThat(root.find("a", "b")).isEmpty();
        assertThat(root.find("a", "nothing", "below")).isEmpty();
        assertThat(((JsonObject) root.find("a").orElseThrow()).members().get("b"))
                .isInstanceOf(JsonNull.class);
        assertThat(root.flag("a", "t")).contains(true);
        assertThat(root.flag("a", "s")).contains(true);
        assertThat(root.flag("a", "w")).isEmpty();
        assertThat(root.texts("a", "l")).containsExactly("1", "x");
        assertThat(root.list("a", "t")).isEmpty();
        assertThat(root.text("a")).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{'a':[1,2.50,true,false,null,'x']} | {'a':[1,2.50,true,false,null,'x']}",
                "{ 'a' : { } , 'b' : [ ] } | {'a':{},'b':[]}",
                "['\\u00e9\\n\\u0001'] | ['é\\n\\u0001']"
            })
    void spellsWhatItRead(String text, String spelled) {
        String once = JsonSpelling.of(read(text));
        assertThat(once).isEqualToIgnoringCase(spelled.replace('\'', '"'));
        assertThat(JsonSpelling.of(read(once))).isEqualTo(once);
    }

    @Test
    void spellsHalfCharactersSoThatTheyComeBack() {
        JsonPart half = JsonReader.read("\"\\ud800\"").root().orElseThrow();
        String spelled = JsonSpelling.of(half);
        assertThat(JsonReader.read(spelled).root().orElseThrow().scalar()).isEqualTo(half.scalar());
    }
}
