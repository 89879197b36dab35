package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.azure.storage.blob.BlobServiceClientBuilder;
import com.azure.storage.common.StorageSharedKeyCredential;
import com.azure.storage.common.sas.AccountSasPermission;
import com.azure.storage.common.sas.AccountSasResourceType;
import com.azure.storage.common.sas.AccountSasService;
import com.azure.storage.common.sas.AccountSasSignatureValues;
import java.io.IOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.core.survey.SurveyReader;
import warden.standin.Faults;
import warden.standin.azure.AzureStandIn;

/**
 * Other clients of the second provider against the simulated subscription, the provider's own emulator as its witness, and the program itself as a
 * process that is killed. What is not installed leaves its test out.
 */
class AzureOtherClientsIT {
    private static final String PUBLISHER = "22222222-3333-4444-8555-666666666666";
    private static final String SURVEYOR = "33333333-4444-4555-8666-777777777777";
    private static final Path MODULES =
            Path.of("..", "target", "clients", "node_modules").toAbsolutePath();
    private static final Instant WRITTEN = Instant.parse("2026-11-20T08:00:00Z");

    @TempDir
    private Path folder;

    private AzureStandIn standIn;

    private record Said(int code, String text) {}

    @BeforeEach
    void start() throws Exception {
        start(Faults.none());
    }

    private void start(Faults faults) throws Exception {
        standIn = AzureStandIn.start(
                // The generic client and the emulator are spoken to over plain HTTP.
                DemoSurvey.quaysideText()
                        .replace("\"supportsHttpsTrafficOnly\":true", "\"supportsHttpsTrafficOnly\":false"),
                "survey.ndjson",
                faults,
                0,
                Files.createTempDirectory(folder, "keys"),
                Clock.systemUTC());
    }

    @AfterEach
    void stop() {
        standIn.close();
    }

