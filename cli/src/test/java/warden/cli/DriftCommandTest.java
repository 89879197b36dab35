package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;
import warden.cli.Program.Run;

/** What {@code drift} tells of changes to the demo company's accounts. */
class DriftCommandTest {
    private static final JsonMapper JSON = JsonMapper.builder().build();
    private static final String WWW = "arn:aws:s3:::heronferry-www-content";
    private static final String PUBLISHER = "arn:aws:iam::210987654321:role/www-publisher";

    @TempDir
    private Path folder;

    private Path old;
    private Path now;

    @BeforeEach
    void files() throws IOException {
        old = Files.writeString(folder.resolve("old.ndjson"), Program.demo());
        now = folder.resolve("new.ndjson");
    }

    /** Changes the readings of one aspect and subject. */
    private static String changed(String survey, String aspect, String of, UnaryOperator<ObjectNode> change) {
        return survey.lines()
                .map(line -> {
                    JsonNode node = JSON.readTree(line);
                    boolean isIt = node.path("aspect").asString("").equals(aspect)
                            && node.path("of").asString("").equals(of);
                    return isIt ? change.apply((ObjectNode) node).toString() : line;
                })
                .collect(Collectors.joining("\n", "", "\n"));
    }

    private static ObjectNode policy(ObjectNode line) {
        return (ObjectNode) JSON.readTree(line.path("found").path("Policy").asString());
    }

    private static ObjectNode withPolicy(ObjectNode line, JsonNode policy) {
        ((ObjectNode) line.get("found")).put("Policy", policy.toString());
        return line;
    }

    private static ObjectNode statement(String text) {
        return (ObjectNode) JSON.readTree(text.replace('\'', '"'));
    }

    private static String opened(String survey) {
        String policy = changed(survey, "bucket-policy", WWW, line -> {
            ObjectNode all = policy(line);
            ((ArrayNode) all.get("Statement"))
                    .add(statement("{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'" + WWW
                            + "/assets/*'}"));
            return withPolicy(line, all);
        });
        return changed(policy, "bucket-public-access", WWW, line -> {
            line.set(
                    "found",
                    statement("{'PublicAccessBlockConfiguration':{'BlockPublicAcls':false,'IgnorePublicAcls':false,"
                            + "'BlockPublicPolicy':false,'RestrictPublicBuckets':false}}"));
            return line;
        });
    }

    private Run drift(String... more) {
        List<String> words = new ArrayList<>(List.of("drift", old.toString(), now.toString()));
        words.addAll(List.of(more));
        return Program.run(words.toArray(String[]::new));
    }

    private JsonNode json() throws IOException {
        Run run = drift("--format", "json");
        assertThat(run.code()).as(run.err()).isIn(0, 1);
        Program.assertValid("drift", run.out());
        return JSON.readTree(run.out());
    }

    private JsonNode json(String survey) throws IOException {
        Files.writeString(now, survey);
        return json();
    }

    private static List<String> entries(JsonNode list, String... members) {
        List<String> all = new ArrayList<>();
        for (JsonNode each : list) {
            all.add(java.util.Arrays.stream(members)
                    .map(member -> each.path(member).asString(""))
                    .collect(Collectors.joining(" ")));
        }
        return all;
    }

    @Test
    void nothingChangedBetweenASurveyAndItself() throws IOException {
        Files.writeString(now, Program.demo());
        Run run = drift();
        assertThat(run.code()).isZero();
        assertThat(run.out()).contains("Nothing changed in meaning.").doesNotContain("Cannot be compared");
    }

