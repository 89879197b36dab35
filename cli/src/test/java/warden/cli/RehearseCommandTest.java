package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.cli.Program.Run;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.standin.Faults;
import warden.standin.aws.StandIn;

/** A deployment of one's own, a small program, is run against the simulated account. */
class RehearseCommandTest {
    /** Sends its arguments as requests, signed as whoever its environment says; the exit code tells how many were refused. */
    private static final String DEPLOY = """
            import java.net.URI;
            import java.net.http.HttpClient;
            import java.net.http.HttpRequest;
            import java.net.http.HttpResponse.BodyHandlers;

            class Deploy {
                public static void main(String[] requests) throws Exception {
                    int refused = 0;
                    for (String each : requests) {
                        String[] words = each.split(" ", 3);
                        HttpRequest.Builder request = HttpRequest.newBuilder(
                                        URI.create(System.getenv("AWS_ENDPOINT_URL") + words[1]))
                                .header("Authorization", "AWS4-HMAC-SHA256 Credential=" + System.getenv("AWS_ACCESS_KEY_ID")
                                        + "/20261124/" + System.getenv("AWS_REGION") + "/s3/aws4_request, Signature=0")
                                .method(words[0], words.length > 2
                                        ? HttpRequest.BodyPublishers.ofString(words[2])
                                        : HttpRequest.BodyPublishers.noBody());
                        if (System.getenv("AWS_SESSION_TOKEN") != null) {
                            request.header("x-amz-security-token", System.getenv("AWS_SESSION_TOKEN"));
                        }
                        if (HttpClient.newHttpClient().send(request.build(), BodyHandlers.ofString()).statusCode() >= 400) {
                            refused++;
                        }
                    }
                    System.exit(refused);
                }
            }
            """;

    private static final String WWW = "/heronferry-www-content";
    private static final String PUBLISHER = "arn:aws:iam::210987654321:role/www-publisher";

    @TempDir
    private Path folder;

    private Path record() {
        return folder.resolve("record.ndjson");
    }

