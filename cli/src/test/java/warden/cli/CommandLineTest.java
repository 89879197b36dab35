package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.cli.Program.assertValid;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import picocli.CommandLine;
import warden.cli.Program.Run;
import warden.core.CheckCatalogue;
import warden.core.audit.Check;

class CommandLineTest {
    private static final Path DEMO = Program.DEMO;
    private static final String SURVEY = DEMO.toString();
    private static final String AT = "--at=2026-11-24";

    @TempDir
    private Path folder;

    private static Run run(String input, String... arguments) {
        return Program.runOn(input, arguments);
    }

    @Test
    void auditsTheDemoWithTheSameBytesEachTime() throws IOException {
        Run first = run("", "audit", "--survey", SURVEY, AT, "--format", "json");
        assertThat(first.code()).isEqualTo(1);
        assertThat(run("", "audit", "-s", SURVEY, AT, "--format=json").out()).isEqualTo(first.out());
        assertValid("report", first.out());
    }

    @Test
    void findsNothingAboutTheHealthyMainSite() {
        Run run = run(
                "", "audit", "--survey", SURVEY, AT, "--site", "www.heronferry.example", "--gate", "low", "--strict");
        assertThat(run.code()).isZero();
        assertThat(run.out()).contains("No findings.");
    }

    @Test
    void runsTheDemoFromWhatTheProgramCarries() {
        Run run = run("", "demo", AT);
        assertThat(run.code()).isZero();
        assertThat(run.out()).contains("CRITICAL", "record-dangling", "Try next:");
        assertThat(run.out()).contains("exit code 0").doesNotContain("exit code 1");
        Run screen = Program.onTerminal(100, "demo", AT);
        assertThat(screen.out().lines())
                .hasSizeLessThanOrEqualTo(23)
                .allMatch(line -> line.codePointCount(0, line.length()) <= 100);
        assertThat(screen.out()).contains("STRANGERS CAN", "Try next:");
    }

    @ParameterizedTest
    @CsvSource({"never, 0", "critical, 1", "high, 1"})
    void endsAsTheGateSays(String gate, int code) {
        assertThat(run("", "audit", "--survey", SURVEY, AT, "--gate", gate).code())
                .isEqualTo(code);
    }

    @Test
    void failsOnUnknownsWhenStrict() throws IOException {
        Path survey = folder.resolve("s.ndjson");
        Files.writeString(
                survey,
                "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\"}\n"
                        + "{\"aspect\":\"bucket-policy\",\"of\":\"arn:aws:s3:::b\",\"unread\":{\"code\":\"AccessDenied\"}}\n");
        Run run = run("", "audit", "--survey", survey.toString(), "--strict", "--gate", "critical");
        assertThat(run.code()).isEqualTo(5);
        assertThat(run.out()).contains("s3:GetBucketPolicy would settle it");
        assertThat(run("", "audit", "--survey", survey.toString(), "--gate", "critical", "--allow-unknown")
                        .code())
                .isZero();
    }

