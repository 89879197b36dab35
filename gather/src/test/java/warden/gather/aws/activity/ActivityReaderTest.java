package warden.gather.aws.activity;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.core.pipeline.Needed;
import warden.core.trim.Activity;

class ActivityReaderTest {
    private static final String ROLE = "arn:aws:iam::210987654321:role/timetables-publisher";

    @TempDir
    private Path folder;

    private static String event(String source, String name, String parameters, String more) {
        return "{\"eventVersion\":\"1.10\",\"userIdentity\":{\"type\":\"AssumedRole\",\"arn\":\"arn:aws:sts::210987654321:assumed-role/timetables-publisher/x\","
                + "\"sessionContext\":{\"attributes\":{\"mfaAuthenticated\":\"false\"},\"sessionIssuer\":{\"type\":\"Role\",\"arn\":\""
                + ROLE + "\"}}},\"eventTime\":\"2026-11-18T05:09:50Z\",\"eventSource\":\"" + source
                + ".amazonaws.com\",\"eventName\":\""
                + name + "\",\"requestParameters\":" + parameters + ",\"recipientAccountId\":\"210987654321\"" + more
                + "}";
    }

    private static String records(String... events) {
        return "{\"Records\":[" + String.join(",", events) + "]}";
    }

    private static byte[] gzip(String text) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(out)) {
            gzip.write(text.getBytes(StandardCharsets.UTF_8));
        }
        return out.toByteArray();
    }

    private static final String PUT =
            event("s3", "PutObject", "{\"bucketName\":\"timetables\",\"key\":\"a.html\",\"x\":{\"y\":[1]}}", "");

    private List<String> read(String... events) throws IOException {
        Path file = Files.writeString(folder.resolve("log.json"), records(events));
        return ActivityReader.read(List.of(file.toString())).usedBy(ROLE).stream()
                .map(used -> used.action() + " on " + used.on() + " " + used.why())
                .toList();
    }

    @Test
    void sumsUpByRoleActionAndResource() throws IOException {
        assertThat(read(
                        PUT,
                        PUT.replace("a.html", "b.html").replace("2026-11-18", "2026-11-20"),
                        event("s3", "ListObjectsV2", "{\"bucketName\":\"timetables\"}", ""),
                        event("s3", "CompleteMultipartUpload", "{\"bucketName\":\"timetables\",\"key\":\"c\"}", ""),
                        event("cloudfront", "CreateInvalidation2020_05_31", "{\"distributionId\":\"E1\"}", ""),
                        event(
                                "kms",
                                "GenerateDataKey",
                                "null",
                                ",\"resources\":[{\"ARN\":\"arn:aws:kms:eu-west-1:210987654321:key/1\"}]"),
                        event("sts", "GetCallerIdentity", "null", "")))
                .containsExactly(
                        "cloudfront:CreateInvalidation on arn:aws:cloudfront::210987654321:distribution/E1 used 1 time, last 2026-11-18",
                        "kms:GenerateDataKey on arn:aws:kms:eu-west-1:210987654321:key/1 used 1 time, last 2026-11-18",
                        "s3:ListBucket on arn:aws:s3:::timetables used 1 time, last 2026-11-18",
                        "s3:PutObject on arn:aws:s3:::timetables/* used 3 times, last 2026-11-20");
    }

    @Test
    void leavesOutWhatWasRefused() throws IOException {
        Path file = Files.writeString(
                folder.resolve("log.json"),
                records(
                        PUT,
                        event(
                                "s3",
                                "DeleteObject",
                                "{\"bucketName\":\"timetables\",\"key\":\"a\"}",
                                ",\"errorCode\":\"AccessDenied\"")));
        Activity activity = ActivityReader.read(List.of(file.toString()));
        assertThat(activity.events()).isEqualTo(2);
        assertThat(activity.refused()).isEqualTo(1);
        assertThat(activity.usedBy(ROLE)).extracting(Needed::action).containsExactly("s3:PutObject");
    }

    @Test
    void readsFoldersAndCompressedFiles() throws IOException {
        Files.createDirectories(folder.resolve("2026/11"));
        Files.write(folder.resolve("2026/11/a.json.gz"), gzip(records(PUT)));
        Files.writeString(folder.resolve("2026/b.json"), records(PUT));
        Files.writeString(folder.resolve("2026/readme.txt"), "no log");
        Activity activity = ActivityReader.read(List.of(folder.toString()));
        assertThat(activity.events()).isEqualTo(2);
        assertThat(activity.usedBy(ROLE)).singleElement().satisfies(used -> assertThat(used.why())
                .startsWith("used 2 times"));
    }

    @Test
    void countsWhatStandsBeforeACut() throws IOException {
        byte[] whole = gzip(records(PUT, PUT, PUT));
        Path cut = Files.write(folder.resolve("cut.json.gz"), Arrays.copyOf(whole, whole.length - 12));
        Path half =
                Files.writeString(folder.resolve("half.json"), records(PUT, PUT).substring(0, PUT.length() + 40));
        Activity activity = ActivityReader.read(List.of(cut.toString(), half.toString()));
        assertThat(activity.problems()).hasSize(2).allMatch(problem -> problem.contains("is cut off in the middle"));
        assertThat(activity.problems().get(1)).contains("the 1 event before that is counted");
        Path broken = Files.writeString(folder.resolve("broken.json"), "{\"Records\":[{]}");
        assertThatThrownBy(() -> ActivityReader.read(List.of(broken.toString())))
                .hasMessageContaining(
                        "broken.json: this log file is not JSON throughout, and holds no event before that");
    }

    /** A log of made-up names must not grow the list without end, nor leave events untold. */
    @Test
    void countsWhatIsPassedOverForMoreReasonsThanAreTold() throws IOException {
        String[] made = IntStream.range(0, 53)
                .mapToObj(i -> PUT.replace("\"eventName\":\"PutObject\"", "\"eventName\":\"Put" + i + "Things\""))
                .toArray(String[]::new);
        Path file = Files.writeString(folder.resolve("log.json"), records(made));
        Activity activity = ActivityReader.read(List.of(file.toString()));
        assertThat(activity.usedBy(ROLE)).isEmpty();
        assertThat(activity.problems())
                .hasSize(51)
                .last()
                .isEqualTo("3 events of the log for further reasons of these kinds; nothing is taken over from them");
    }

    /** The folder of logs is not trusted with what a least policy allows. */
    @Test
    void takesOverNoStarsAndNoActionThatDoesNotExist() throws IOException {
        String star = PUT.replace("\"eventName\":\"PutObject\"", "\"eventName\":\"*\"");
        String made = PUT.replace("\"eventName\":\"PutObject\"", "\"eventName\":\"PutEverything\"");
        String everywhere = PUT.replaceFirst("\"bucketName\":\"[^\"]*\"", "\"bucketName\":\"*\"");
        String nowhere = PUT.replaceFirst("\"bucketName\":\"[^\"]*\"", "\"bucketName\":\"\"");
        Path file = Files.writeString(folder.resolve("log.json"), records(PUT, star, made, everywhere, nowhere));
        Activity activity = ActivityReader.read(List.of(file.toString()));
        assertThat(activity.events()).isEqualTo(5);
        assertThat(activity.usedBy(ROLE)).singleElement().satisfies(used -> {
            assertThat(used.action()).isEqualTo("s3:PutObject");
            assertThat(used.on()).startsWith("arn:aws:s3:::").doesNotContain(":::*");
        });
        assertThat(activity.problems())
                .containsExactly(
                        "1 event of the log with the name of an action as none is called; nothing is taken over from it",
                        "1 event of the log with the name s3:PutEverything, which is no action of that service; nothing is taken over from it",
                        "2 events of the log without the resource on which s3:PutObject was used; nothing is taken over from them");
    }

    @Test
    void saysWhatIsNoLog() throws IOException {
        assertThatThrownBy(() -> ActivityReader.read(List.of("nowhere.json")))
                .hasMessageContaining("nowhere.json: there is no such log file or folder");
        Path other = Files.writeString(folder.resolve("other.json"), "{\"some\":[1]}");
        assertThatThrownBy(() -> ActivityReader.read(List.of(other.toString()))).hasMessageContaining("holds no event");
    }

    @Test
    void takesUsersAndIgnoresServicesAndStrangers() throws IOException {
        String user = PUT.replaceFirst(
                "\"userIdentity\":\\{.*?}}},",
                "\"userIdentity\":{\"type\":\"IAMUser\",\"arn\":\"arn:aws:iam::210987654321:user/anna\"},");
        String service = PUT.replaceFirst(
                "\"userIdentity\":\\{.*?}}},",
                "\"userIdentity\":{\"type\":\"AWSService\",\"invokedBy\":\"cloudfront.amazonaws.com\"},");
        Path file = Files.writeString(folder.resolve("log.json"), records(user, service));
        Activity activity = ActivityReader.read(List.of(file.toString()));
        assertThat(activity.events()).isEqualTo(2);
        assertThat(activity.uses()).containsOnlyKeys("arn:aws:iam::210987654321:user/anna");
    }

    private static final String HEADER =
            "\"credential\",\"action\",\"resource\",\"outcome\",\"uses\",\"first_used\",\"last_used\"\n";

    private static String row(String action, String resource, String uses) {
        return "\"" + ROLE + "\",\"" + action + "\",\"" + resource + "\",\"used\",\"" + uses
                + "\",\"2026-09-01T00:00:00Z\",\"2026-11-20T00:00:00Z\"\n";
    }

    private Activity table(String... lines) throws IOException {
        Path file = Files.writeString(folder.resolve("result.csv"), HEADER + String.join("", lines));
        return ActivityReader.read(List.of(file.toString()));
    }

    @Test
    void readsTheResultOfTheQuery() throws IOException {
        Activity used = table(
                row("s3:PutObject", "arn:aws:s3:::timetables/*", "12"),
                row("s3:DeleteObjects", "arn:aws:s3:::timetables", "3"),
                row(
                        "cloudfront:CreateInvalidation2020_05_31",
                        "arn:aws:cloudfront::210987654321:distribution/E1",
                        "1"));
        assertThat(used.usedBy(ROLE).stream().map(each -> each.action() + " on " + each.on() + " " + each.why()))
                .containsExactly(
                        "cloudfront:CreateInvalidation on arn:aws:cloudfront::210987654321:distribution/E1 used 1 time, last 2026-11-20",
                        "s3:DeleteObject on arn:aws:s3:::timetables/* used 3 times, last 2026-11-20",
                        "s3:PutObject on arn:aws:s3:::timetables/* used 12 times, last 2026-11-20");
        assertThat(used.events()).isEqualTo(16);
        assertThat(used.problems()).isEmpty();
    }

    @Test
    void distrustsTheRowsOfAResult() throws IOException {
        Activity used = table(
                row("s3:*", "arn:aws:s3:::timetables/*", "1"),
                row("s3:PutObject", "arn:aws:s3:::*", "2"),
                row("s3:PutObject", "*", "4"),
                row("kms:Decrypt", "*", "8"),
                row("s3:PutObject", "arn:aws:s3:::timetables/*", "-1"),
                row("s3:PutObject", "arn:aws:s3:::timetables/*", "many"),
                "\"" + ROLE + "\",\"s3:PutObj");
        assertThat(used.uses()).isEmpty();
        assertThat(used.problems())
                .containsExactlyInAnyOrder(
                        folder.resolve("result.csv")
                                + ": this log file is not CSV throughout; the 15 events before that are counted",
                        "1 event of the log with the name of an action as none is called; nothing is taken over from it",
                        "6 events of the log without the resource on which s3:PutObject was used; nothing is taken over from them",
                        "8 events of the log without the resource on which kms:Decrypt was used; nothing is taken over from them",
                        "2 rows of a result without a number of uses; nothing is taken over from them");
    }

    @Test
    void readsColumnsInAnyOrderAndPlain() throws IOException {
        Path file = Files.writeString(
                folder.resolve("result.csv"),
                "action,credential,uses,outcome,resource,last_used,first_used\ns3:PutObject," + ROLE
                        + ",5,used,arn:aws:s3:::timetables/*,2026-11-20T00:00:00.123Z,2026-09-01T00:00:00Z\n"
                        + "s3:PutObject," + ROLE
                        + ",7,refused,arn:aws:s3:::timetables/*,2026-11-20T00:00:00Z,2026-09-01T00:00:00Z\n");
        Activity used = ActivityReader.read(List.of(file.toString()));
        assertThat(used.usedBy(ROLE)).singleElement().satisfies(each -> assertThat(each.why())
                .startsWith("used 5 times"));
        assertThat(used.events()).isEqualTo(12);
        assertThat(used.refused()).isEqualTo(7);
    }

    @Test
    void saysThatAResultWasCut() throws IOException {
        Path file = folder.resolve("result.csv.gz");
        try (java.io.OutputStream out = new GZIPOutputStream(Files.newOutputStream(file))) {
            out.write(HEADER.getBytes(StandardCharsets.UTF_8));
            byte[] row = row("s3:PutObject", "arn:aws:s3:::timetables/*", "1").getBytes(StandardCharsets.UTF_8);
            for (int i = 0; i < 1_000_001; i++) {
                out.write(row);
            }
        }
        Activity used = ActivityReader.read(List.of(file.toString()));
        assertThat(used.events()).isEqualTo(1_000_000);
        assertThat(used.problems()).singleElement().asString().contains("has more than 1000000 rows");
    }

    @Test
    void refusesAnotherTable() throws IOException {
        Path file = Files.writeString(folder.resolve("other.csv"), "\"credential\",\"bytes\"\n\"x\",\"1\"\n");
        assertThatThrownBy(() -> ActivityReader.read(List.of(file.toString())))
                .hasMessageContaining("has not the columns of the query's result")
                .hasMessageContaining("--activity-query");
    }

    @Test
    void findsARoleBehindAPathByItsSessions() throws IOException {
        Path file = Files.writeString(
                folder.resolve("log.json"), records(PUT.replaceAll(",\"sessionContext\".*?\\}\\}\\}", "}")));
        Activity used = ActivityReader.read(List.of(file.toString()));
        assertThat(used.usedBy(ROLE)).hasSize(1);
        assertThat(used.usedBy("arn:aws:iam::210987654321:role/sites/timetables-publisher"))
                .hasSize(1);
        assertThat(used.usedBy("arn:aws:iam::109876543210:role/sites/timetables-publisher"))
                .isEmpty();
    }
}
