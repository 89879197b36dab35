package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import warden.core.Providers;
import warden.core.site.SiteFile;
import warden.gather.survey.SurveyFiles;

/**
 * The laws of {@code drift} over generated pairs of surveys: what one direction gains the other loses, to the letter; every witness is decided
 * differently; and no question is decided differently outside of what is told.
 */
class DriftLawsTest {
    private static final JsonMapper JSON = JsonMapper.builder().build();
    private static final String ACCOUNT = "210987654321";
    private static final String BUCKET = "arn:aws:s3:::harbour";
    private static final List<String> KEYS = List.of("index.html", "assets/a.css", "assets/b/c.js", "private/plan.pdf");
    private static final Map<String, String> ABILITIES = Map.of(
            "s3:GetObject", "read",
            "s3:ListBucket", "list",
            "s3:PutObject", "write",
            "s3:DeleteObject", "delete",
            "s3:PutBucketPolicy", "change-rules");
    private static final List<String> WHO = List.of(
            "anyone",
            "any-account",
            "arn:aws:iam::109876543210:root",
            "arn:aws:iam::" + ACCOUNT + ":role/publisher",
            "arn:aws:iam::" + ACCOUNT + ":role/reader",
            "service:cloudfront.amazonaws.com");

    @TempDir
    private Path folder;

    private static <T> T one(Random random, List<T> of) {
        return of.get(random.nextInt(of.size()));
    }

    private static String statement(Random random, boolean named) {
        String principal = one(
                random,
                List.of(
                        "\"*\"",
                        "{\"AWS\":\"*\"}",
                        "{\"AWS\":\"arn:aws:iam::109876543210:root\"}",
                        "{\"AWS\":\"arn:aws:iam::" + ACCOUNT + ":role/publisher\"}",
                        "{\"Service\":\"cloudfront.amazonaws.com\"}"));
        String action = one(
                random,
                List.of(
                        "s3:GetObject",
                        "s3:*Object",
                        "s3:PutObject",
                        "s3:ListBucket",
                        "s3:PutBucketPolicy",
                        "s3:*",
                        "s3:DeleteObject"));
        String resource = one(
                random,
                List.of(
                        "\"" + BUCKET + "/*\"",
                        "\"" + BUCKET + "/assets/*\"",
                        "\"" + BUCKET + "\"",
                        "[\"" + BUCKET + "\",\"" + BUCKET + "/private/*\"]"));
        String condition = one(
                random,
                List.of(
                        "",
                        "",
                        ",\"Condition\":{\"Bool\":{\"aws:SecureTransport\":\"true\"}}",
                        ",\"Condition\":{\"StringEquals\":{\"aws:SourceVpce\":\"vpce-0a1b2c3d\"}}",
                        ",\"Condition\":{\"IpAddress\":{\"aws:SourceIp\":\"198.51.100.0/24\"}}"));
        return "{\"Effect\":\"" + (random.nextInt(4) == 0 ? "Deny" : "Allow") + "\""
                + (named ? ",\"Principal\":" + principal : "") + ",\"Action\":\"" + action + "\",\"Resource\":"
                + resource
                + condition + "}";
    }

    private static String policy(Random random, boolean named) {
        List<String> statements = new ArrayList<>();
        for (int i = random.nextInt(4); i >= 0; i--) {
            statements.add(statement(random, named));
        }
        return "{\"Version\":\"2012-10-17\",\"Statement\":[" + String.join(",", statements) + "]}";
    }

    private static String line(String aspect, String of, String found) {
        return "{\"aspect\":\"" + aspect + "\",\"of\":\"" + of + "\"," + found + "}\n";
    }

    private static String role(Random random, String name) {
        String arn = "arn:aws:iam::" + ACCOUNT + ":role/" + name;
        return line(
                "iam-role",
                arn,
                "\"found\":{\"Arn\":\"" + arn + "\",\"RoleName\":\"" + name
                        + "\",\"AssumeRolePolicyDocument\":{\"Version\":\"2012-10-17\",\"Statement\":[]},"
                        + "\"AttachedManagedPolicies\":[],\"RolePolicyList\":[{\"PolicyName\":\"own\",\"PolicyDocument\":"
                        + policy(random, false) + "}]}");
    }

    private static String survey(Random random) {
        boolean blocks = random.nextInt(5) == 0;
        return "{\"survey\":1,\"provider\":\"aws\",\"account\":\"" + ACCOUNT
                + "\",\"takenAt\":\"2026-11-20T00:00:00Z\"}\n"
                + line("bucket-list", ACCOUNT, "\"found\":{\"Buckets\":[{\"Name\":\"harbour\"}]}")
                + line("account-public-access", ACCOUNT, "\"absent\":\"NoSuchPublicAccessBlockConfiguration\"")
                + line("bucket-location", BUCKET, "\"found\":{\"LocationConstraint\":\"eu-west-1\"}")
                + line(
                        "bucket-policy",
                        BUCKET,
                        random.nextInt(8) == 0
                                ? "\"absent\":\"NoSuchBucketPolicy\""
                                : "\"found\":{\"Policy\":" + JSON.writeValueAsString(policy(random, true)) + "}")
                + line(
                        "bucket-public-access",
                        BUCKET,
                        "\"found\":{\"PublicAccessBlockConfiguration\":{\"BlockPublicAcls\":true,\"IgnorePublicAcls\":true,"
                                + "\"BlockPublicPolicy\":false,\"RestrictPublicBuckets\":" + blocks + "}}")
                + line(
                        "bucket-ownership",
                        BUCKET,
                        "\"found\":{\"OwnershipControls\":{\"Rules\":[{\"ObjectOwnership\":\"BucketOwnerEnforced\"}]}}")
                + line("bucket-encryption", BUCKET, "\"absent\":\"ServerSideEncryptionConfigurationNotFoundError\"")
                + line("bucket-payer", BUCKET, "\"found\":{\"Payer\":\"BucketOwner\"}")
                + role(random, "publisher")
                + role(random, "reader");
    }