    /** The order of lines, of statements and of values, one value as a list, and identifiers of statements mean nothing. */
    @Test
    void spellingIsNoChange() throws IOException {
        List<String> lines = new ArrayList<>(Program.demo().lines().toList());
        String header = lines.remove(0);
        Collections.shuffle(lines, new Random(3));
        String shuffled = header + "\n" + String.join("\n", lines) + "\n";
        String respelt = changed(shuffled, "bucket-policy", WWW, line -> {
            ObjectNode all = policy(line);
            ArrayNode statements = (ArrayNode) all.get("Statement");
            ArrayNode reversed = JSON.createArrayNode();
            for (int i = statements.size() - 1; i >= 0; i--) {
                ObjectNode each = (ObjectNode) statements.get(i);
                each.put("Sid", "Renamed" + i);
                if (each.get("Action").isString()) {
                    each.set("Action", JSON.createArrayNode().add(each.get("Action")));
                }
                reversed.add(each);
            }
            // Another statement already says what this one says.
            reversed.add(statement("{'Effect':'Deny','Principal':'*','Action':'s3:GetObject','Resource':'" + WWW
                    + "/*','Condition':{'Bool':{'aws:SecureTransport':'false'}}}"));
            all.set("Statement", reversed);
            return withPolicy(line, all);
        });
        JsonNode drift = json(respelt);
        assertThat(drift.path("reach")).isEmpty();
        assertThat(drift.path("visits")).isEmpty();
        assertThat(drift.path("credentials")).isEmpty();
        assertThat(drift.path("findings").path("new")).isEmpty();
        assertThat(drift.path("formOnly").asInt()).isEqualTo(1);
        assertThat(drift.path("worse").asBoolean()).isFalse();
        assertThat(drift().code()).isZero();
    }

    @Test
    void aBucketThatWasOpenedIsWorse() throws IOException {
        JsonNode drift = json(opened(Program.demo()));
        assertThat(entries(drift.path("reach"), "bucket", "who", "ability")).containsExactly(WWW + " anyone read");
        JsonNode gained = drift.path("reach").get(0).path("gained");
        assertThat(gained.path("which").get(0).asString()).startsWith("assets/*");
        assertThat(gained.path("witness").path("on").asString()).isEqualTo(WWW + "/assets/");
        assertThat(entries(drift.path("findings").path("new"), "check")).contains("open-around-cdn");
        assertThat(entries(drift.path("visits"), "worse")).doesNotContain("false");
        assertThat(drift.path("worse").asBoolean()).isTrue();
        assertThat(drift("--worse-only").code()).isEqualTo(1);
        Path kept = old;
        old = now;
        now = kept;
        JsonNode back = json();
        assertThat(back.path("reach").get(0).path("lost")).isEqualTo(gained);
        assertThat(back.path("reach").get(0).path("gained").isNull()).isTrue();
        assertThat(entries(back.path("findings").path("gone"), "check")).contains("open-around-cdn");
        assertThat(back.path("worse").asBoolean()).isFalse();
        assertThat(drift().code()).isEqualTo(1);
        Run better = drift("--worse-only");
        assertThat(better.code()).isZero();
        assertThat(better.out()).contains("Nothing changed");
    }

    @Test
    void theSameChangeOfSeveralBucketsIsToldOnce() throws IOException {
        String both = Program.demo();
        for (String bucket :
                List.of("arn:aws:s3:::book.heronferry.example", "arn:aws:s3:::timetables.heronferry.example")) {
            both = changed(both, "bucket-policy", bucket, line -> {
                ObjectNode all = policy(line);
                ((ArrayNode) all.get("Statement"))
                        .add(statement("{'Effect':'Allow','Principal':{'AWS':'arn:aws:iam::109876543210:root'},"
                                + "'Action':'s3:ListBucket','Resource':'" + bucket + "'}"));
                return withPolicy(line, all);
            });
        }
        JsonNode drift = json(both);
        JsonNode entry = drift.path("reach").get(0);
        assertThat(drift.path("reach")).hasSize(1);
        assertThat(entry.path("buckets")).hasSize(2);
        assertThat(entry.path("who").asString()).isEqualTo("arn:aws:iam::109876543210:root");
    }

