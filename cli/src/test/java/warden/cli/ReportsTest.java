package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.networknt.schema.InputFormat;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javax.xml.parsers.DocumentBuilderFactory;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.w3c.dom.Element;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import warden.cli.Program.Run;

/** Each format of report, on the demo and on names that are meant to do harm. */
class ReportsTest {
    private static final JsonMapper MAPPER = JsonMapper.builder().build();

    @TempDir
    private Path folder;

    private String report(String format, Path survey, String... more) {
        Path file = folder.resolve("report." + format);
        List<String> arguments = new ArrayList<>(
                List.of("audit", "--survey", survey.toString(), "--report", format + "=" + file, "--gate", "never"));
        arguments.addAll(List.of(more));
        Run run = Program.run(arguments.toArray(new String[0]));
        assertThat(run.code()).as(run.err()).isZero();
        return Program.read(file);
    }

    private static JsonNode findings(Path survey) {
        return MAPPER.readTree(Program.run("audit", "--survey", survey.toString(), "--format", "json")
                        .out())
                .get("findings");
    }

    /** A survey of a site whose names hold what could break out of each format. */
    private Path hostile() throws IOException {
        String evil =
                "x\\\"'><script>alert(1)</script>]]>|`*_[a](javascript:b)@all\\u202e\\u0007\\u001b[31m\\ufffe##vso[a]https://evil.example/www.evil.example#12"
                        + "y".repeat(10_000);
        String bucket = "arn:aws:s3:::heron-evil";
        return Files.writeString(
                folder.resolve("hostile.ndjson"),
                "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\",\"takenAt\":\"2026-11-02T08:00:00Z\",\"takenBy\":\""
                        + evil + "\"}\n"
                        + "{\"aspect\":\"bucket-list\",\"of\":\"210987654321\",\"found\":{\"Buckets\":[{\"Name\":\"heron-evil\"}]}}\n"
                        + "{\"aspect\":\"account-public-access\",\"of\":\"210987654321\",\"absent\":\"NoSuchPublicAccessBlockConfiguration\"}\n"
                        + "{\"aspect\":\"bucket-public-access\",\"of\":\"" + bucket
                        + "\",\"absent\":\"NoSuchPublicAccessBlockConfiguration\"}\n"
                        + "{\"aspect\":\"bucket-policy\",\"of\":\"" + bucket
                        + "\",\"found\":{\"Policy\":{\"Version\":\"2012-10-17\",\"Statement\":[{\"Sid\":\"" + evil
                        + "\",\"Effect\":\"Allow\",\"Principal\":\"*\",\"Action\":\"s3:*\",\"Resource\":[\"" + bucket
                        + "\",\"" + bucket + "/*\"]}]}}}\n"
                        + "{\"aspect\":\"bucket-objects\",\"of\":\"" + bucket
                        + "\",\"found\":{\"Contents\":[{\"Key\":\"logs/" + evil + ".log\"}],\"IsTruncated\":false}}\n"
                        + "{\"aspect\":\"pipeline-file\",\"of\":\"" + evil
                        + ".sh\",\"found\":{\"Path\":\"p\",\"Text\":\"aws s3 sync . s3://heron-evil --acl public-read # "
                        + evil + "\"}}\n");
    }