    private Said run(Map<String, String> environment, List<String> command) throws IOException, InterruptedException {
        ProcessBuilder builder =
                new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true);
        builder.environment().putAll(environment);
        Process process = builder.start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return new Said(process.waitFor(), said);
    }

    private Path site() throws IOException {
        Path site = Files.createDirectories(folder.resolve("site/isles"));
        for (String name : List.of("index.html", "isles/Skerry ø & 100%.html", "404.html")) {
            Path file = folder.resolve("site").resolve(name);
            Files.writeString(file, "<title>" + name + "</title>");
            Files.setLastModifiedTime(file, FileTime.from(WRITTEN));
        }
        return site.getParent();
    }

    @Test
    void theOfficialClientForScriptsDeploysBySignIn() throws Exception {
        assumeTrue(Files.exists(MODULES.resolve("@azure/storage-blob")), "the client for JavaScript is not installed");
        site();
        Path script = folder.resolve("deploy.cjs");
        Files.writeString(script, """
                const {BlobServiceClient} = require('@azure/storage-blob');
                const {ClientSecretCredential} = require('@azure/identity');
                const fs = require('fs'), path = require('path');
                (async () => {
                  const url = process.env.URL;
                  const credential = new ClientSecretCredential('heron-sound', process.env.CLIENT, 'any',
                      {authorityHost: url, disableInstanceDiscovery: true});
                  const of = account => new BlobServiceClient(url + '/' + account, credential, {retryOptions: {maxTries: 1}})
                      .getContainerClient('$web');
                  const web = of('harbourmenu');
                  for (const name of fs.readdirSync('site', {recursive: true})) {
                    const file = path.join('site', name);
                    if (fs.statSync(file).isFile()) {
                      await web.getBlockBlobClient(name).uploadFile(file, {blobHTTPHeaders: {blobContentType: 'text/html'}});
                    }
                  }
                  const names = [];
                  for await (const blob of web.listBlobsFlat()) { names.push(blob.name); }
                  console.log('LISTED ' + names.join('|'));
                  await web.getBlobClient('404.html').delete();
                  console.log('GONE ' + !(await web.getBlobClient('404.html').exists()));
                  try { await of('quaysidewifi').getBlobClient('index.html').downloadToBuffer(); console.log('READ'); }
                  catch (refused) { console.log('REFUSED ' + refused.statusCode + ' ' + (refused.code ?? refused.details?.errorCode ?? refused.response?.headers?.get('x-ms-error-code'))); }
                })().catch(error => { console.log(error); process.exit(1); });
                """);
        Said said = run(
                Map.of(
                        "NODE_PATH", MODULES.toString(),
                        "NODE_EXTRA_CA_CERTS", standIn.authority().toString(),
                        "URL", standIn.endpoint(),
                        "CLIENT", PUBLISHER),
                List.of("node", script.toString()));
        assertThat(said.code()).as(said.text()).isZero();
        assertThat(said.text())
                .contains("LISTED 404.html|index.html|isles/Skerry ø & 100%.html|")
                .contains("GONE true")
                .contains("REFUSED 403 AuthorizationPermissionMismatch");
    }

    private String signature(String permissions) {
        return new BlobServiceClientBuilder()
                .endpoint(standIn.endpoint() + "/quaysidewifi")
                .credential(new StorageSharedKeyCredential("quaysidewifi", standIn.accountKey("quaysidewifi")))
                .buildClient()
                .generateAccountSas(new AccountSasSignatureValues(
                        OffsetDateTime.now().plusHours(1),
                        AccountSasPermission.parse(permissions),
                        new AccountSasService().setBlobAccess(true),
                        new AccountSasResourceType().setContainer(true).setObject(true)));
    }

    private Said rclone(String signature, String... words) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of("rclone"));
        command.addAll(List.of(words));
        command.addAll(List.of("--retries=1", "--low-level-retries=1", "--config", "/dev/null"));
        return run(
                Map.of(
                        "RCLONE_AZUREBLOB_SAS_URL",
                        "http://127.0.0.1:" + standIn.plainPort() + "/quaysidewifi?" + signature,
                        "PATH",
                        "/usr/bin:/bin"),
                command);
    }

    @Test
    void aGenericClientDeploysBySignedUrl() throws Exception {
        assumeTrue(Files.isExecutable(Path.of("/usr/bin/rclone")), "rclone is not installed");
        Path site = site();
        Said sync = rclone(signature("rwdlc"), "sync", site.toString(), ":azureblob:$web");
        assertThat(sync.code()).as(sync.text()).isZero();
        Said back = rclone(signature("rl"), "copy", ":azureblob:$web", "back");
        assertThat(back.code()).as(back.text()).isZero();
        try (Stream<Path> files = Files.walk(site)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                assertThat(folder.resolve("back").resolve(site.relativize(file)))
                        .hasSameBinaryContentAs(file);
            }
        }
        try (Stream<Path> files = Files.walk(folder.resolve("back"))) {
            assertThat(files.filter(Files::isRegularFile)).hasSize(3);
        }
        Said again = rclone(signature("rwdlc"), "sync", "-v", site.toString(), ":azureblob:$web");
        assertThat(again.text()).contains("There was nothing to transfer");
        Files.writeString(site.resolve("more.html"), "more");
        Said refused = rclone(signature("rl"), "copy", site.toString(), ":azureblob:$web");
        assertThat(refused.code()).isNotZero();
        assertThat(refused.text()).contains("AuthorizationPermissionMismatch");
    }

    /** One request to both; signatures are made for each by its own key. */
    private record Case(String method, String path, String permissions, Map<String, String> headers, String body) {}

    private static final List<Case> CASES = List.of(
            new Case("PUT", "exports/a.txt", "w", Map.of("x-ms-blob-type", "BlockBlob"), "hello"),
            new Case("GET", "exports/a.txt", "r", Map.of(), ""),
            new Case("GET", "exports/a.txt", "l", Map.of(), ""),
            new Case("GET", "exports/a.txt", "r", Map.of("x-ms-range", "bytes=1-3"), ""),
            new Case("GET", "exports/a.txt", "r", Map.of("x-ms-range", "bytes=10-12"), ""),
            new Case("HEAD", "exports/a.txt", "r", Map.of(), ""),
            new Case("HEAD", "exports/none.txt", "r", Map.of(), ""),
            new Case("GET", "exports/none.txt", "r", Map.of(), ""),
            new Case("GET", "nowhere/a.txt", "r", Map.of(), ""),
            new Case("PUT", "exports/b.txt", "r", Map.of("x-ms-blob-type", "BlockBlob"), "hello"),
            new Case("PUT", "exports/b.txt", "c", Map.of("x-ms-blob-type", "BlockBlob"), "hello"),
            new Case("PUT", "exports/b.txt", "c", Map.of("x-ms-blob-type", "BlockBlob"), "hello again"),
            new Case(
                    "PUT",
                    "exports/b.txt",
                    "w",
                    Map.of("x-ms-blob-type", "BlockBlob", "if-none-match", "*"),
                    "hello again"),
            new Case(
                    "PUT",
                    "exports/b.txt",
                    "w",
                    Map.of("x-ms-blob-type", "BlockBlob", "content-md5", "AAAAAAAAAAAAAAAAAAAAAA=="),
                    "x"),
            new Case("PUT", "exports/b.txt?comp=metadata", "w", Map.of("x-ms-meta-a", "1"), ""),
            new Case("PUT", "exports/b.txt?comp=properties", "w", Map.of("x-ms-blob-content-type", "text/css"), ""),
            new Case("GET", "exports/b.txt?comp=metadata", "r", Map.of(), ""),
            new Case("PUT", "exports/c.bin?comp=block&blockid=AA%3D%3D", "w", Map.of(), "one"),
            new Case(
                    "PUT",
                    "exports/c.bin?comp=blocklist",
                    "w",
                    Map.of(),
                    "<BlockList><Latest>AA==</Latest></BlockList>"),
            new Case(
                    "PUT",
                    "exports/c.bin?comp=blocklist",
                    "w",
                    Map.of(),
                    "<BlockList><Latest>ZZ==</Latest></BlockList>"),
            new Case("PUT", "exports/c.bin?comp=blocklist", "w", Map.of(), "<BlockList><Latest>"),
            new Case("GET", "exports/c.bin", "r", Map.of("if-match", "\"0xOTHER\""), ""),
            new Case("DELETE", "exports/c.bin", "w", Map.of(), ""),
            new Case("DELETE", "exports/c.bin", "d", Map.of(), ""),
            new Case("DELETE", "exports/c.bin", "d", Map.of(), ""),
            new Case("GET", "exports?restype=container&comp=list", "l", Map.of(), ""),
            new Case("GET", "exports?restype=container&comp=list", "r", Map.of(), ""),
            new Case("GET", "nowhere?restype=container&comp=list", "l", Map.of(), ""));

    private static String answer(HttpClient http, String base, String signature, Case each)
            throws IOException, InterruptedException {
        String url = base + "/" + each.path() + (each.path().contains("?") ? "&" : "?") + signature;
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(url))
                .header("x-ms-version", "2021-10-04")
                .method(each.method(), HttpRequest.BodyPublishers.ofString(each.body()));
        each.headers().forEach(request::header);
        HttpResponse<String> answer = http.send(request.build(), HttpResponse.BodyHandlers.ofString());
        String code = answer.headers().firstValue("x-ms-error-code").orElse("");
        return answer.statusCode() + " " + code
                + (answer.statusCode() == 200
                                && each.method().equals("GET")
                                && !each.path().contains("comp=")
                        ? " " + answer.body()
                        : "");
    }

    @Test
    void theEmulatorAnswersTheSame() throws Exception {
        Path main = MODULES.resolve("azurite/dist/src/blob/main.js");
        assumeTrue(Files.exists(main), "the emulator is not installed");
        int port;
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        ProcessBuilder builder = new ProcessBuilder(
                        "node",
                        main.toString(),
                        "--blobHost",
                        "127.0.0.1",
                        "--blobPort",
                        String.valueOf(port),
                        "--location",
                        Files.createDirectory(folder.resolve("emulated")).toString(),
                        "--disableTelemetry",
                        "--skipApiVersionCheck")
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("emulator.log").toFile());
        builder.environment().put("AZURITE_ACCOUNTS", "quaysidewifi:" + standIn.accountKey("quaysidewifi"));
        Process emulator = builder.start();
        try {
            String emulated = "http://127.0.0.1:" + port + "/quaysidewifi";
            var service = new BlobServiceClientBuilder()
                    .endpoint(emulated)
                    .credential(new StorageSharedKeyCredential("quaysidewifi", standIn.accountKey("quaysidewifi")))
                    .buildClient();
            long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(60);
            while (!Program.read(folder.resolve("emulator.log")).contains("listen") && System.nanoTime() < deadline) {
                Thread.sleep(100);
            }
            service.createBlobContainer("exports");
            HttpClient http = HttpClient.newHttpClient();
            List<String> ours = new ArrayList<>();
            List<String> theirs = new ArrayList<>();
            for (Case each : CASES) {
                String signature = signature(each.permissions());
                String what = each.method() + " " + each.path() + " with " + each.permissions() + ": ";
                String own = "http://127.0.0.1:" + standIn.plainPort() + "/quaysidewifi";
                ours.add(what + answer(http, own, signature, each));
                // The documented codes, which the emulator does not give.
                theirs.add(what
                        + answer(http, emulated, signature, each)
                                .replaceFirst("400 InvalidOperation$", "400 Md5Mismatch")
                                .replaceFirst("400 $", "400 InvalidXmlDocument"));
            }
            assertThat(ours).isEqualTo(theirs);
        } finally {
            emulator.destroyForcibly().waitFor();
        }
    }

    private static TreeMap<String, String> answers(Path survey) throws Exception {
        TreeMap<String, String> answers = new TreeMap<>();
        SurveyReader.read(
                Files.newInputStream(survey),
                "survey.ndjson",
                line -> answers.merge(
                        line.aspect() + " " + line.of(),
                        line.outcome() + " " + line.body(),
                        (one, other) -> one + " | " + other));
        return answers;
    }

    @Test
    void aKilledSurveyGoesOn() throws Exception {
        Path whole = folder.resolve("whole.ndjson");
        survey(whole, List.of()).waitFor();
        stop();
        start(new Faults(60, 0, 0, 0, Set.of()));
        Path survey = folder.resolve("survey.ndjson");
        Path part = folder.resolve("survey.ndjson.part");
        Process first = survey(survey, List.of());
        long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(60);
        while ((!Files.exists(part) || Files.readAllLines(part).size() < 12) && System.nanoTime() < deadline) {
            Thread.sleep(10);
        }
        first.destroyForcibly().waitFor();
        assertThat(survey).doesNotExist();
        int before = Files.readAllLines(part).size();
        assertThat(before).isGreaterThanOrEqualTo(12);
        Process second = survey(survey, List.of("--resume"));
        assertThat(second.waitFor()).as(Program.read(folder.resolve("said"))).isZero();
        assertThat(part).doesNotExist();
        assertThat(Files.readAllLines(survey).size()).isGreaterThan(before);
        assertThat(answers(survey)).isEqualTo(answers(whole)).isNotEmpty();
    }

    private Process survey(Path target, List<String> more) throws IOException {
        Path home = Path.of("..").toAbsolutePath().normalize();
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-cp",
                home.resolve("cli/target/classes") + ":" + home.resolve("cli/target/lib") + "/*",
                "warden.cli.Main",
                "survey",
                "--provider",
                "azure",
                "--endpoint",
                standIn.endpoint(),
                "--parallel",
                "2",
                "-o",
                target.toString()));
        command.addAll(more);
        ProcessBuilder builder = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("said").toFile());
        builder.environment()
                .putAll(Map.of(
                        "AZURE_CLIENT_ID",
                        SURVEYOR,
                        "AZURE_TENANT_ID",
                        "heron-sound",
                        "AZURE_CLIENT_SECRET",
                        "any",
                        "REQUESTS_CA_BUNDLE",
                        standIn.authority().toString()));
        return builder.start();
    }
}
