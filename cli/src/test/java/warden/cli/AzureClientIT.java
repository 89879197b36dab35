package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.json.JsonMapper;
import warden.cli.Program.Run;
import warden.core.survey.SurveyLine.Outcome;
import warden.core.survey.SurveyReader;
import warden.standin.Faults;
import warden.standin.azure.AzureStandIn;

/** The second provider's official command line against the simulated subscription; left out where it is not installed. */
class AzureClientIT {
    private static final Path AZ = Path.of("/usr/bin/az");
    private static final String QUAYSIDE_PUBLISHER = "11111111-2222-4333-8444-555555555555";
    private static final String PUBLISHER = "22222222-3333-4444-8555-666666666666";
    private static final String SURVEYOR = "33333333-4444-4555-8666-777777777777";
    private static final JsonMapper JSON = JsonMapper.builder().build();
    private static final String GUID = "0c5f7a52-3b1d-4e57-9a0e-6f2d1b7c8e90";

    @TempDir
    private Path folder;

    private AzureStandIn standIn;

    private record Said(int code, String text) {}

    @BeforeEach
    void start() throws Exception {
        assumeTrue(Files.isExecutable(AZ), "az is not installed");
        standIn = AzureStandIn.start(
                DemoSurvey.quaysideText(), "survey.ndjson", Faults.none(), 0, folder, Clock.systemUTC());
        String url = standIn.endpoint();
        Path cloud = folder.resolve("cloud.json");
        Files.writeString(
                cloud,
                "{\"endpoints\":{\"resourceManager\":\"" + url + "\",\"management\":\"" + url
                        + "\",\"activeDirectory\":\"" + url + "/adfs\",\"activeDirectoryResourceId\":\"" + url
                        + "/arm\",\"activeDirectoryGraphResourceId\":\"" + url
                        + "/graph\",\"microsoftGraphResourceId\":\"" + url
                        + "/graph\"},\"suffixes\":{\"storageEndpoint\":\"localhost\"}}");
        run(List.of("az", "cloud", "register", "-n", "warden", "--cloud-config", "@" + cloud));
        run(List.of("az", "cloud", "set", "-n", "warden"));
    }

    @AfterEach
    void stop() {
        if (standIn != null) {
            standIn.close();
        }
    }