    private static UnaryOperator<String> questions(String survey) throws Exception {
        return Providers.open(
                        List.of(SurveyFiles.read(
                                new ByteArrayInputStream(survey.getBytes(StandardCharsets.UTF_8)), "survey.ndjson")),
                        SiteFile.empty(),
                        Optional.empty())
                .questions(false);
    }

    private JsonNode drift(String old, String now) throws Exception {
        Path one = Files.writeString(folder.resolve("one.ndjson"), old);
        Path other = Files.writeString(folder.resolve("other.ndjson"), now);
        Program.Run run = Program.run("drift", one.toString(), other.toString(), "--format", "json");
        assertThat(run.code()).as(run.err()).isIn(0, 1);
        return JSON.readTree(run.out());
    }

    private static String question(String who, String action, String on, Map<String, String> context) {
        return JSON.writeValueAsString(Map.of("id", "q", "who", who, "action", action, "on", on, "context", context));
    }

    private static String decision(UnaryOperator<String> answers, String question) {
        return JSON.readTree(answers.apply(question)).path("decision").asString("error");
    }

    private static Map<String, JsonNode> byWhoAndAbility(JsonNode drift, String part) {
        Map<String, JsonNode> all = new HashMap<>();
        drift.path("reach").forEach(each -> {
            if (!each.path(part).isNull()) {
                all.put(each.path("who").asString() + " " + each.path("ability").asString(), each.path(part));
            }
        });
        return all;
    }

    private static String withoutFiles(JsonNode gain) {
        return gain.path("extent") + " " + gain.path("which") + " " + gain.path("witness");
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24})
    void holdOverGeneratedPairs(int seed) throws Exception {
        Random random = new Random(seed);
        String old = survey(random);
        String now = survey(random);
        JsonNode there = drift(old, now);
        JsonNode back = drift(now, old);
        Map<String, JsonNode> gained = byWhoAndAbility(there, "gained");
        Map<String, JsonNode> lost = byWhoAndAbility(there, "lost");
        Map<String, JsonNode> gainedBack = byWhoAndAbility(back, "gained");
        Map<String, JsonNode> lostBack = byWhoAndAbility(back, "lost");
        assertThat(gained.keySet()).isEqualTo(lostBack.keySet());
        assertThat(lost.keySet()).isEqualTo(gainedBack.keySet());
        gained.forEach((key, gain) -> assertThat(withoutFiles(gain)).isEqualTo(withoutFiles(lostBack.get(key))));
        UnaryOperator<String> before = questions(old);
        UnaryOperator<String> after = questions(now);
        witnesses(gained, after, before);
        witnesses(lost, before, after);
        Set<String> untold = new TreeSet<>();
        for (String who : WHO) {
            for (Map.Entry<String, String> action : ABILITIES.entrySet()) {
                boolean ofBucket = action.getKey().contains("Bucket");
                for (String key : ofBucket ? List.of("") : KEYS) {
                    for (Map<String, String> context : List.of(
                            Map.<String, String>of(),
                            Map.of("aws:SecureTransport", "true"),
                            Map.of("aws:SecureTransport", "true", "aws:SourceVpce", "vpce-0a1b2c3d"),
                            Map.of("aws:SourceIp", "198.51.100.7"),
                            Map.of("aws:SecureTransport", "false"))) {
                        String asked = question(who, action.getKey(), BUCKET + (ofBucket ? "" : "/" + key), context);
                        String one = decision(before, asked);
                        String other = decision(after, asked);
                        boolean won = one.equals("deny") && other.equals("allow");
                        boolean gone = one.equals("allow") && other.equals("deny");
                        Map<String, JsonNode> told = won ? gained : lost;
                        boolean isTold = told.containsKey(who + " " + action.getValue())
                                || told.containsKey("anyone " + action.getValue());
                        if ((won || gone) && !isTold) {
                            untold.add(asked + " " + one + " " + other);
                        }
                    }
                }
            }
        }
        assertThat(untold).isEmpty();
    }

    private static void witnesses(
            Map<String, JsonNode> gains, UnaryOperator<String> allowing, UnaryOperator<String> denying) {
        gains.forEach((key, gain) -> {
            JsonNode witness = gain.path("witness");
            Map<String, String> context = new HashMap<>();
            witness.path("context")
                    .properties()
                    .forEach(each -> context.put(each.getKey(), each.getValue().asString()));
            String asked = question(
                    witness.path("who").asString(),
                    witness.path("action").asString(),
                    witness.path("on").asString(),
                    context);
            assertThat(decision(allowing, asked)).as(key + " " + asked).isEqualTo("allow");
            assertThat(decision(denying, asked)).as(key + " " + asked).isEqualTo("deny");
        });
    }
}
