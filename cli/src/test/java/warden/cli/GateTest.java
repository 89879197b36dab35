package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.cli.Program.assertValid;
import static warden.cli.Program.run;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import warden.cli.Program.Run;

/** What the gate makes of findings, of what could not be told, and of what was there before. */
class GateTest {
    private static final String AT = "--at=2026-11-24";
    private static final JsonMapper MAPPER = JsonMapper.builder().build();

    @TempDir
    private Path folder;

    /** The demo's survey with some of its answers refused. */
    private Path refused(Predicate<JsonNode> which) throws IOException {
        List<String> lines = new ArrayList<>();
        for (String line : Program.demo().lines().toList()) {
            JsonNode node = MAPPER.readTree(line);
            lines.add(
                    node.has("survey") || !which.test(node)
                            ? line
                            : "{\"aspect\":" + node.get("aspect") + ",\"of\":" + node.get("of")
                                    + ",\"unread\":{\"code\":\"AccessDenied\",\"message\":\"no\"}}");
        }
        return Files.write(folder.resolve("refused.ndjson"), lines);
    }

    private static boolean isOf(JsonNode line, String... aspects) {
        return List.of(aspects).contains(line.get("aspect").asString());
    }

    /** What is left of an account whose auditor's role was revoked: the lists, refused. */
    private Path revoked() throws IOException {
        String lines = refused(line -> true).toFile().getName();
        Path all = folder.resolve(lines);
        return Files.write(
                folder.resolve("revoked.ndjson"),
                Files.readAllLines(all).stream()
                        .filter(line ->
                                line.contains("\"survey\"") || line.contains("-list\"") || line.contains("account-"))
                        .toList());
    }

    @ParameterizedTest
    @CsvSource({
        "'', 5",
        "--gate critical, 5",
        "--gate low, 5",
        "--gate never, 0",
        "--allow-unknown, 0",
        "--gate never --strict, 5",
        "--gate low --allow-unknown, 0"
    })
    void isNotGreenWhenNothingCouldBeRead(String options, int code) throws IOException {
        for (Path survey : List.of(refused(line -> true), revoked())) {
            List<String> words = new ArrayList<>(List.of("audit", "--survey", survey.toString(), AT));
            words.addAll(options.isEmpty() ? List.of() : List.of(options.split(" ")));
            Run run = run(words.toArray(String[]::new));
            assertThat(run.code()).as(survey + " " + options).isEqualTo(code);
            assertThat(run.out().lines().reduce((first, second) -> second).orElseThrow())
                    .startsWith("Not told: ")
                    .contains("questions about ", "{\"Effect\":\"Allow\",\"Action\":[", "\"s3:ListAllMyBuckets\"");
        }
    }

    @Test
    void letsPassWhatOnlySmallChecksCouldNotTell() throws IOException {
        String healthy = refused(line -> isOf(line, "bucket-logging")).toString();
        String site = "--site=www.heronferry.example";
        String[] words = {"audit", "--survey", healthy, AT, site};
        assertThat(run(words).code()).isZero();
        String[] low = {"audit", "--survey", healthy, AT, site, "--strict"};
        assertThat(run(low).code()).isEqualTo(run(words).out().contains("Not told") ? 5 : 0);
    }

    /** A site is no island: who may publish it is asked of the account. */
    @Test
    void keepsWhatIsOpenForTheAccountWhenOneSiteIsAskedFor() throws IOException {
        String survey = refused(line -> isOf(line, "iam-role", "iam-user")).toString();
        Run run = run("audit", "--survey", survey, AT, "--site", "www.heronferry.example");
        assertThat(run.code()).isEqualTo(5);
        assertThat(run.out()).contains("Not told: ").doesNotContain("healthy");
    }

    @Test
    void aFindingGoesBeforeAnUnknown() throws IOException {
        String survey = refused(line -> isOf(line, "bucket-policy")).toString();
        assertThat(run("audit", "--survey", survey, AT).code()).isEqualTo(1);
    }

    @Test
    void refusesToBeBothStrictAndLenient() {
        Run run = run("audit", "--survey", Program.DEMO.toString(), "--strict", "--allow-unknown");
        assertThat(run.code()).isEqualTo(2);
        assertThat(run.err()).contains("contradict each other");
    }

