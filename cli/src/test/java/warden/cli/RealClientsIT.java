package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.cli.Program.Run;
import warden.standin.Faults;
import warden.standin.aws.StandIn;

/** Other people's clients against the simulated account, and the program itself as a process that is killed. */
class RealClientsIT {
    private static final String ROLE = "arn:aws:iam::210987654321:role/";
    private static final String BUCKET = "heronferry-www-content";
    private static final int FILES = 200;

    @TempDir
    private Path folder;

    private StandIn standIn;

    @BeforeEach
    void start() throws Exception {
        // Clients compare the times of uploads with those of files.
        standIn = Program.standIn(Program.demo(), Faults.none(), Clock.systemUTC());
    }

    @AfterEach
    void stop() {
        standIn.close();
    }

    private record Said(int code, String text) {}

    private static Optional<Path> program(String name) {
        return Stream.of("/usr/bin", "/usr/local/bin", "/bin")
                .map(path -> Path.of(path, name))
                .filter(Files::isExecutable)
                .findFirst();
    }

    /** Runs a client as one of the account's principals; the test is left out where the client is not installed. */
    private Said as(String arn, String... command) throws IOException, InterruptedException {
        Optional<Path> program = program(command[0]);
        assumeTrue(program.isPresent(), command[0] + " is not installed");
        List<String> words = new ArrayList<>(List.of(command));
        words.set(0, program.orElseThrow().toString());
        if (command[0].equals("aws")) {
            words.addAll(1, List.of("--endpoint-url", standIn.endpoint()));
        }
        ProcessBuilder builder =
                new ProcessBuilder(words).directory(folder.toFile()).redirectErrorStream(true);
        builder.environment().putAll(environment(arn));
        builder.environment().put("PATH", "/usr/bin:/bin");
        builder.environment().remove("AWS_CA_BUNDLE");
        Process process = builder.start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return new Said(process.waitFor(), said);
    }

    private Said invalidate(String role) throws IOException, InterruptedException {
        return as(
                ROLE + role,
                "aws",
                "cloudfront",
                "create-invalidation",
                "--distribution-id",
                "E2WQ7HERONWWW",
                "--paths",
                "/*");
    }

    private Map<String, String> environment(String arn) {
        Map<String, String> all = new HashMap<>();
        all.put("AWS_ACCESS_KEY_ID", StandIn.keyOf(arn));
        all.put("AWS_SECRET_ACCESS_KEY", "any");
        all.put("AWS_REGION", "eu-west-1");
        all.put("AWS_DEFAULT_REGION", "eu-west-1");
        all.put("AWS_EC2_METADATA_DISABLED", "true");
        all.put("AWS_PAGER", "");
        all.put("HOME", folder.toString());
        return all;
    }

    /** Makes a site of many files, in folders, with names that need escaping, and one that is big enough to go up in parts. */
    private Path site() throws IOException {
        Path site = Files.createDirectory(folder.resolve("site"));
        Random random = new Random(11);
        for (int i = 0; i < FILES; i++) {
            String name =
                    switch (i % 4) {
                        case 0 -> "page-" + i + ".html";
                        case 1 -> "assets/part " + i + " & more.css";
                        case 2 -> "isles/Skerry-ø-" + i + "/index.html";
                        default -> "data/" + i + "+1=%41.json";
                    };
            byte[] content = new byte[i == 3 ? 9_000_000 : random.nextInt(3_000)];
            random.nextBytes(content);
            Path file = site.resolve(name);
            Files.createDirectories(file.getParent());
            Files.write(file, content);
            // The provider keeps whole seconds, so that a file just written would count as newer than its copy.
            Files.setLastModifiedTime(file, FileTime.from(Instant.parse("2026-11-20T08:00:00Z")));
        }
        return site;
    }

