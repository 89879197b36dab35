package warden.core.survey;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.aws.survey.AwsAspects;
import warden.core.document.JsonPart;
import warden.core.survey.SurveyLine.Outcome;

class SurveyReaderTest {
    private static final String HEADER =
            "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\",\"takenAt\":\"t\",\"takenBy\":\"b\"}\n";

    private static Survey read(String text) throws SurveyException, IOException {
        return read(text.getBytes(StandardCharsets.UTF_8));
    }

    private static Survey read(byte[] bytes) throws SurveyException, IOException {
        Survey.Collector collector = new Survey.Collector(AwsAspects.TABLE);
        SurveyHeader header = SurveyReader.read(new ByteArrayInputStream(bytes), "s.ndjson", collector::add);
        return collector.toSurvey(header);
    }

    private static String line(String aspect, String rest) {
        return "{\"aspect\":\"" + aspect + "\",\"of\":\"x\"," + rest + "}\n";
    }

    @Test
    void keepsFoundAbsentAndUnreadApart() throws Exception {
        Survey survey = read(HEADER
                + line("a", "\"found\":{\"k\":[1,{\"v\":\"w\"}]}")
                + line("b", "\"absent\":\"NoSuch\"")
                + line("c", "\"unread\":{\"code\":\"AccessDenied\",\"message\":\"m\"}"));
        Reading<JsonPart> found = survey.reading("a", "x");
        assertThat(found.found().orElseThrow().list("k").get(1).text("v")).contains("w");
        assertThat(found.citation().orElseThrow().line()).isEqualTo(2);
        assertThat(survey.reading("b", "x").isAbsent()).isTrue();
        assertThat(survey.reading("c", "x").missing().orElseThrow().why()).isEqualTo("AccessDenied");
        assertThat(survey.reading("bucket-policy", "y").missing().orElseThrow()).satisfies(need -> {
            assertThat(need.why()).isEqualTo("never asked");
            assertThat(need.permission()).isEqualTo("s3:GetBucketPolicy");
        });
    }

    /** Returns a survey of so many readings of two kilobytes each, with blank lines between them. */
    private static List<String> large(int readings) {
        List<String> lines = new ArrayList<>(List.of(HEADER));
        for (int i = 0; i < readings; i++) {
            lines.add(line("a", "\"found\":{\"k\":\"" + i + "\",\"pad\":\"" + "x".repeat(2_000) + "\"}"));
            lines.add("\n");
        }
        return lines;
    }

    @Test
    void handsALargeSurveyOnInItsOrder() throws Exception {
        List<SurveyLine> taken = new ArrayList<>();
        byte[] bytes = String.join("", large(1_200)).getBytes(StandardCharsets.UTF_8);
        SurveyReader.read(new ByteArrayInputStream(bytes), "s.ndjson", taken::add);
        assertThat(taken).hasSize(1_200);
        for (int i = 0; i < taken.size(); i++) {
            assertThat(taken.get(i).line()).isEqualTo(2 + 2 * i);
            assertThat(taken.get(i).document().text("k")).contains(Integer.toString(i));
        }
    }

    @ParameterizedTest
    @ValueSource(ints = {100, 700, 1_100})
    void endsALargeSurveyAtTheFirstLineThatIsBroken(int broken) {
        List<String> lines = large(1_200);
        lines.set(1 + 2 * broken, "{\"aspect\":\"a\"}\n");
        lines.set(3 + 2 * broken, "no reading\n");
        lines.set(5 + 2 * broken, "\u0080\n");
        List<SurveyLine> taken = new ArrayList<>();
        byte[] bytes = String.join("", lines).getBytes(StandardCharsets.ISO_8859_1);
        assertThatThrownBy(() -> SurveyReader.read(new ByteArrayInputStream(bytes), "s.ndjson", taken::add))
                .isInstanceOf(SurveyException.class)
                .hasMessageContaining("s.ndjson:" + (2 + 2 * broken) + ":")
                .hasMessageContaining("\"of\"");
        assertThat(taken).hasSize(broken);
        lines.set(1 + 2 * broken, "\n");
        lines.set(3 + 2 * broken, "\n");
        byte[] notText = String.join("", lines).getBytes(StandardCharsets.ISO_8859_1);
        assertThatThrownBy(() -> SurveyReader.read(new ByteArrayInputStream(notText), "s.ndjson", line -> {}))
                .hasMessageContaining("s.ndjson:" + (6 + 2 * broken) + ":")
                .hasMessageContaining("UTF-8");
    }

    @Test
    void toleratesMembersAndAspectsThatItDoesNotKnow() throws Exception {
        Survey survey = read(HEADER + "\n" + line("from-the-future", "\"note\":{\"x\":[]},\"found\":{},\"more\":1"));
        assertThat(survey.reading("from-the-future", "x").found()).isPresent();
    }

    @Test
    void continuesAListingThatSaidThatMoreFollows() throws Exception {
        Survey survey = read(HEADER
                + line("l", "\"found\":{\"Contents\":[1],\"IsTruncated\":true}")
                + line("l", "\"found\":{\"Contents\":[2],\"IsTruncated\":false}"));
        Survey.Listing listing = survey.listing("l", "x").found().orElseThrow();
        assertThat(listing.pages()).hasSize(2);
        assertThat(listing.complete()).isTrue();
    }