    @Test
    void showsWhatIsListedAndUnreadInItsTables() throws IOException {
        String survey = refused(line -> !isOf(line, "bucket-list", "distribution-list", "zone-list"))
                .toString();
        String text = run("audit", "--survey", survey, AT).out();
        assertThat(text)
                .containsPattern("(?m)^heronferry-deploy-state +bucket, not read ")
                .containsPattern("(?m)^timetables.heronferry.example +not known ");
        assertThat(sums(text)).isEqualTo(counts(survey).get("unknown").asLong());
        String markdown = report("markdown", survey);
        assertThat(markdown).contains("| heronferry-deploy-state | bucket, not read | ", "(no site");
        assertThat(report("html", survey)).contains("heronferry-deploy-state</th>", "bucket, not read");
    }

    private static long sums(String text) {
        return text.lines()
                .dropWhile(line -> !line.startsWith("Site "))
                .skip(1)
                .takeWhile(line -> !line.isEmpty())
                .map(line -> line.substring(60).trim().split(" +")[4])
                .mapToLong(word -> word.equals("-") ? 0 : Long.parseLong(word))
                .sum();
    }

    private static JsonNode counts(String survey) {
        return MAPPER.readTree(
                        run("audit", "--survey", survey, AT, "--format", "json").out())
                .get("counts");
    }

    private String report(String format, String survey, String... more) {
        Path file = folder.resolve("report." + format);
        List<String> words = new ArrayList<>(
                List.of("audit", "--survey", survey, AT, "--gate", "never", "--report", format + "=" + file, "--full"));
        words.addAll(List.of(more));
        assertThat(run(words.toArray(String[]::new)).code()).isZero();
        return Program.read(file);
    }

    /** The gate decides what fails; how bad it is, it does not decide. */
    @Test
    void theHeadlineIsThatOfTheWorstFinding() throws IOException {
        String demo = Program.DEMO.toString();
        assertThat(report("html", demo)).contains("<h1 class=\"bad\">4 critical findings: act today</h1>");
        assertThat(report("markdown", demo)).startsWith("## Gentle Warden: 4 critical findings: act today\n");
        assertThat(report("html", demo, "--only", "leftover-certificate"))
                .contains("<h1 class=\"open\">Nothing urgent: 1 low finding at worst</h1>");
        String open =
                refused(line -> isOf(line, "bucket-versioning", "certificate")).toString();
        assertThat(report("markdown", open, "--only", "versioning-off")).doesNotContain("Nothing urgent");
        assertThat(report("markdown", demo, "--site", "www.heronferry.example"))
                .startsWith("## Gentle Warden: Nothing is wrong\n");
    }

    @Test
    void saysOfAManagedFrontThatItIsNotJudged() {
        String demo = Program.DEMO.toString();
        assertThat(run("audit", "--survey", demo, AT).out())
                .containsPattern("(?m)^tides.heronferry.example +managed-front .*  not judged$")
                .containsPattern("(?m)^heronferry.example +sealed-bucket-behind-cdn .*  healthy$");
        assertThat(report("html", demo)).contains("Not judged.");
    }

    @Test
    void aWaiverCoversAQuestionToo() throws IOException {
        String survey = refused(line -> isOf(line, "account-summary")).toString();
        Path file = folder.resolve("warden.yaml");
        Files.writeString(file, """
                waivers:
                  - {check: root-key, subject: "*", until: 2027-01-01, reason: seen in the console}
                """);
        String[] words = {"audit", "--survey", survey, AT, "--only", "root-key", "--format", "json"};
        assertThat(run(words).code()).isEqualTo(5);
        String[] waived = {
            "audit", "--survey", survey, AT, "--only", "root-key", "--format", "json", "-c", file.toString()
        };
        Run run = run(waived);
        assertThat(run.code()).isZero();
        assertValid("report", run.out());
        JsonNode report = MAPPER.readTree(run.out());
        assertThat(report.get("unknown")).isEmpty();
        assertThat(report.get("waived")).singleElement().satisfies(each -> {
            assertThat(each.get("check").asString()).isEqualTo("root-key");
            assertThat(each.get("needs").get(0).get("aspect").asString()).isEqualTo("account-summary");
            assertThat(each.get("until").asString()).isEqualTo("2027-01-01");
        });
        assertThat(report.get("counts").get("waived").asInt()).isEqualTo(1);
        assertThat(run("audit", "--survey", survey, AT, "--only", "root-key", "-c", file.toString())
                        .out())
                .contains("waived    Not known of ", "[root-key] until 2027-01-01");
    }