    private static Map<String, byte[]> contents(Path root) throws IOException {
        Map<String, byte[]> all = new TreeMap<>();
        try (Stream<Path> files = Files.walk(root)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                all.put(root.relativize(file).toString(), Files.readAllBytes(file));
            }
        }
        return all;
    }

    private void assertReturned(Path site, Path back) throws IOException {
        Map<String, byte[]> sent = contents(site);
        Map<String, byte[]> got = contents(back);
        assertThat(got.keySet()).isEqualTo(sent.keySet()).hasSize(FILES);
        sent.forEach((name, content) -> assertThat(got.get(name)).as(name).isEqualTo(content));
    }

    @Test
    void theOfficialClientDeploysASite() throws Exception {
        Path site = site();
        Said sync = as(
                ROLE + "www-publisher",
                "aws",
                "s3",
                "sync",
                site.toString(),
                "s3://" + BUCKET,
                "--delete",
                "--no-progress");
        assertThat(sync.code()).as(sync.text()).isZero();
        // What was there before is gone, so the listing is just the folder.
        Said back = as(ROLE + "harbour-engineers", "aws", "s3", "sync", "s3://" + BUCKET, "back");
        assertThat(back.code()).as(back.text()).isZero();
        assertReturned(site, folder.resolve("back"));

        Said again = as(
                ROLE + "www-publisher",
                "aws",
                "s3",
                "sync",
                site.toString(),
                "s3://" + BUCKET,
                "--delete",
                "--no-progress");
        assertThat(again.text()).as("nothing is left to do").isBlank();

        Files.writeString(folder.resolve("one.txt"), "the ferry is late");
        Said copy = as(ROLE + "www-publisher", "aws", "s3", "cp", "one.txt", "s3://" + BUCKET + "/one.txt");
        assertThat(copy.code()).as(copy.text()).isZero();
        Said shown = as(ROLE + "harbour-engineers", "aws", "s3", "cp", "s3://" + BUCKET + "/one.txt", "-");
        assertThat(shown.text()).isEqualTo("the ferry is late");

        Said invalidation = invalidate("www-publisher");
        assertThat(invalidation.code()).as(invalidation.text()).isZero();
        assertThat(invalidation.text()).contains("\"Invalidation\"", "\"/*\"");
        // What was uploaded can be read back as a survey.
        assertThat(standIn.state()).contains("page-0.html", "Skerry-ø-", "one.txt");
    }

    @Test
    void theOfficialClientUnderstandsARefusal() throws Exception {
        Files.writeString(folder.resolve("one.txt"), "x");
        Said copy = as(ROLE + "ticket-mailer", "aws", "s3", "cp", "one.txt", "s3://" + BUCKET + "/one.txt");
        assertThat(copy.code()).isNotZero();
        assertThat(copy.text()).contains("AccessDenied");
        Said invalidation = invalidate("ticket-mailer");
        assertThat(invalidation.code()).isNotZero();
        assertThat(invalidation.text()).contains("AccessDenied");
        Said listing = as(ROLE + "ticket-mailer", "aws", "iam", "get-account-authorization-details");
        assertThat(listing.text()).contains("AccessDenied");
        Said missing = as(ROLE + "harbour-engineers", "aws", "s3", "ls", "s3://no-such-harbour");
        assertThat(missing.text()).contains("NoSuchBucket");
    }

    @Test
    void anotherClientGetsBackWhatItPut() throws Exception {
        Path site = site();
        String remote =
                ":s3,provider=Other,env_auth=true,acl=bucket-owner-full-control,no_check_bucket=true,region=eu-west-1,endpoint='"
                        + standIn.endpoint() + "':" + BUCKET;
        Said sync = as(ROLE + "harbour-engineers", "rclone", "sync", site.toString(), remote);
        assertThat(sync.code()).as(sync.text()).isZero();
        Said back = as(ROLE + "harbour-engineers", "rclone", "copy", remote, "back");
        assertThat(back.code()).as(back.text()).isZero();
        assertReturned(site, folder.resolve("back"));
        Said refused = as(ROLE + "ticket-mailer", "rclone", "copy", site.toString(), remote, "--retries=1");
        assertThat(refused.code()).isNotZero();
        assertThat(refused.text()).contains("AccessDenied");
    }

    @Tag("slow")
    @Test
    void theScriptForTheOfficialClientGathersTheSame() throws Exception {
        Files.writeString(
                folder.resolve("survey.sh"), Program.run("survey", "--script").out());
        List<String> command = new ArrayList<>(List.of("env", "ENDPOINT=" + standIn.endpoint(), "sh", "survey.sh"));
        assumeTrue(program("aws").isPresent(), "aws is not installed");
        Said said = as("arn:aws:iam::210987654321:root", command.toArray(String[]::new));
        assertThat(said.code()).as(said.text()).isZero();
        Path answers;
        try (Stream<Path> entries = Files.list(folder)) {
            answers = entries.filter(Files::isDirectory)
                    .filter(each -> !each.endsWith(".aws"))
                    .findFirst()
                    .orElseThrow();
        }
        Path survey = folder.resolve("survey.ndjson");
        Run run = Program.run("survey", "--folder", answers.toString(), "-o", survey.toString());
        assertThat(run.code()).as(run.err()).isZero();
        Map<String, String> read = new TreeMap<>(Sameness.of(Program.read(survey)));
        Map<String, String> whole = new TreeMap<>(Sameness.of(Program.demo()));
        // The command line puts the account's number before the endpoint's host, which an address on loopback has not.
        assertThat(read.remove("account-public-access 210987654321")).startsWith("unread");
        whole.remove("account-public-access 210987654321");
        whole.forEach((key, value) -> assertThat(read).containsEntry(key, value));
        assertThat(read.keySet()).isEqualTo(whole.keySet());
    }

    @Test
    void aKilledSurveyGoesOn() throws Exception {
        standIn.close();
        standIn = Program.standIn(Program.demo(), new Faults(40, 0, 0, 0, java.util.Set.of()));
        Path survey = Files.writeString(folder.resolve("survey.ndjson"), "an earlier survey\n");
        Path part = folder.resolve("survey.ndjson.part");
        Path home = Path.of("..").toAbsolutePath().normalize();
        List<String> command = List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-cp",
                home.resolve("cli/target/classes") + ":" + home.resolve("cli/target/lib") + "/*",
                "warden.cli.Main",
                "survey",
                "--endpoint",
                standIn.endpoint(),
                "--parallel",
                "2",
                "-o",
                survey.toString());
        ProcessBuilder builder = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("said").toFile());
        builder.environment().putAll(environment("arn:aws:iam::210987654321:root"));
        List<String> anew = new ArrayList<>(command);
        anew.add("--force");
        Process first = builder.command(anew).start();
        long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(60);
        while ((!Files.exists(part) || Files.readAllLines(part).size() < 30) && System.nanoTime() < deadline) {
            Thread.sleep(20);
        }
        first.destroyForcibly().waitFor();
        int before = Files.readAllLines(part).size();
        assertThat(before).isGreaterThanOrEqualTo(30);
        assertThat(survey).hasContent("an earlier survey\n");
        List<String> resume = new ArrayList<>(command);
        resume.add("--resume");
        Process second = builder.command(resume).start();
        assertThat(second.waitFor()).as(Program.read(folder.resolve("said"))).isZero();
        assertThat(Files.readAllLines(survey).size()).isGreaterThan(before);
        assertThat(part).doesNotExist();
        Sameness.assertSame(Program.read(survey), Program.demo());
    }
}