    private static String withSecondZone(String survey, String address) {
        return changed(survey, "zone-list", "210987654321", line -> {
                    ((ArrayNode) line.path("found").path("HostedZones"))
                            .add(
                                    statement(
                                            "{'Id':'/hostedzone/Z09SECOND','Name':'heronferry.example.',"
                                                    + "'CallerReference':'second','Config':{'PrivateZone':false},'ResourceRecordSetCount':1}"));
                    return line;
                })
                + "{\"aspect\":\"zone-records\",\"of\":\"hostedzone/Z09SECOND\",\"found\":{\"ResourceRecordSets\":["
                + "{\"Name\":\"pier.heronferry.example.\",\"Type\":\"A\",\"TTL\":300,\"ResourceRecords\":[{\"Value\":\""
                + address
                + "\"}]}],\"IsTruncated\":false,\"MaxItems\":\"300\"}}\n";
    }

    /** Two public zones of one name are two zones: each is compared with itself, and one of them may be new. */
    @Test
    void zonesOfOneNamePairByTheirIdentifiers() throws IOException {
        Files.writeString(old, withSecondZone(Program.demo(), "192.0.2.1"));
        JsonNode moved = json(withSecondZone(Program.demo(), "192.0.2.2")).path("names");
        assertThat(entries(moved, "name", "kind", "change", "old", "new"))
                .containsExactly("pier.heronferry.example A record moved 192.0.2.1 192.0.2.2");
        assertThat(entries(json(Program.demo()).path("names"), "name", "kind", "change"))
                .contains("heronferry.example (hostedzone/Z09SECOND) zone gone");
    }

    /** What the demo's team plans is told, though other questions of the same checks are open on both sides. */
    @Test
    void aPlannedChangeTellsItsFindings() throws IOException {
        Run survey = Program.run(
                "survey",
                "--template",
                Path.of("..", "demo", "tides", "site.yaml").toString(),
                "--beside",
                Program.DEMO.toString(),
                "--region",
                "eu-west-1",
                "--output",
                now.toString());
        assertThat(survey.code()).as(survey.err()).isZero();
        JsonNode findings = json().path("findings").path("new");
        assertThat(entries(findings, "check", "subject"))
                .contains(
                        "open-around-cdn arn:aws:s3:::heronferry-tide-charts",
                        "guard-off arn:aws:s3:::heronferry-tide-charts");
    }

    @Test
    void aCredentialsRightsAndTrustAreCompared() throws IOException {
        JsonNode drift = json(changed(Program.demo(), "iam-role", PUBLISHER, line -> {
            ObjectNode role = (ObjectNode) line.get("found");
            ((ArrayNode) role.path("RolePolicyList")
                            .get(0)
                            .path("PolicyDocument")
                            .path("Statement"))
                    .add(statement("{'Effect':'Allow','Action':'s3:PutBucketPolicy','Resource':'" + WWW + "'}"));
            ((ArrayNode) role.path("AssumeRolePolicyDocument").path("Statement"))
                    .add(statement("{'Effect':'Allow','Principal':{'AWS':'arn:aws:iam::109876543210:root'},"
                            + "'Action':'sts:AssumeRole','Condition':{'StringEquals':{'sts:ExternalId':'tides'}}}"));
            return line;
        }));
        JsonNode credential = drift.path("credentials").get(0);
        assertThat(credential.path("credential").asString()).isEqualTo(PUBLISHER);
        assertThat(credential.path("publishes").asBoolean()).isTrue();
        assertThat(entries(credential.path("gained"), "action", "on")).containsExactly("s3:PutBucketPolicy " + WWW);
        assertThat(credential.path("lost")).isEmpty();
        assertThat(entries(credential.path("trustGained"), "who")).containsExactly("arn:aws:iam::109876543210:root");
        assertThat(credential
                        .path("trustGained")
                        .get(0)
                        .path("claims")
                        .path("sts:ExternalId")
                        .asString())
                .isEqualTo("tides");
        assertThat(entries(drift.path("reach"), "who", "ability")).containsExactly(PUBLISHER + " change-rules");
        assertThat(drift.path("worse").asBoolean()).isTrue();
    }