    private Run rehearse(List<String> options, String... requests) throws IOException {
        Path deploy = Files.writeString(folder.resolve("Deploy.java"), DEPLOY);
        List<String> command = new ArrayList<>(
                List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString(), deploy.toString()));
        command.addAll(List.of(requests));
        return run(options, command.toArray(String[]::new));
    }

    private Run run(List<String> options, String... command) {
        List<String> words = new ArrayList<>(List.of(
                "rehearse",
                "--survey",
                Program.DEMO.toString(),
                "--as",
                "www-publisher",
                "--record",
                record().toString()));
        words.addAll(options);
        words.add("--");
        words.addAll(List.of(command));
        return Program.run(words.toArray(String[]::new));
    }

    private static JsonPart json(String text) {
        return JsonReader.read(text).root().orElseThrow();
    }

    @Test
    void tellsWhatADeploymentNeedsAndChanges() throws Exception {
        Run run = rehearse(
                List.of("--format", "json"),
                "GET " + WWW + "?list-type=2",
                "PUT " + WWW + "/assets/app.js.map {}",
                "DELETE " + WWW + "/index.html");
        assertThat(run.code()).as(run.err()).isZero();
        assertThat(run.out()).isEmpty();
        Program.assertValid("rehearsal", run.err());
        JsonPart said = json(run.err());
        assertThat(said.flag("works")).contains(true);
        assertThat(said.list("needed"))
                .extracting(each -> each.text("action").orElse(""), each -> each.text("on")
                        .orElse(""))
                .containsExactly(
                        tuple("s3:DeleteObject", "arn:aws:s3:::heronferry-www-content/*"),
                        tuple("s3:ListBucket", "arn:aws:s3:::heronferry-www-content"),
                        tuple("s3:PutObject", "arn:aws:s3:::heronferry-www-content/assets/*"));
        assertThat(said.list("notable"))
                .extracting(each -> each.text("why").orElse(""))
                .containsExactly("the index document is gone", "a source map, from which the sources can be read");
        assertThat(said.list("visits")).anySatisfy(visit -> {
            assertThat(visit.flag("worse")).contains(true);
            assertThat(visit.text("url").orElse("")).contains("heronferry.example");
        });
        assertThat(said.list("notInvalidated"))
                .extracting(each -> each.scalar().orElse("").replaceFirst(".* ", ""))
                .containsExactly("/index.html", "/");
        List<String> lines = Files.readAllLines(record());
        assertThat(lines).hasSize(5).allSatisfy(line -> Program.assertValid("rehearsal-line", line));
        assertThat(lines.get(0)).contains("\"rehearsal\":1", "\"as\":\"" + PUBLISHER + "\"");
        assertThat(lines.get(4)).isEqualTo("{\"ended\":0,\"calls\":3,\"refused\":0}");
    }

    @Test
    void aRefusalGoesBeforeTheCommandsOwnFailure() throws Exception {
        Run run = rehearse(List.of(), "GET " + WWW + "?policy");
        assertThat(run.code()).isEqualTo(ExitCode.FOUND.number());
        assertThat(run.err())
                .contains(
                        "The deployment would not work",
                        "The command ended with 1.",
                        "s3:GetBucketPolicy on arn:aws:s3:::heronferry-www-content, needed by call 1 (GetBucketPolicy)",
                        "\"Action\": \"s3:GetBucketPolicy\"");
        // With the statement that it proposes, nothing is refused any more.
        int from = run.err().indexOf("  {");
        Path policy = Files.writeString(
                folder.resolve("policy.json"),
                run.err().substring(from, run.err().indexOf("\n\n", from)));
        Run again = rehearse(List.of("--with-policy", policy.toString()), "GET " + WWW + "?policy");
        assertThat(again.err()).contains("The deployment would work");
        assertThat(again.code()).isZero();
        assertThat(rehearse(List.of("--with-policy", policy.toString()), "GET " + WWW + "?list-type=2")
                        .code())
                .isEqualTo(ExitCode.FOUND.number());
    }

    @Test
    void coloursAreWhole() throws Exception {
        Run run =
                rehearse(List.of("--color", "always"), "PUT " + WWW + "/a.js.map {}", "DELETE " + WWW + "/index.html");
        assertThat(run.err())
                .contains("\u001b[32mThe deployment would work", "look at a.js.map")
                .doesNotContain("\uFFFD");
    }

    @Test
    void measuresTheWholeWhereNothingIsRefused() throws Exception {
        Run run = rehearse(List.of("--keep-going"), "GET " + WWW + "?policy", "DELETE " + WWW + "?policy");
        assertThat(run.code()).isEqualTo(ExitCode.FOUND.number());
        assertThat(run.err())
                .contains("The deployment would be refused", "Would have been refused", "s3:DeleteBucketPolicy");
    }

    @Test
    void whatIsNotSimulatedIsNoProof() throws Exception {
        Run run = rehearse(List.of(), "GET " + WWW + "?accelerate");
        assertThat(run.err()).contains("is not known", "so that this is no proof");
        assertThat(run.code()).isEqualTo(ExitCode.COMMAND_FAILED.number());
    }

    @Test
    void tellsOwnFailuresAndWhatCannotBeStarted() {
        assertThat(run(List.of(), "sh", "-c", "exit 254").code()).isEqualTo(ExitCode.COMMAND_FAILED.number());
        Run signal = run(List.of(), "sh", "-c", "kill -9 $$");
        assertThat(signal.code()).isEqualTo(ExitCode.COMMAND_FAILED.number());
        assertThat(signal.err()).contains("ended by a signal");
        Run missing = run(List.of(), "no-such-program-at-all");
        assertThat(missing.code()).isEqualTo(ExitCode.WRONG_COMMAND.number());
        assertThat(missing.err()).contains("no-such-program-at-all: cannot be started (no folder of PATH has it)");
        Run nobody = Program.run("rehearse", "--survey", Program.DEMO.toString(), "--as", "no-such-role", "--", "true");
        assertThat(nobody.code()).isEqualTo(ExitCode.WRONG_COMMAND.number());
        assertThat(nobody.err()).contains("--as: the survey describes no user or role no-such-role");
    }

    @Test
    void endsWhatTheCommandLeavesBehind() throws Exception {
        Path pid = folder.resolve("pid");
        Run run = run(List.of(), "sh", "-c", "sleep 300 & echo $! >" + pid);
        assertThat(run.code()).isZero();
        long left = Long.parseLong(Files.readString(pid).strip());
        for (int tenths = 0; tenths < 50 && isAlive(left); tenths++) {
            Thread.sleep(100);
        }
        assertThat(isAlive(left)).isFalse();
    }

    private static boolean isAlive(long pid) {
        return ProcessHandle.of(pid).filter(ProcessHandle::isAlive).isPresent();
    }

    @Test
    void otherHostsAreRefusedAndSaid() throws Exception {
        Path ask = Files.writeString(folder.resolve("Ask.java"), """
                import java.io.InputStream;
                import java.net.Socket;
                import java.net.URI;

                class Ask {
                    public static void main(String[] lines) throws Exception {
                        URI proxy = URI.create(System.getenv("HTTPS_PROXY"));
                        for (String line : lines) {
                            try (Socket socket = new Socket(proxy.getHost(), proxy.getPort())) {
                                socket.getOutputStream().write((line + " HTTP/1.1\\r\\nHost: x\\r\\n\\r\\n").getBytes());
                                String status = new String(socket.getInputStream().readNBytes(12));
                                if (!status.equals("HTTP/1.1 403")) {
                                    System.exit(9);
                                }
                            }
                        }
                    }
                }
                """);
        Run run = run(
                List.of(),
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                ask.toString(),
                "CONNECT registry.example:443",
                "GET http://registry.example/x");
        assertThat(run.code()).as(run.err()).isZero();
        assertThat(run.err()).contains("registry.example, 2 times", "--let-through HOST");
    }

    @Test
    void nothingOfTheRealAccountIsLeftInTheEnvironment() throws Exception {
        try (StandIn standIn = Program.standIn(Files.readString(Program.DEMO), Faults.none())) {
            Map<String, String> inner = RehearsalEnvironment.of(
                    Map.of(
                            "PATH", "/bin",
                            "AWS_PROFILE", "production",
                            "AWS_CA_BUNDLE", "/ca.pem",
                            "AWS_CONTAINER_CREDENTIALS_FULL_URI", "http://169.254.170.2/",
                            "AWS_WEB_IDENTITY_TOKEN_FILE", "/token",
                            "no_proxy", "amazonaws.com"),
                    standIn,
                    new StandIn.Credentials("STANDINX", "made-up", Optional.of("token")),
                    "eu-west-1",
                    1234,
                    Files.createFile(folder.resolve("authority.pem")),
                    false,
                    folder);
            assertThat(inner)
                    .containsEntry("PATH", "/bin")
                    .containsEntry("AWS_ACCESS_KEY_ID", "STANDINX")
                    .containsEntry("AWS_SESSION_TOKEN", "token")
                    .containsEntry("AWS_ENDPOINT_URL", standIn.endpoint())
                    .containsEntry("AWS_EC2_METADATA_DISABLED", "true")
                    .containsEntry("https_proxy", "http://127.0.0.1:1234")
                    .containsEntry("no_proxy", "127.0.0.1,localhost,::1")
                    .doesNotContainKeys(
                            "AWS_PROFILE",
                            "AWS_CA_BUNDLE",
                            "AWS_CONTAINER_CREDENTIALS_FULL_URI",
                            "AWS_WEB_IDENTITY_TOKEN_FILE");
            assertThat(Path.of(inner.get("AWS_CONFIG_FILE"))).isEmptyFile();
        }
    }

    @Test
    void trimTakesARecordForWhatADeploymentNeeds() throws Exception {
        rehearse(List.of(), "GET " + WWW + "?list-type=2", "PUT " + WWW + "/assets/a.css a");
        List<String> trim = List.of(
                "trim", "--survey", Program.DEMO.toString(), "--credential", "www-publisher", "--format", "json");
        List<String> words = new ArrayList<>(trim);
        words.addAll(List.of("--rehearsal", record().toString()));
        Run run = Program.run(words.toArray(String[]::new));
        assertThat(run.code()).as(run.err()).isZero();
        assertThat(run.out())
                .contains("\"evidence\" : \"rehearsal\"", "arn:aws:s3:::heronferry-www-content/assets/*")
                .doesNotContain("\"evidence\" : \"pipeline\"", "\"evidence\" : \"pattern\"");
        List<String> lines = Files.readAllLines(record());
        Files.write(record(), lines.subList(0, lines.size() - 1));
        assertThat(Program.run(words.toArray(String[]::new)).err()).contains("the rehearsal was interrupted");
        Files.writeString(record(), String.join("\n", lines.subList(0, 2)) + "\n{\"n\":2,\"servi");
        assertThat(Program.run(words.toArray(String[]::new)).code()).isZero();
        Files.writeString(record(), "{\"other\":1}\n");
        Run other = Program.run(words.toArray(String[]::new));
        assertThat(other.code()).isEqualTo(ExitCode.WRONG_INPUT.number());
        assertThat(other.err()).contains("is not the record of a rehearsal");
    }

    @Test
    void anEnvironmentThatCannotBeWrittenIsSaid() {
        assertThatThrownBy(() -> new RehearsalLog(PUBLISHER, folder.resolve("none/record"), line -> line))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("--record");
    }
}