    private Said run(List<String> command) throws IOException, InterruptedException {
        ProcessBuilder builder =
                new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true);
        builder.environment().put("PATH", "/usr/bin:/bin");
        builder.environment().put("AZURE_CONFIG_DIR", folder.resolve("az").toString());
        builder.environment().put("REQUESTS_CA_BUNDLE", standIn.authority().toString());
        builder.environment().put("AZURE_CORE_COLLECT_TELEMETRY", "0");
        builder.environment().put("PYTHONWARNINGS", "ignore");
        builder.environment().put("ARM", standIn.endpoint());
        builder.environment().put("BLOBS", standIn.endpoint());
        builder.environment().put("GRAPH", standIn.endpoint() + "/graph");
        builder.environment().put("SUBSCRIPTION", GUID);
        Process process = builder.start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return new Said(process.waitFor(), said);
    }

    private void signIn(String client) throws IOException, InterruptedException {
        Said login = run(List.of("az", "login", "--service-principal", "-u", client, "-p", "any", "--tenant", "adfs"));
        assertThat(login.code()).as(login.text()).isZero();
    }

    private Said storage(String account, String... words) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of("az", "storage", "blob"));
        command.addAll(List.of(words));
        command.addAll(List.of("--auth-mode", "login", "--blob-endpoint", standIn.endpoint() + "/" + account));
        return run(command);
    }

    private Said purge(String below) throws IOException, InterruptedException {
        return run(List.of(
                "az",
                "rest",
                "--method",
                "post",
                "--body",
                "{\"contentPaths\":[\"/*\"]}",
                "--url",
                standIn.endpoint() + "/subscriptions/" + GUID
                        + "/resourceGroups/quayside-rg/providers/Microsoft.Cdn/profiles/" + below
                        + "/purge?api-version=2025-06-01"));
    }

    @Test
    void aDeploymentIsAllowedAndRefused() throws Exception {
        Path site = Files.createDirectories(folder.resolve("site/tides"));
        Files.writeString(folder.resolve("site/index.html"), "<title>menu</title>");
        Files.writeString(site.resolve("today.html"), "<title>tides</title>");
        signIn(PUBLISHER);
        Said uploaded = storage("harbourmenu", "upload-batch", "--overwrite", "-s", "site", "-d", "$web");
        assertThat(uploaded.code()).as(uploaded.text()).isZero();
        Said listed = storage("harbourmenu", "list", "-c", "$web", "--query", "[].name", "-o", "tsv");
        assertThat(listed.text()).contains("index.html", "tides/today.html", "404.html");
        Said deleted = storage("harbourmenu", "delete", "-c", "$web", "-n", "tides/today.html");
        assertThat(deleted.code()).as(deleted.text()).isZero();
        Said elsewhere = storage("quaysidewifi", "upload", "-f", "site/index.html", "-c", "$web", "-n", "x.html");
        assertThat(elsewhere.code()).isNotZero();
        assertThat(elsewhere.text()).contains("You do not have the required permissions");
        assertThat(purge("hsf-front/afdEndpoints/menu").code()).isZero();
        Said refused = purge("hsf-cdn/endpoints/quaysidewifi");
        assertThat(refused.code()).isNotZero();
        assertThat(refused.text()).contains("AuthorizationFailed");
    }

    @Test
    void theScriptGathersTheDemosReadings() throws Exception {
        Path script = folder.resolve("survey.sh");
        Files.writeString(
                script, Program.run("survey", "--script", "--provider", "azure").out());
        signIn(SURVEYOR);
        Said gathered =
                run(List.of("sh", script.toString(), folder.resolve("answers").toString()));
        assertThat(gathered.code()).as(gathered.text()).isZero();
        Path survey = folder.resolve("survey.ndjson");
        Run made = Program.run("survey", "--folder", folder.resolve("answers").toString(), "-o", survey.toString());
        assertThat(made.code()).as(made.err()).isZero();
        TreeMap<String, String> answers = new TreeMap<>();
        SurveyReader.read(
                Files.newInputStream(survey),
                "survey.ndjson",
                line -> answers.put(line.aspect() + " " + line.of(), line.outcome() + " " + line.body()));
        SurveyReader.read(
                new java.io.ByteArrayInputStream(DemoSurvey.quaysideText().getBytes(StandardCharsets.UTF_8)),
                "demo",
                line -> {
                    if (!line.aspect().equals("pipeline-file")) {
                        String answer = answers.get(line.aspect() + " " + line.of());
                        assertThat(answer)
                                .as(line.aspect() + " " + line.of())
                                .startsWith(String.valueOf(line.outcome()));
                        if (line.outcome() == Outcome.FOUND) {
                            // The command prints members in the order of the alphabet.
                            assertThat(JSON.readTree(answer.substring("FOUND ".length())))
                                    .as(line.aspect() + " " + line.of())
                                    .isEqualTo(JSON.readTree(line.body()));
                        }
                    }
                });
    }

    /** The scripts that mend writes, run by the command: the state is what was promised, and afterwards what it was. */
    @Test
    void whatMendProposesIsAppliedAndTakenBack() throws Exception {
        Path survey = Files.writeString(folder.resolve("quayside.ndjson"), DemoSurvey.quaysideText());
        Path mended = folder.resolve("mended");
        Program.run("mend", "--survey", survey.toString(), "--at=2026-11-24", "-o", mended.toString());
        signIn(QUAYSIDE_PUBLISHER);
        var before = readings(standIn.state());
        Said applied = run(List.of(mended.resolve("apply.sh").toString()));
        assertThat(applied.code()).as(applied.text()).isZero();
        assertThat(readings(standIn.state())).isEqualTo(readings(Files.readString(mended.resolve("after.ndjson"))));
        Said undone = run(List.of(mended.resolve("undo.sh").toString()));
        assertThat(undone.code()).as(undone.text()).isZero();
        assertThat(readings(standIn.state())).isEqualTo(before);
    }

    private static TreeMap<String, Object> readings(String survey) {
        TreeMap<String, Object> readings = new TreeMap<>();
        survey.lines().skip(1).forEach(text -> {
            var line = JSON.readTree(text);
            readings.put(
                    line.path("aspect").asString() + " " + line.path("of").asString(),
                    line.has("found") ? line.get("found") : line);
        });
        return readings;
    }
}