    @Test
    void whoIsNewOrGoneIsToldWithAllThatItMayDo() throws IOException {
        String without = Program.demo()
                .lines()
                .filter(line -> !line.contains("\"of\":\"" + PUBLISHER + "\""))
                .collect(Collectors.joining("\n", "", "\n"));
        JsonNode drift = json(without);
        assertThat(entries(drift.path("credentials"), "credential", "is")).contains(PUBLISHER + " gone");
        assertThat(drift.path("credentials").get(0).path("lost")).isNotEmpty();
        // Where no user or role was read, one that has no line is not gone.
        String none = Program.demo()
                .lines()
                .filter(line -> !line.contains("\"aspect\":\"iam-user\"") && !line.contains("\"aspect\":\"iam-role\""))
                .collect(Collectors.joining("\n", "", "\n"));
        JsonNode unread = json(none);
        assertThat(entries(unread.path("credentials"), "is")).doesNotContain("gone");
        assertThat(entries(unread.path("incomparable"), "aspect")).contains("iam-role");
    }

    @Test
    void whatOneSideDoesNotKnowIsNoDifference() throws IOException {
        JsonNode drift = json(changed(opened(Program.demo()), "bucket-policy", WWW, line -> {
            line.remove("found");
            line.set("unread", statement("{'code':'AccessDenied'}"));
            return line;
        }));
        assertThat(drift.path("reach")).isEmpty();
        assertThat(entries(drift.path("findings").path("new"), "check")).doesNotContain("open-around-cdn");
        assertThat(entries(drift.path("incomparable"), "subject", "aspect")).contains(WWW + " bucket-policy");
        assertThat(drift("--strict").code()).isIn(1, 5);
    }

    @Test
    void namesThatMoved() throws IOException {
        JsonNode drift = json(Program.demo()
                .replace("d2kq7heronwww.cloudfront.net", "d2kq7heronwww.cloudfront.net")
                .replaceFirst("\"NotAfter\":\"2027", "\"NotAfter\":\"2026"));
        assertThat(entries(drift.path("names"), "kind", "change")).contains("certificate ends-sooner");
    }

    @Test
    void markdownForAPullRequest() throws IOException {
        Files.writeString(now, opened(Program.demo()));
        Run run = drift("--worse-only", "--format", "markdown");
        assertThat(run.code()).isEqualTo(1);
        assertThat(run.out())
                .startsWith("## Gentle Warden: Something got worse.")
                .contains("### Who gained, who lost", "- **worse:** Anyone can now read", "### Findings");
        assertThat(Program.run("reach", "--survey", old.toString(), "--format", "markdown")
                        .code())
                .isEqualTo(2);
    }

    @Test
    void accountsThatHaveNothingToDoWithOneAnotherAreNotCompared() throws IOException {
        Files.writeString(now, Program.demo().replace("210987654321", "321098765432"));
        Run run = drift();
        assertThat(run.code()).isEqualTo(3);
        assertThat(run.err()).contains("two states of the same accounts");
        Files.writeString(now, DemoSurvey.quaysideText());
        assertThat(drift().code()).isEqualTo(3);
        assertThat(Program.run(
                                "drift",
                                old.toString(),
                                folder.resolve("none.ndjson").toString())
                        .code())
                .isEqualTo(3);
    }

    @Test
    void aSubscriptionThatWasOpened() throws IOException {
        String survey = DemoSurvey.quaysideText();
        old = Files.writeString(
                folder.resolve("old.ndjson"),
                survey.replace("\"publicAccess\":\"Container\"", "\"publicAccess\":\"None\""));
        JsonNode drift = json(survey);
        assertThat(entries(drift.path("reach"), "who", "ability")).contains("anyone read", "anyone list");
        assertThat(drift.path("worse").asBoolean()).isTrue();
        old = Files.writeString(folder.resolve("old.ndjson"), survey);
        assertThat(json(survey).path("reach")).isEmpty();
    }
}
