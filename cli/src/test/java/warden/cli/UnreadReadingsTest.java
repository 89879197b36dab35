package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import warden.cli.Program.Run;

/** What could not be read is never taken for good: a finding that rested on it becomes unknown, and nothing is made up instead. */
class UnreadReadingsTest {
    private static final JsonMapper MAPPER = JsonMapper.builder().build();
    /** What is in no list, and is named by nothing else, cannot be missed when no line speaks of it. */
    private static final Set<String> NOT_MISSED = Set.of("pipeline-file", "certificate");

    @TempDir
    private Path folder;

    static Stream<Arguments> aspects() {
        return Stream.of(Program.DEMO, Program.QUAYSIDE).flatMap(survey -> Program.read(survey)
                .lines()
                .skip(1)
                .map(line -> MAPPER.readTree(line).get("aspect").asString())
                .distinct()
                .map(aspect -> Arguments.of(survey, aspect)));
    }

    @ParameterizedTest
    @MethodSource("aspects")
    void whatIsRefusedIsUnknown(Path survey, String aspect) throws IOException {
        List<String> lines = new ArrayList<>();
        for (String line : Files.readAllLines(survey)) {
            JsonNode reading = MAPPER.readTree(line);
            boolean refused = reading.path("aspect").asString("").equals(aspect);
            lines.add(
                    refused
                            ? "{\"aspect\":\"" + aspect + "\",\"of\":" + reading.get("of")
                                    + ",\"unread\":{\"code\":\"AccessDenied\"}}"
                            : line);
        }
        loosesNothingSilently(survey, lines);
    }

    @ParameterizedTest
    @MethodSource("aspects")
    void whatWasNeverAskedIsUnknown(Path survey, String aspect) throws IOException {
        List<String> lines = Files.readAllLines(survey).stream()
                .filter(line ->
                        !MAPPER.readTree(line).path("aspect").asString("").equals(aspect))
                .toList();
        if (!NOT_MISSED.contains(aspect)) {
            loosesNothingSilently(survey, lines);
        }
    }

    private void loosesNothingSilently(Path survey, List<String> lines) throws IOException {
        JsonNode whole = MAPPER.readTree(Program.run("audit", "--survey", survey.toString(), "--format", "json")
                .out());
        JsonNode partly = audit(lines);
        Set<String> unknown = checks(partly.get("unknown"));
        Set<String> lost = findings(whole);
        lost.removeAll(findings(partly));
        assertThat(lost).allMatch(finding -> unknown.contains(finding.substring(0, finding.indexOf(' '))));
        assertThat(findings(whole)).containsAll(findings(partly));
    }

    @Test
    void noSiteIsGreenWhosePublisherCouldNotBeRead() throws IOException {
        List<String> lines = new ArrayList<>(Files.readAllLines(Program.DEMO).stream()
                .filter(line -> !line.contains("\"aspect\":\"iam-"))
                .toList());
        assertThat(Program.run("audit", "--survey", write(lines).toString()).out())
                .contains("iam-role of 210987654321: never asked")
                .containsPattern("notices\\.heronferry\\.example .*[1-9]\\n")
                .doesNotContainPattern("(?m)^heronferry\\.example .*healthy");
        lines.add(
                "{\"aspect\":\"iam-user\",\"of\":\"arn:aws:iam::210987654321:user/*\",\"unread\":{\"code\":\"AccessDenied\"}}");
        Run refused = Program.run("audit", "--survey", write(lines).toString());
        assertThat(refused.out())
                .contains("user/*: AccessDenied;")
                .contains("publisher-is-admin, trust-any-principal, ")
                .doesNotContainPattern("(?m)^heronferry\\.example .*healthy");
    }