    @Test
    void readsCompressedSurveysAndStandardInput() throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(bytes)) {
            gzip.write(Files.readAllBytes(DEMO));
        }
        Path compressed = folder.resolve("s.ndjson.gz");
        Files.write(compressed, bytes.toByteArray());
        assertThat(run("", "audit", "--survey", compressed.toString(), AT).code())
                .isEqualTo(1);
        assertThat(run(Files.readString(DEMO), "audit", "--survey", "-", AT).code())
                .isEqualTo(1);
        Files.write(compressed, List.of("x"));
        byte[] cut = java.util.Arrays.copyOf(bytes.toByteArray(), bytes.size() / 2);
        Files.write(compressed, cut);
        assertThat(run("", "audit", "--survey", compressed.toString()).err())
                .contains("the compressed file is cut off");
    }

    @Test
    void saysWhatIsWrongWithAnInputFile() throws IOException {
        Path broken = folder.resolve("broken.ndjson");
        Files.writeString(broken, "{\"survey\":1,\"provider\":\"aws\",\"account\":\"1\"}\n{oops\n");
        Path empty = Files.createFile(folder.resolve("empty"));
        for (Path bad : List.of(broken, empty, folder, folder.resolve("missing"))) {
            Run run = run("", "audit", "--survey", bad.toString());
            assertThat(run.code()).as(bad.toString()).isEqualTo(3);
            assertThat(run.err().lines()).hasSize(1).first().asString().startsWith("gentle-warden: " + bad);
            assertThat(run.out()).isEmpty();
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "audit --gate sometimes",
                "audit --only open-around-cd",
                "audit --at yesterday",
                "audit --nonsense",
                "checks open-around-cd",
                "reach --explain",
                "audit --site nowhere"
            })
    void refusesWrongCommandLines(String line) {
        String[] words =
                (line.isEmpty() ? "" : line + (line.startsWith("audit") ? " --survey " + SURVEY : "")).split(" ");
        Run run = run("", line.isEmpty() ? new String[0] : words);
        assertThat(run.code()).isEqualTo(2);
        assertThat(run.err()).startsWith("gentle-warden: ").doesNotContain("Exception");
    }

    @Test
    void printsACompletionScriptThatBashUnderstands() throws Exception {
        Run run = run("", "completion");
        assertThat(run.code()).isZero();
        assertThat(run.out())
                .contains("gentle-warden", "--site-file", "stand-in")
                .doesNotContain("\r");
        Path script = Files.writeString(folder.resolve("completion.sh"), run.out());
        Process bash = new ProcessBuilder("bash", "-n", script.toString())
                .redirectErrorStream(true)
                .start();
        assertThat(new String(bash.getInputStream().readAllBytes(), StandardCharsets.UTF_8))
                .isEmpty();
        assertThat(bash.waitFor()).isZero();
    }

    @Test
    void readsTheSiteFileAndNamesTheNearestWord() throws IOException {
        Path file = folder.resolve("warden.yaml");
        Files.writeString(file, "sites:\n  - name: x\n    hots: [a]\n");
        Run wrong = run("", "audit", "--survey", SURVEY, "--site-file", file.toString());
        assertThat(wrong.code()).isEqualTo(3);
        assertThat(wrong.err()).contains("warden.yaml:3:5: a site has no member \"hots\"; perhaps hosts was meant");
        Files.writeString(
                file,
                "trusted-accounts: [\"109876543210\"]\ngate: critical\nwaivers:\n  - check: record-dangling\n"
                        + "    subject: crew.*\n    until: 2026-11-24\n    reason: agreed\n");
        Run waived = run("", "audit", "--survey", SURVEY, AT, "-c", file.toString(), "--only", "record-dangling");
        assertThat(waived.code()).isZero();
        assertThat(waived.out()).contains("waived");
        Run after = run(
                "", "audit", "--survey", SURVEY, "--at=2026-11-25", "-c", file.toString(), "--only", "record-dangling");
        assertThat(after.code()).isEqualTo(1);
    }

    @Test
    void writesTheOutputWholeOrNotAtAll() throws IOException {
        Path output = folder.resolve("report.json");
        Run run = run("", "audit", "--survey", SURVEY, AT, "--format", "json", "-o", output.toString());
        assertThat(run.out()).isEmpty();
        assertValid("report", Files.readString(output));
        assertThat(run(
                                "",
                                "audit",
                                "--survey",
                                SURVEY,
                                "-o",
                                folder.resolve("no/such/x").toString())
                        .code())
                .isEqualTo(2);
        try (var files = Files.list(folder)) {
            assertThat(files).containsExactly(output);
        }
    }

    @Test
    void showsTheMatrix() throws IOException {
        Run text = run("", "reach", "--survey", SURVEY, "--color", "always");
        assertThat(text.code()).isZero();
        assertThat(text.out()).contains("all !", "over TLS", "\u001b[");
        Run json = run("", "reach", "--survey", SURVEY, "--format", "json");
        assertValid("matrix", json.out());
        assertThat(run("", "reach", "--survey", SURVEY, "--site", "book.heronferry.example")
                        .out())
                .contains("book.heronferry.example")
                .doesNotContain("heronferry-deploy-state");
    }

    @Test
    void answersQuestionsInOrderWhateverALineContains() throws IOException {
        StringBuilder questions = new StringBuilder();
        for (int i = 0; i < 20_000; i++) {
            questions.append(
                    i % 7 == 3
                            ? "broken " + i + "\n"
                            : "{\"id\":" + i
                                    + ",\"who\":\"anyone\",\"action\":\"s3:GetObject\",\"on\":\"arn:aws:s3:::book.heronferry.example/x\"}\n");
        }
        Path file = folder.resolve("q.ndjson");
        Files.writeString(file, questions);
        Run run = run("", "reach", "--survey", SURVEY, "--questions", file.toString());
        assertThat(run.code()).isZero();
        List<String> answers = run.out().lines().toList();
        assertThat(answers).hasSize(20_000);
        for (int i = 0; i < answers.size(); i += 991) {
            assertThat(answers.get(i))
                    .startsWith(i % 7 == 3 ? "{\"id\":null,\"error\":" : "{\"id\":" + i + ",\"decision\":\"allow\"");
        }
        assertThat(run("", "reach", "--survey", SURVEY, "--questions", "nowhere")
                        .code())
                .isEqualTo(3);
    }

    @Test
    void takesOneSurveyOfEachAccount() {
        Run twice = run("", "audit", "--survey", SURVEY, "--survey", SURVEY);
        assertThat(twice.code()).isEqualTo(3);
        assertThat(twice.err())
                .contains(SURVEY + ": this is of account 210987654321, as is " + SURVEY)
                .contains("give one survey of each account");
        assertThat(twice.out()).isEmpty();
    }

    @Test
    void saysThatAStatedBucketIsNowhere() throws IOException {
        Path file =
                Files.writeString(folder.resolve("warden.yaml"), "sites:\n  - name: main\n    bucket: heron-typo\n");
        Run run = run("", "audit", "--survey", SURVEY, "--site-file", file.toString());
        assertThat(run.err())
                .contains("bucket \"heron-typo\" of the site \"main\" is in none of the surveyed accounts");
    }

    @Test
    void listsEveryCheckByItsWholeName() {
        String list = run("", "checks").out();
        for (Check check : CheckCatalogue.all()) {
            assertThat(list).contains("\n  " + check.card().id() + " ");
        }
        assertThat(list.lines()).allMatch(line -> line.length() <= 100);
    }

    @Test
    void keepsTheColumnsOfTheMatrixApart() throws IOException {
        String bucket = "arn:aws:s3:::" + "a".repeat(63);
        String policy = "{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':'*',"
                + "'Action':['s3:PutObject','s3:ListBucket','s3:ListBucketVersions'],'Resource':['BUCKET','BUCKET/*'],"
                + "'Condition':{'Bool':{'aws:SecureTransport':'true'}}}]}";
        Path survey = folder.resolve("s.ndjson");
        Files.writeString(
                survey,
                "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\"}\n"
                        + "{\"aspect\":\"bucket-policy\",\"of\":\"" + bucket + "\",\"found\":{\"Policy\":"
                        + policy.replace('\'', '"').replace("BUCKET", bucket) + "}}\n"
                        + "{\"aspect\":\"account-public-access\",\"of\":\"210987654321\",\"absent\":\"none\"}\n"
                        + "{\"aspect\":\"bucket-public-access\",\"of\":\"" + bucket + "\",\"absent\":\"none\"}\n"
                        + "{\"aspect\":\"bucket-encryption\",\"of\":\"" + bucket + "\",\"absent\":\"none\"}\n");
        assertThat(run("", "reach", "--survey", survey.toString(), "--color", "never")
                        .out())
                .containsPattern("(?m)^a+…a+ read")
                .containsPattern("anyone .*part, \\? ! +part, \\? ! ")
                // What is the same for several actors is said once.
                .contains(
                        "\n  anyone, any-account, list, write: at least over TLS, the rest not known: bucket-acl, bucket-ownership: never asked\n",
                        "\n  anyone, any-account, delete, change-rules: not known, bucket-acl, bucket-ownership: never asked\n");
    }

    @Test
    void readsASurveyFromAPipeThatTheShellNamesAsAFile() throws Exception {
        Path pipe = folder.resolve("pipe");
        assertThat(new ProcessBuilder("mkfifo", pipe.toString()).start().waitFor())
                .isZero();
        Process writer = new ProcessBuilder("cp", DEMO.toString(), pipe.toString()).start();
        Run run = run("", "audit", "--survey", pipe.toString(), "--at", "2026-11-24");
        assertThat(run.code()).as(run.err()).isEqualTo(1);
        assertThat(writer.waitFor()).isZero();
    }

    @Test
    void keepsTheDemoAndThePageOfChecksInStep() throws IOException {
        assertThat(Files.readString(Path.of("..", "docs", "checks.md")))
                .isEqualTo(run("", "checks", "--markdown").out());
        for (String line : Files.readAllLines(DEMO)) {
            assertValid("survey-line", line);
        }
    }

    @Test
    void showsNamesFromOutsideHarmlessly() throws IOException {
        Path survey = folder.resolve("s.ndjson");
        Files.writeString(
                survey,
                "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\"}\n"
                        + "{\"aspect\":\"bucket-cors\",\"of\":\"arn:aws:s3:::b\\u001b[31m\\u202e\",\"found\":{\"CORSRules\":"
                        + "[{\"AllowedMethods\":[\"PUT\"],\"AllowedOrigins\":[\"*\"]}]}}\n"
                        + "{\"aspect\":\"bucket-policy\",\"of\":\"arn:aws:s3:::b\\u001b[31m\\u202e\",\"found\":{\"Policy\":\"\\ud800\"}}\n");
        Run run = run("", "audit", "--survey", survey.toString(), "--color", "never");
        assertThat(run.code()).isEqualTo(1);
        assertThat(run.out()).contains("policy-invalid").doesNotContain("\u001b", "\u202e");
    }

    /** A parser sets the process' standard error for a moment, perhaps on another thread. */
    @Test
    void saysWhatIsWrongWhereItIsToldTo() {
        PrintStream error = System.err;
        StringWriter err = new StringWriter();
        CommandLine line = Main.commandLine(
                        new World(InputStream.nullInputStream(), Program.CLOCK, false, false), "trace")
                .setErr(new PrintWriter(err));
        System.setErr(new PrintStream(OutputStream.nullOutputStream(), false, StandardCharsets.UTF_8));
        try {
            line.execute("trace", "--survey", Program.DEMO.toString(), "ftp://www.heronferry.example/");
        } finally {
            System.setErr(error);
        }
        assertThat(err.toString()).contains("is no address of a web page");
    }
}