    @Test
    void callsAWaiverUnmatchedOnlyWhenItsCheckRan() throws IOException {
        Path file = Files.writeString(folder.resolve("warden.yaml"), """
                waivers:
                  - {check: key-old, subject: nobody, until: 2027-01-01, reason: none}
                  - {check: content-secret, subject: "*", until: 2027-01-01, reason: none}
                  - {check: versioning-off, subject: "*timetables*", until: 2027-01-01, reason: none}
                """);
        String[] all = {"audit", "--survey", Program.DEMO.toString(), AT, "-c", file.toString()};
        assertThat(idle(run(all).out())).containsExactly("key-old");
        String[] one = {"audit", "--survey", Program.DEMO.toString(), AT, "-c", file.toString(), "--only", "root-key"};
        assertThat(idle(run(one).out())).isEmpty();
        // What another site's findings match is matched.
        String[] site = {
            "audit", "--survey", Program.DEMO.toString(), AT, "-c", file.toString(), "--site", "www.heronferry.example"
        };
        assertThat(idle(run(site).out())).containsExactly("key-old");
    }

    private static List<String> idle(String text) {
        return text.lines()
                .filter(line -> line.startsWith("waiver    The waiver of "))
                .map(line -> line.split(" +")[4])
                .toList();
    }

    @Test
    void countsOnlyWhatIsNewAgainstAnEarlierReport() throws IOException {
        String demo = Program.DEMO.toString();
        String whole = run("audit", "--survey", demo, AT, "--format", "json").out();
        Path earlier = Files.writeString(folder.resolve("earlier.json"), whole);
        String[] again = {"audit", "--survey", demo, AT, "--format", "json", "--since", earlier.toString()};
        Run same = run(again);
        assertThat(same.code()).isZero();
        assertValid("report", same.out());
        JsonNode since = MAPPER.readTree(same.out()).get("since");
        assertThat(since.get("new").asInt()).isZero();
        assertThat(since.get("old").asInt()).isEqualTo(52);
        assertThat(since.get("gone")).isEmpty();

        // A report that lacks the worst, and knows one more.
        List<String> fingerprints = new ArrayList<>();
        MAPPER.readTree(whole)
                .get("findings")
                .forEach(each -> fingerprints.add(each.get("fingerprint").asString()));
        String other = whole.replace("\"" + fingerprints.get(0) + "\"", "\"0123456789abcdef\"");
        Files.writeString(earlier, other);
        Run worse = run(again);
        assertThat(worse.code()).isEqualTo(1);
        JsonNode report = MAPPER.readTree(worse.out());
        assertThat(report.get("since").get("new").asInt()).isEqualTo(1);
        assertThat(report.get("since").get("gone").get(0).asString()).isEqualTo("0123456789abcdef");
        assertThat(report.get("findings").get(0).get("new").asBoolean()).isTrue();
        assertThat(report.get("findings").get(1).get("new").asBoolean()).isFalse();
        assertThat(run("audit", "--survey", demo, AT, "--since", earlier.toString())
                        .out())
                .contains("[publisher-is-admin] (new)", ": 1 new, 51 old, 1 gone.", "1 new at or above the gate");
    }