    @Test
    void thePageAndTheCommentTellOneMissingReadingOnce() throws IOException {
        Path survey = write(Files.readAllLines(Program.DEMO).stream()
                .filter(line -> !line.contains("\"aspect\":\"iam-") && !line.contains("\"aspect\":\"distribution\""))
                .toList());
        Path page = folder.resolve("page.html");
        Path comment = folder.resolve("comment.md");
        Program.run(
                "audit", "--survey", survey.toString(), "--report", "html=" + page, "--report", "markdown=" + comment);
        Document html = Jsoup.parse(Program.read(page));
        List<String> rows = html.select("table.missing tbody tr td:first-child").eachText();
        assertThat(rows)
                .doesNotHaveDuplicates()
                .contains(
                        "iam-role of 210987654321",
                        "distribution of arn:aws:cloudfront::210987654321:distribution/E2WQ7HERONWWW");
        assertThat(html.select("article.site ol.chain").text())
                .contains(
                        "edge, not read",
                        "E2WQ7HERONWWW",
                        "publisher, not read timetables-publisher",
                        "publisher, not read not known");
        assertThat(Program.read(comment)
                        .lines()
                        .filter(line -> line.startsWith("- iam-role of 210987654321: never asked")))
                .hasSize(1)
                .allMatch(line -> line.matches(
                        ".*publisher-can-escalate, publisher-is-admin, trust-any-principal and [0-9]+ more"));
    }

    @Test
    void whoIsMissingFromTheMatrixAndTheTrimIsSaid() throws IOException {
        String survey = write(Files.readAllLines(Program.DEMO).stream()
                        .filter(line -> !line.contains("\"aspect\":\"iam-"))
                        .toList())
                .toString();
        String never = "iam-role of 210987654321: never asked; iam:GetAccountAuthorizationDetails would settle it";
        assertThat(Program.run("reach", "--survey", survey).out()).contains("have no line below", never);
        assertThat(Program.run("trim", "--survey", survey).out())
                // What the pipelines need is told all the same.
                .contains("what it may do is not known → ", "pipeline book/.gitlab-ci.yml:")
                .endsWith("unknown   " + never + "\n");
        for (String command : List.of("reach", "trim")) {
            Run json = Program.run(command, "--survey", survey, "--format", "json");
            assertThat(json.err()).contains("users and roles are missing from this");
            assertThat(MAPPER.readTree(json.out()).isObject()).isTrue();
        }
        assertThat(Program.run("trim", "--survey", survey, "--credential", "arn:aws:iam::210987654321:role/x")
                        .err())
                .contains("nor any other; survey with iam:GetAccountAuthorizationDetails");
        assertThat(Program.run("reach", "--survey", Program.DEMO.toString()).out())
                .doesNotContain("have no line");
    }

    @Test
    void whatTheSiteFileNamesAndNobodyReadIsUnknown() throws IOException {
        Path file = Files.writeString(folder.resolve("warden.yaml"), """
                sites:
                  - name: main
                    hosts: [www.heronferry.example]
                    publishing:
                      credentials: ["arn:aws:iam::210987654321:role/nobody", "arn:aws:iam::109876543210:user/elsewhere"]
                      pipelines: [deploy/nowhere.yml]
                """);
        JsonNode report = MAPPER.readTree(Program.run(
                        "audit",
                        "--survey",
                        Program.DEMO.toString(),
                        "--site-file",
                        file.toString(),
                        "--site",
                        "main",
                        "--format",
                        "json")
                .out());
        assertThat(report.get("unknown"))
                .anySatisfy(unknown -> assertThat(unknown.toString())
                        .contains("\"check\":\"publisher-is-admin\"", "role/nobody", "never asked"))
                .anySatisfy(unknown -> assertThat(unknown.toString())
                        .contains("\"check\":\"publisher-is-admin\"", "user/elsewhere", "its account was not surveyed"))
                .anySatisfy(unknown -> assertThat(unknown.toString())
                        .contains(
                                "\"check\":\"pipeline-secret-in-file\"",
                                "deploy/nowhere.yml",
                                "give it with --pipeline"));
    }

    private JsonNode audit(List<String> lines) throws IOException {
        Run run = Program.run("audit", "--survey", write(lines).toString(), "--format", "json");
        assertThat(run.code()).as(run.err()).isIn(0, 1);
        return MAPPER.readTree(run.out());
    }

    private Path write(List<String> lines) throws IOException {
        return Files.write(folder.resolve("survey.ndjson"), lines);
    }

    private static Set<String> findings(JsonNode report) {
        Set<String> findings = new TreeSet<>();
        report.get("findings")
                .forEach(each -> findings.add(
                        each.get("check").asString() + " " + each.get("subject").asString()));
        return findings;
    }

    private static Set<String> checks(JsonNode answers) {
        Set<String> checks = new TreeSet<>();
        StreamSupport.stream(answers.spliterator(), false)
                .map(answer -> answer.get("check").asString())
                .forEach(checks::add);
        return checks;
    }
}