    @Test
    void replacesALineThatWasComplete() throws Exception {
        Survey survey = read(HEADER + line("l", "\"found\":{\"n\":1}") + line("l", "\"unread\":\"later refused\""));
        assertThat(survey.reading("l", "x").missing().orElseThrow().why()).isEqualTo("later refused");
    }

    @Test
    void knowsThatAListingWasCutShort() throws Exception {
        Survey survey = read(HEADER
                + line("l", "\"found\":{\"NextToken\":\"t\"}")
                + line("l", "\"unread\":{\"code\":\"Throttling\"}"));
        Survey.Listing listing = survey.listing("l", "x").found().orElseThrow();
        assertThat(listing.pages()).hasSize(1);
        assertThat(listing.complete()).isFalse();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "`` | s.ndjson: the survey is empty",
                "`hello` | s.ndjson:1: this is not the header",
                "`{\"aspect\":\"a\"}` | s.ndjson:1: this is not the header",
                "`{\"survey\":2,\"provider\":\"aws\"}` | s.ndjson:1: the survey has format version 2",
                "`{\"survey\":1,\"account\":\"1\"}` | s.ndjson:1: the header names no provider"
            })
    void refusesWhatIsNoSurvey(String text, String message) {
        assertThatThrownBy(() -> read(text)).isInstanceOf(SurveyException.class).hasMessageStartingWith(message);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "{\"aspect\":\"a\",\"of\":\"x\" | breaks at column",
                "[] | must be a JSON object",
                "{\"aspect\":\"a\",\"found\":{}} | of is missing",
                "{\"of\":\"a\",\"found\":{}} | aspect is missing",
                "{\"aspect\":7,\"of\":\"a\",\"found\":{}} | \"aspect\" must be a text",
                "{\"aspect\":\"a\",\"of\":\"x\"} | this has none",
                "{\"aspect\":\"a\",\"of\":\"x\",\"found\":{},\"absent\":\"y\"} | this has two",
                "{\"aspect\":\"a\",\"of\":\"x\",\"found\":7} | must hold the document",
                "{\"aspect\":\"a\",\"of\":\"x\",\"absent\":{}} | \"absent\" must be",
                "{\"aspect\":\"a\",\"of\":\"x\",\"unread\":7} | \"unread\" must say",
                "{\"aspect\":\"a\",\"of\":\"x\",\"found\":{}}{} | follows the reading",
                "{\"survey\":1,\"provider\":\"aws\"} | second header"
            })
    void namesTheLineThatIsBroken(String broken, String message) {
        assertThatThrownBy(() -> read(HEADER + line("a", "\"found\":{}") + broken + "\n" + line("b", "\"found\":{}")))
                .isInstanceOf(SurveyException.class)
                .hasMessageStartingWith("s.ndjson:3: ")
                .hasMessageContaining(message);
    }

    @Test
    void refusesBinaryData() {
        byte[] bytes = new byte[2_000];
        new java.util.Random(7).nextBytes(bytes);
        assertThatThrownBy(() -> read(bytes))
                .isInstanceOf(SurveyException.class)
                .hasMessageStartingWith("s.ndjson:1: ");
    }

    @Test
    void readsALineOfTwoMegabytesAndSaysWhereOneIsBroken() throws Exception {
        String large = "\"" + "x".repeat(2_000_000) + "\"";
        Survey survey = read(HEADER + line("a", "\"found\":{\"k\":" + large + "}"));
        assertThat(survey.reading("a", "x").found().orElseThrow().text("k").orElseThrow())
                .hasSize(2_000_000);
        assertThatThrownBy(() -> read(HEADER + line("a", "\"found\":{\"k\":" + large)))
                .hasMessageStartingWith("s.ndjson:2: this is not a JSON object")
                .satisfies(failure -> assertThat(failure.getMessage()).hasSizeLessThan(300));
    }

    @Test
    void toleratesAHalfCharacterInADocument() throws Exception {
        Survey survey = read(HEADER + line("bucket-policy", "\"found\":{\"Policy\":\"\\ud800\"}"));
        assertThat(survey.reading("bucket-policy", "x").found()).isPresent();
    }

    @Test
    void givesBackWhatItRead() throws Exception {
        String text = HEADER
                + line("a", "\"call\":\"s3:X\",\"found\":{\"k\":\"ü\"}")
                + line("b", "\"absent\":\"NoSuch\"")
                + line("c", "\"unread\":{\"code\":\"A\",\"message\":\"m\"}");
        StringWriter out = new StringWriter();
        SurveyWriter writer = new SurveyWriter(out);
        java.util.List<SurveyLine> lines = new java.util.ArrayList<>();
        writer.header(SurveyReader.read(
                new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "s.ndjson", lines::add));
        for (SurveyLine line : lines) {
            writer.reading(line);
        }
        assertThat(out).hasToString(text);
        assertThat(lines)
                .extracting(SurveyLine::outcome)
                .containsExactly(Outcome.FOUND, Outcome.ABSENT, Outcome.UNREAD);
    }
}
