package warden.report;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.survey.Citation;

class LinesTest {
    private static final String INDENT = " ".repeat(20);
    private static final Style USUAL = new Style(false);

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "short",
                "one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen",
                "arn:aws:cloudfront::210987654321:distribution/xxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxx",
                "🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢🚢"
            })
    void neverPassesTheWidthNorLosesText(String text) {
        String wrapped = INDENT + Lines.wrapped(text, INDENT, USUAL);
        assertThat(wrapped.lines()).allMatch(line -> line.codePointCount(0, line.length()) <= USUAL.width());
        assertThat(wrapped.replaceAll("\\s", "")).isEqualTo(text.replaceAll("\\s", ""));
    }

    @Test
    void breaksBetweenWords() {
        String text = "word ".repeat(40).strip();
        assertThat(Lines.wrapped(text, "", USUAL).lines()).allMatch(line -> line.matches("(word ?)+"));
    }

    @Test
    void breaksNothingForAFile() {
        String text = "word ".repeat(400).strip();
        assertThat(Lines.wrapped(text, "  ", new Style(false, Style.UNBROKEN))).isEqualTo(text);
    }

    @Test
    void beginsNoLineLikeACommandForABuildServer() {
        String wrapped = INDENT
                + Lines.wrapped("The object " + "x".repeat(75) + " ::error title=a::b is public.", INDENT, USUAL);
        assertThat(wrapped.lines()).noneMatch(line -> line.strip().startsWith("::"));
        assertThat(wrapped).contains("\ufffd:error title=a::b");
        assertThat(Lines.wrapped("arn:aws:s3:::x " + "y".repeat(98) + " :::z", "", USUAL))
                .endsWith("\n:::z");
    }

    @Test
    void fillsColumnsAndShortensInTheMiddle() {
        assertThat(Lines.column("abc", 5)).isEqualTo("abc  ");
        assertThat(Lines.column("abcde", 5)).isEqualTo("abcde");
        assertThat(Lines.column("abcdefgh", 5)).isEqualTo("ab…gh");
        assertThat(Lines.column("🚢".repeat(8), 5)).isEqualTo("🚢🚢…🚢🚢");
    }

    @Test
    void citesByFileAndLine() {
        assertThat(Lines.cite(new Citation("s.ndjson", 7, "bucket-policy", "x", "/Statement/0", "q")))
                .isEqualTo("s.ndjson:7 bucket-policy /Statement/0");
        assertThat(Lines.cite(new Citation("s\u001b.ndjson", 7, "bucket-acl", "x", "", "q")))
                .isEqualTo("s\ufffd.ndjson:7 bucket-acl");
    }

    @Test
    void coloursOnlyWhenTold() {
        assertThat(new Style(false).alarm("x") + new Style(false).good("y")).isEqualTo("xy");
        assertThat(new Style(true).alarm("x")).isEqualTo("\u001b[1;37;41mx\u001b[0m");
    }

    @Test
    void writesJsonThatEndsItsLines() {
        String text = Json.document(json -> json.text("a", "ø \"quoted\"")
                .number("n", 3)
                .truth("t", true)
                .texts("l", java.util.List.of("x", "y"))
                .text("none", java.util.Optional.empty()));
        assertThat(text).endsWith("}\n").contains("\"a\" : \"ø \\\"quoted\\\"\"", "\"none\" : null");
        assertThat(warden.core.document.JsonReader.read(text).problems()).isEmpty();
    }
}
