package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.cli.Program.run;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;
import warden.cli.Program.Run;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.standin.Faults;
import warden.standin.aws.StandIn;

/** What a bucket holds, from its inventory instead of a listing. */
@Isolated("sets the credentials of the whole process")
class InventorySurveyTest {
    private static final String BUCKET = "timetables.heronferry.example";
    private static final int MANY = 120_000;

    @TempDir
    private Path folder;

    @BeforeAll
    static void credentials() {
        ProcessCredentials.as("arn:aws:iam::210987654321:root");
    }

    @AfterAll
    static void forget() {
        ProcessCredentials.forget();
    }

    private Path inventory(String rows) throws Exception {
        return inventory(BUCKET, rows);
    }

    /** Writes an inventory of a bucket; {@code %s} stands for its name. */
    private Path inventory(String bucket, String rows) throws Exception {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream out = new GZIPOutputStream(bytes)) {
            out.write(rows.replace("%s", bucket).getBytes(StandardCharsets.UTF_8));
        }
        Files.write(folder.resolve("part.csv.gz"), bytes.toByteArray());
        String sum = HexFormat.of().formatHex(MessageDigest.getInstance("MD5").digest(bytes.toByteArray()));
        return Files.writeString(
                folder.resolve("manifest.json"),
                "{\"sourceBucket\":\"" + bucket
                        + "\",\"creationTimestamp\":\"1795392000000\",\"fileFormat\":\"CSV\",\"fileSchema\":\"Bucket, Key, Size, StorageClass, EncryptionStatus\","
                        + "\"files\":[{\"key\":\"i/data/part.csv.gz\",\"size\":" + bytes.size()
                        + ",\"MD5checksum\":\"" + sum + "\"}]}");
    }

    private String survey(String name, String... more) throws Exception {
        String file = folder.resolve(name).toString();
        try (StandIn standIn = Program.standIn(Program.demo(), Faults.none())) {
            List<String> words = new ArrayList<>(List.of("survey", "--endpoint", standIn.endpoint(), "-o", file));
            words.addAll(List.of(more));
            Run run = run(words.toArray(String[]::new));
            assertThat(run.code()).as(run.err()).isZero();
        }
        return file;
    }

    private static List<String> findings(String survey, String check) {
        return JsonReader.read(
                        run("audit", "-s", survey, "--at=2026-11-24", "--format=json", "--gate=never", "--only", check)
                                .out())
                .root()
                .orElseThrow()
                .list("findings")
                .stream()
                .map(finding -> finding.text("subject").orElse("") + " "
                        + finding.text("says").orElse("").replaceFirst("The page .* stays", "A page stays"))
                .toList();
    }

    private static String answer(String survey, String url) {
        JsonPart trace = JsonReader.read(run("trace", url, "-s", survey, "--at=2026-11-24", "--format=json")
                        .out())
                .root()
                .orElseThrow();
        return trace.toString();
    }

    @Test
    void answersTheSameAsAListing() throws Exception {
        StringBuilder rows = new StringBuilder();
        JsonPart listing = JsonReader.read(Program.demo()
                        .lines()
                        .filter(line ->
                                line.contains("\"bucket-objects\"") && line.contains("arn:aws:s3:::" + BUCKET + "\""))
                        .findFirst()
                        .orElseThrow())
                .root()
                .orElseThrow();
        listing.list("found", "Contents").forEach(object -> rows.append("%s,")
                .append(object.text("Key").orElseThrow().replace("+", "%2B"))
                .append(',')
                .append(object.text("Size").orElse("1"))
                .append(",STANDARD,SSE-S3\n"));
        String survey = survey(
                "inventory.ndjson", "--inventory", inventory(rows.toString()).toString());
        String listed = survey("listed.ndjson");
        List<String> lines = Files.readAllLines(Path.of(survey));
        lines.forEach(line -> Program.assertValid("survey-line", line));
        assertThat(lines)
                .anyMatch(line -> line.contains("\"bucket-inventory\"") && line.contains("\"Date\":\"2026-11-23T"))
                .noneMatch(
                        line -> line.contains("\"bucket-objects\"") && line.contains("arn:aws:s3:::" + BUCKET + "\""));
        for (String check : List.of("hosting", "content", "cdn", "exposure")) {
            assertThat(findings(survey, check)).as(check).isEqualTo(findings(listed, check));
        }
    }

    @Test
    void doesWhatTheGuideShows() throws Exception {
        Path manifest = inventory("%s,index.html,10,STANDARD,SSE-S3\n");
        List<String> words = GuideTest.live("survey --inventory");
        words.replaceAll(word -> word.endsWith("manifest.json")
                ? manifest.toString()
                : word.endsWith(".ndjson") ? folder.resolve(word).toString() : word);
        try (StandIn standIn = Program.standIn(Program.demo(), Faults.none())) {
            words.addAll(List.of("--endpoint", standIn.endpoint()));
            Run run = run(words.toArray(String[]::new));
            assertThat(run.code()).as(run.err()).isZero();
        }
        assertThat(folder.resolve("tides.ndjson")).content().contains("bucket-inventory");
    }

    /** Of many objects the survey holds what is looked for; what it cannot tell it does not tell. */
    @Test
    void findsWhatIsHiddenAmongMany() throws Exception {
        StringBuilder rows = new StringBuilder("%s,index.html,10,STANDARD,SSE-S3\n%s,404.html,10,STANDARD,SSE-S3\n"
                + "%s,old/.env,10,STANDARD,SSE-S3\n%s,film.png,9000000,STANDARD,SSE-S3\n");
        for (int i = 0; i < MANY; i++) {
            rows.append("%s,charts/").append(i).append(".png,10,STANDARD,SSE-S3\n");
        }
        String survey = survey(
                "survey.ndjson",
                "--object-details=5",
                "--inventory",
                inventory(rows.toString()).toString());
        assertThat(findings(survey, "content-private-files")).anyMatch(each -> each.contains("old/.env"));
        assertThat(findings(survey, "content-heavy")).anyMatch(each -> each.contains("film.png"));
        assertThat(findings(survey, "error-missing")).noneMatch(each -> each.contains(BUCKET));
        assertThat(answer(survey, "https://" + BUCKET + "/index.html")).contains("200");
        Run gone = run("trace", "https://" + BUCKET + "/gone.html", "-s", survey, "--at=2026-11-24", "--expect=200");
        assertThat(gone.code()).as(gone.out()).isEqualTo(1);
        assertThat(gone.out()).doesNotContain("Not known");
        Run chart = run("trace", "https://" + BUCKET + "/charts/7.png", "-s", survey, "--at=2026-11-24");
        assertThat(chart.out()).contains("charts/7.png");
    }

    @Test
    void readsNothingOfAnAccountWhereTheInventoryIsBroken() throws Exception {
        Path manifest = inventory("%s,index.html,10,STANDARD,SSE-S3\n");
        Files.delete(folder.resolve("part.csv.gz"));
        try (StandIn standIn = Program.standIn(Program.demo(), Faults.none())) {
            Run run = run(
                    "survey",
                    "--endpoint",
                    standIn.endpoint(),
                    "--inventory",
                    manifest.toString(),
                    "-o",
                    folder.resolve("none.ndjson").toString());
            assertThat(run.code()).isEqualTo(3);
            assertThat(run.err()).contains("part.csv.gz is not there; copy the whole inventory");
            assertThat(standIn.calls()).isZero();
        }
        try (var files = Files.list(folder)) {
            assertThat(files.map(each -> String.valueOf(each.getFileName()))).containsExactly("manifest.json");
        }
        assertThat(run("survey", "--template", "x.yaml", "--inventory", "m").code())
                .isEqualTo(2);
    }

    @Test
    void saysWhereAnInventoryIsOfNoBucketOfTheAccount() throws Exception {
        Path manifest = inventory("somebody-elses", "%s,index.html,10,STANDARD,SSE-S3\n");
        try (StandIn standIn = Program.standIn(Program.demo(), Faults.none())) {
            Run run = run(
                    "survey",
                    "--endpoint",
                    standIn.endpoint(),
                    "--inventory",
                    manifest.toString(),
                    "-o",
                    folder.resolve("s.ndjson").toString());
            assertThat(run.err()).contains("the inventory of somebody-elses is not used");
        }
    }
}