    @Test
    void sarifIsValidAndNamesRealLines() throws IOException {
        for (Path survey : List.of(Program.DEMO, hostile())) {
            String sarif = report("sarif", survey);
            try (InputStream schema =
                    Objects.requireNonNull(getClass().getResourceAsStream("/schema/sarif-schema-2.1.0.json"))) {
                String text = new String(schema.readAllBytes(), StandardCharsets.UTF_8);
                assertThat(SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_7)
                                .getSchema(text)
                                .validate(sarif, InputFormat.JSON))
                        .isEmpty();
            }
            JsonNode run = MAPPER.readTree(sarif).at("/runs/0");
            JsonNode findings = findings(survey);
            assertThat(run.get("results").size()).isEqualTo(findings.size()).isPositive();
            IntStream.range(0, findings.size()).forEach(i -> {
                JsonNode result = run.at("/results/" + i);
                assertThat(result.get("ruleId")).isEqualTo(findings.get(i).get("check"));
                assertThat(result.at("/locations/0/physicalLocation/region/startLine"))
                        .isEqualTo(findings.get(i).at("/because/0/line"));
                assertThat(run.at(
                                "/tool/driver/rules/" + result.get("ruleIndex").intValue() + "/id"))
                        .isEqualTo(result.get("ruleId"));
                assertThat(result.at("/partialFingerprints/findingIdentity~1v1"))
                        .isEqualTo(findings.get(i).get("fingerprint"));
            });
        }
    }

    @Test
    void sarifSaysWhatIsUnknownAndWhatIsWaived() throws IOException {
        Path file = Files.writeString(
                folder.resolve("warden.yaml"),
                "waivers: [{check: record-dangling, subject: '*', until: 2027-03-31, reason: agreed}]");
        JsonNode run = MAPPER.readTree(report("sarif", Program.DEMO, "--site-file", file.toString()))
                .at("/runs/0");
        long suppressed = run.get("results")
                .valueStream()
                .filter(result -> result.has("suppressions"))
                .count();
        assertThat(suppressed).isEqualTo(1);
        JsonNode hostile =
                MAPPER.readTree(report("sarif", hostile())).at("/runs/0/invocations/0/toolExecutionNotifications");
        assertThat(hostile.size()).isPositive();
    }

    @Test
    void junitHasACaseForEachCheckAndSubject() throws Exception {
        for (Path survey : List.of(Program.DEMO, hostile())) {
            String xml = report("junit", survey);
            Element root = DocumentBuilderFactory.newInstance()
                    .newDocumentBuilder()
                    .parse(new ByteArrayInputStream(xml.getBytes(StandardCharsets.UTF_8)))
                    .getDocumentElement();
            int cases = root.getElementsByTagName("testcase").getLength();
            assertThat(root.getAttribute("tests")).isEqualTo(String.valueOf(cases));
            assertThat(cases).isGreaterThan(findings(survey).size());
            assertThat(root.getAttribute("failures")).isEqualTo("0");
        }
    }

    @Test
    void junitFailsWhatIsAtOrAboveTheGate() {
        Path file = folder.resolve("gated.xml");
        Run run = Program.run(
                "audit", "--survey", Program.DEMO.toString(), "--report", "junit=" + file, "--gate", "critical");
        assertThat(run.code()).isEqualTo(1);
        assertThat(Program.read(file))
                .contains("<failure type=\"critical\"")
                .doesNotContain("<failure type=\"high\"")
                .contains("<system-out>high: ");
    }

    @Test
    void thePageStandsAloneAndCannotBeMadeToDoAnything() throws IOException {
        for (Path survey : List.of(Program.DEMO, hostile())) {
            String html = report("html", survey);
            Document page = Jsoup.parse(html);
            assertThat(page.select(
                            "script, link, iframe, object, embed, img, form, base, [onclick], [onload], [style]"))
                    .isEmpty();
            assertThat(page.select("[href]").eachAttr("href")).allMatch(reference -> reference.startsWith("#"));
            assertThat(page.select("[src]")).isEmpty();
            assertThat(page.select("meta[http-equiv=Content-Security-Policy]").attr("content"))
                    .startsWith("default-src 'none'; style-src 'sha256-");
            assertThat(page.select("h1")).hasSize(1);
            assertThat(page.select("html").attr("lang")).isEqualTo("en");
            assertThat(page.select("ol.chain > li:first-child").eachText()).allMatch(text -> text.startsWith("host "));
            assertThat(page.select("nav a").eachAttr("href"))
                    .allMatch(id -> page.select(id).size() == 1);
            assertThat(page.select("article.finding")).hasSize(findings(survey).size());
            assertThat(html).doesNotContain("\u202e").doesNotContain("\u0007").doesNotContain("\u001b");
            page.select("article.finding")
                    .forEach(finding -> assertThat(finding.select("details li")).isNotEmpty());
        }
    }

    @Test
    void thePageShowsTheChainWithoutColour() {
        Document page = Jsoup.parse(report("html", Program.DEMO));
        Document timetables = Jsoup.parse(
                page.select("article.site:has(h3:contains(timetables))").outerHtml());
        assertThat(timetables.select("li.link .word").eachText()).containsExactly("low", "high", "critical");
        assertThat(timetables.select("li.link .mark").eachText()).containsExactly("!", "✕", "✕");
        Document healthy = Jsoup.parse(
                page.select("article.site:has(h3:matchesOwn(^heronferry))").outerHtml());
        assertThat(healthy.select("li.link .word").eachText()).containsExactly("sound", "sound", "sound");
        assertThat(healthy.select(".sum").text()).isEqualTo("Healthy.");
        assertThat(page.select("table.matrix td.danger").eachText())
                .isNotEmpty()
                .allMatch(cell -> cell.startsWith("!"));
    }

    @Test
    void aPartOfTheQuestionsIsNoCleanBillOfHealth() {
        String some = report("html", Program.DEMO, "--only", "leftovers");
        assertThat(Jsoup.parse(some).select(".sum").eachText())
                .isNotEmpty()
                .noneMatch(text -> text.startsWith("Healthy"));
        assertThat(Jsoup.parse(some).select("li.link.sound")).isEmpty();
        String site = report("html", Program.DEMO, "--site", "heronferry.example");
        assertThat(Jsoup.parse(site).select("article.site")).hasSize(1);
        assertThat(Jsoup.parse(site).select(".sum").text()).isEqualTo("Healthy.");
        assertThat(Jsoup.parse(site).select("table.matrix")).hasSize(1);
        assertThat(report("markdown", Program.DEMO, "--only", "dns", "--site", "heronferry.example"))
                .doesNotContain("Nothing is wrong");
        assertThat(report("markdown", Program.DEMO, "--site", "heronferry.example"))
                .contains("Nothing is wrong");
    }

    @Test
    void markdownShowsNamesAsTheyAre() throws IOException {
        String demo = report("markdown", Program.DEMO);
        assertThat(demo)
                .startsWith("## Gentle Warden: ")
                .contains("| book.heronferry.example | open-bucket-behind-cdn |")
                .contains("<details><summary>");
        String hostile = report("markdown", hostile());
        assertThat(hostile)
                .doesNotContain("<script>")
                .doesNotContain("](javascript:")
                .doesNotContain("@all", "https://", "www.evil", "#12", "##vso[")
                .doesNotContain("\u202e");
    }

    @ParameterizedTest
    @ValueSource(strings = {"text", "markdown", "html"})
    void shortensWhatNobodyWouldReadToItsEnd(String format) throws IOException {
        String shown = format.equals("text")
                ? Program.run("audit", "--survey", hostile().toString()).out()
                : report(format, hostile());
        // A command is copied whole, so the text has its words in full.
        String read = shown.lines().filter(line -> !line.contains(" replay ")).collect(Collectors.joining("\n"));
        assertThat(read).contains("yy…").doesNotContain("y".repeat(300));
        assertThat(shown).doesNotContain("##vso[", "\ufffe", "\u001b");
    }

    @ParameterizedTest
    @ValueSource(strings = {"json", "sarif", "junit", "markdown", "html"})
    void theSameSurveyGivesTheSameBytes(String format) {
        assertThat(report(format, Program.DEMO)).isEqualTo(report(format, Program.DEMO));
    }

    @ParameterizedTest
    @CsvSource({
        "pdf=x, --report takes FORMAT=FILE",
        "html, --report takes FORMAT=FILE",
        "html=, --report takes FORMAT=FILE",
        "html=/nowhere/x.html, cannot write there"
    })
    void saysWhatAReportTakes(String value, String says) {
        Run run = Program.run("audit", "--survey", Program.DEMO.toString(), "--report", value);
        assertThat(run.code()).isEqualTo(2);
        assertThat(run.err()).contains(says);
    }

    @Test
    void aFirstSiteFileIsReadyToUse() {
        Path file = folder.resolve("warden.yaml");
        Run run = Program.run("audit", "--survey", Program.DEMO.toString(), "--first-site-file", file.toString());
        assertThat(run.code()).isZero();
        String text = Program.read(file);
        Object parsed = new Load(LoadSettings.builder().build()).loadFromString(text);
        Program.assertValid("site-file", MAPPER.writeValueAsString(parsed));
        String without = Program.run("audit", "--survey", Program.DEMO.toString(), "--format", "json")
                .out();
        String with = Program.run(
                        "audit",
                        "--survey",
                        Program.DEMO.toString(),
                        "--format",
                        "json",
                        "--site-file",
                        file.toString())
                .out();
        assertThat(MAPPER.readTree(with).get("counts"))
                .isEqualTo(MAPPER.readTree(without).get("counts"));
        assertThat(Program.run("audit", "--survey", Program.DEMO.toString(), "--first-site-file", file.toString())
                        .code())
                .isEqualTo(2);
    }

    @Test
    void saysWhichWaiversKeepNothing() throws IOException {
        Path file = Files.writeString(folder.resolve("warden.yaml"), """
                waivers:
                  - {check: record-dangling, subject: "*", until: 2026-01-31, reason: agreed}
                  - {check: root-key, subject: "*", until: 2027-01-31, reason: agreed}
                  - {check: key-old, subject: "*", until: 2027-01-31, reason: agreed}
                """);
        Run run = Program.run("audit", "--survey", Program.DEMO.toString(), "--site-file", file.toString());
        assertThat(run.out().replaceAll("\\s+", " "))
                .contains("The waiver of record-dangling for \"*\" ended on 2026-01-31")
                .contains("The waiver of root-key for \"*\" matches no finding")
                .doesNotContain("The waiver of key-old");
    }
}