    /** What was not read any more is not gone. */
    @Test
    void saysWhatCannotBeToldToBeGone() throws IOException {
        Path earlier = Files.writeString(
                folder.resolve("earlier.json"),
                run("audit", "--survey", Program.DEMO.toString(), AT, "--format", "json")
                        .out());
        String survey = refused(line -> isOf(line, "bucket-versioning")).toString();
        String json = run(
                        "audit",
                        "--survey",
                        survey,
                        AT,
                        "--format",
                        "json",
                        "--since",
                        earlier.toString(),
                        "--only",
                        "versioning-off")
                .out();
        JsonNode since = MAPPER.readTree(json).get("since");
        assertThat(since.get("gone")).isEmpty();
        assertThat(since.get("unanswered").size()).isGreaterThan(40);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "nothing|this is not JSON",
                "{}|this is no audit report",
                "{\"report\":2,\"findings\":[]}|of version 2",
                "{\"report\":1,\"findings\":[{\"check\":\"a\"}]}|finding 1 lacks",
                "{\"report\":1,\"survey\":[{\"file\":\"x\",\"account\":\"109876543210\"}],\"findings\":[]}|of account 109876543210"
            })
    void refusesWhatIsNoReportOfTheAccount(String text, String says) throws IOException {
        Path file = Files.writeString(folder.resolve("earlier.json"), text);
        Run run = run("audit", "--survey", Program.DEMO.toString(), AT, "--since", file.toString());
        assertThat(run.code()).isEqualTo(3);
        assertThat(run.err().lines()).hasSize(1);
        assertThat(run.err()).contains(says);
        assertThat(run("audit", "--since", folder + "/none", "--survey", Program.DEMO.toString())
                        .code())
                .isEqualTo(3);
    }

    @Test
    void replacesNoInput() throws IOException {
        Path survey = Files.writeString(folder.resolve("s.ndjson"), Program.demo());
        Path link = Files.createSymbolicLink(folder.resolve("link"), survey);
        Path site = Files.writeString(folder.resolve("warden.yaml"), "gate: high\n");
        Path page = Files.writeString(
                Files.createDirectory(folder.resolve("public")).resolve("index.html"), "<p>x</p>");
        for (List<String> words : List.of(
                List.of("audit", "-o", survey.toString()),
                List.of("audit", "-o", link.toString()),
                List.of("audit", "--report", "json=" + folder + "/../" + folder.getFileName() + "/s.ndjson"),
                List.of("audit", "-c", site.toString(), "--report", "html=" + site),
                List.of("audit", "-o", folder + "/a", "--report", "json=" + folder + "/a"),
                List.of("audit", "--publish", page.getParent().toString(), "-o", page.toString()),
                List.of("trace", "--all", "-o", survey.toString()),
                List.of("reach", "-o", survey.toString()),
                List.of("trim", "-o", survey.toString()))) {
            List<String> all = new ArrayList<>(words);
            all.addAll(List.of("--survey", survey.toString()));
            Run run = run(all.toArray(String[]::new));
            assertThat(run.code()).as(words.toString()).isEqualTo(2);
            assertThat(run.err()).contains("name ");
            assertThat(Files.readString(survey)).isEqualTo(Program.demo());
        }
        assertThat(Files.readString(site)).isEqualTo("gate: high\n");
    }

    @Test
    void keepsToTheHostsThatTheSurveyFollowed() throws IOException {
        String scoped = Program.demo()
                .lines()
                .map(line -> line.startsWith("{\"survey\"")
                        ? line.substring(0, line.length() - 1) + ",\"scope\":{\"hosts\":[\"WWW.heronferry.example\"]}}"
                        : line)
                .filter(line -> !line.contains("arn:aws:s3:::book") || line.contains("bucket-list"))
                .collect(Collectors.joining("\n"));
        Path survey = Files.writeString(folder.resolve("scoped.ndjson"), scoped);
        Run run = run("audit", "--survey", survey.toString(), AT, "--format", "json");
        JsonNode report = MAPPER.readTree(run.out());
        assertThat(report.get("sites").size()).isEqualTo(1);
        assertThat(report.get("sites").get(0).get("name").asString()).isEqualTo("heronferry.example");
        report.get("findings").forEach(finding -> assertThat(finding.get("site").isNull()
                        || finding.get("site").asString().equals("heronferry.example"))
                .isTrue());
        assertThat(report.get("unknown")).isEmpty();
    }

    @Test
    void aListThatWasNeverAskedForIsUnknownUnlessTheSurveyFollowsSomeHosts() throws IOException {
        String none = Program.demo()
                .lines()
                .filter(line -> !line.contains("\"bucket-list\"") && !line.contains("\"arn:aws:s3:::"))
                .collect(Collectors.joining("\n"));
        Path survey = Files.writeString(folder.resolve("none.ndjson"), none);
        Run run = run("audit", "--survey", survey.toString(), AT, "--only", "anyone-can-write");
        assertThat(run.code()).isEqualTo(5);
        assertThat(run.out()).contains("s3:ListAllMyBuckets");
    }
}
