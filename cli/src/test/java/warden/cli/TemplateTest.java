package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import warden.cli.Program.Run;

/** Surveys that are made of templates: what they tell, what they leave open, and where it stands. */
class TemplateTest {
    private static final JsonMapper JSON = JsonMapper.builder().build();

    @TempDir
    private Path folder;

    private Map<String, JsonNode> survey(String template, String... more) throws IOException {
        return read(template, "site.yaml", more);
    }

    private Map<String, JsonNode> read(String template, String name, String... more) throws IOException {
        Path file = Files.writeString(folder.resolve(name), template);
        Path out = folder.resolve("planned.ndjson");
        List<String> words = new ArrayList<>(List.of(
                "survey", "--template", file.toString(), "--force", "--output", out.toString(), "--at", "2026-11-24"));
        words.addAll(List.of(more));
        Run run = Program.run(words.toArray(String[]::new));
        assertThat(run.code()).as(run.err()).isZero();
        Map<String, JsonNode> readings = new HashMap<>();
        for (String line : Files.readAllLines(out)) {
            JsonNode node = JSON.readTree(line);
            Program.assertValid("survey-line", line);
            readings.put(
                    node.path("aspect").asString("header") + " "
                            + node.path("of").asString(""),
                    node);
        }
        return readings;
    }

    private Run refused(String template, String... more) throws IOException {
        Path file = Files.writeString(folder.resolve("site.yaml"), template);
        List<String> words = new ArrayList<>(List.of(
                "survey",
                "--template",
                file.toString(),
                "--output",
                folder.resolve("none.ndjson").toString()));
        words.addAll(List.of(more));
        Run run = Program.run(words.toArray(String[]::new));
        assertThat(folder.resolve("none.ndjson")).doesNotExist();
        return run;
    }

    private static final String BUCKET = """
            Resources:
              Site:
                Type: AWS::S3::Bucket
            """;

    @Test
    void aNewBucketHasTheDocumentedDefaults() throws IOException {
        Map<String, JsonNode> read = survey(BUCKET);
        assertThat(read.get("header ").path("from").asString()).isEqualTo("template");
        String bucket = " arn:aws:s3:::{Site}";
        JsonNode block = read.get("bucket-public-access" + bucket).path("found").path("PublicAccessBlockConfiguration");
        assertThat(block.path("RestrictPublicBuckets").asBoolean()).isTrue();
        assertThat(block.path("BlockPublicPolicy").asBoolean()).isTrue();
        assertThat(read.get("bucket-ownership" + bucket).toString()).contains("BucketOwnerEnforced");
        assertThat(read.get("bucket-policy" + bucket).path("absent").asString()).isEqualTo("NoSuchBucketPolicy");
        assertThat(read.get("bucket-objects" + bucket).has("unread")).isTrue();
        assertThat(read.get("bucket-policy" + bucket).path("from").path("line").asInt())
                .isEqualTo(2);
        assertThat(read.get("bucket-policy" + bucket)
                        .path("from")
                        .path("address")
                        .asString())
                .isEqualTo("Site");
    }

    /** An existing bucket whose block nobody manages may be wide open. */
    @Test
    void anExistingBucketHasWhatTheAccountSays() throws IOException {
        String template = BUCKET + "    Properties: {BucketName: timetables.heronferry.example}\n";
        Map<String, JsonNode> read = survey(template, "--beside", Program.DEMO.toString());
        JsonNode block = read.get("bucket-public-access arn:aws:s3:::timetables.heronferry.example");
        assertThat(block.has("from")).isFalse();
        assertThat(read.get("header ").path("account").asString()).isEqualTo("210987654321");
        assertThat(read.get("bucket-policy arn:aws:s3:::timetables.heronferry.example")
                        .has("from"))
                .isFalse();
        assertThat(read.get("bucket-location arn:aws:s3:::timetables.heronferry.example")
                        .has("from"))
                .isTrue();
    }

    @Test
    void pipelinesAndDomainsOfManagedAppsAreRead() throws IOException {
        Map<String, JsonNode> read = survey("""
                Resources:
                  Content: {Type: AWS::S3::Bucket, Properties: {BucketName: tides-content}}
                  Role: {Type: AWS::IAM::Role, Properties: {RoleName: tides-delivery}}
                  Delivery:
                    Type: AWS::CodePipeline::Pipeline
                    Properties:
                      Name: tides
                      RoleArn: !GetAtt Role.Arn
                      ArtifactStore: {Type: S3, Location: tides-artifacts}
                      Stages:
                        - Name: Deploy
                          Actions:
                            - Name: Publish
                              ActionTypeId: {Category: Deploy, Owner: AWS, Provider: S3, Version: '1'}
                              Configuration: {BucketName: !Ref Content, Extract: 'false', ObjectKey: site.zip}
                              InputArtifacts: [{Name: built}]
                  App: {Type: AWS::Amplify::App, Properties: {Name: tides}}
                  Domain:
                    Type: AWS::Amplify::Domain
                    Properties:
                      AppId: !GetAtt App.AppId
                      DomainName: tides.heronferry.example
                      SubDomainSettings: [{Prefix: app, BranchName: main}]
                """, "--account", "210987654321", "--region", "eu-west-1");
        JsonNode pipeline = read.get("delivery-pipeline arn:aws:codepipeline:eu-west-1:210987654321:tides")
                .path("found")
                .path("pipeline");
        assertThat(pipeline.path("roleArn").asString()).isEqualTo("arn:aws:iam::210987654321:role/tides-delivery");
        JsonNode action = pipeline.path("stages").get(0).path("actions").get(0);
        assertThat(action.path("actionTypeId").path("provider").asString()).isEqualTo("S3");
        assertThat(action.path("configuration").path("BucketName").asString()).isEqualTo("tides-content");
        assertThat(read.get(
                                "managed-app-domain arn:aws:amplify:eu-west-1:210987654321:apps/{App}/domains/tides.heronferry.example")
                        .toString())
                .contains("\"prefix\":\"app\"");
        Run audit = Program.run(
                "audit",
                "--survey",
                folder.resolve("planned.ndjson").toString(),
                "--gate",
                "never",
                "--at",
                "2026-11-24");
        assertThat(audit.out()).contains("pipeline-deploys-untested");
    }

    private static final String OPEN_CONDITION = """
            Parameters:
              Stage: {Type: String}
            Conditions:
              IsProd: !Equals [!Ref Stage, prod]
            Resources:
              Site: {Type: AWS::S3::Bucket, Properties: {BucketName: tides-content}}
              Role:
                Type: AWS::IAM::Role
                Properties:
                  RoleName: tides-publisher
                  AssumeRolePolicyDocument: {Version: '2012-10-17', Statement: []}
            """;

    /** What hangs on a condition that is not told may be there: nobody is without a policy because nobody knows. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "Roles: [!Ref Role]}, Condition: IsProd",
                "Roles: !If [IsProd, [!Ref Role], [other]]}",
                "Roles: [!If [IsProd, !Ref Role, other]]}",
            })
    void aPolicyThatMayBeAttachedLeavesARoleOpen(String attached) throws IOException {
        String policy =
                "  Extra: {Type: AWS::IAM::Policy, Properties: {PolicyName: extra, PolicyDocument: {Version: '2012-10-17',"
                        + " Statement: [{Effect: Allow, Action: '*', Resource: '*'}]}, " + attached + "}\n";
        assertThat(survey(OPEN_CONDITION + policy, "--account", "210987654321")
                        .get("iam-role arn:aws:iam::210987654321:role/tides-publisher")
                        .has("unread"))
                .isTrue();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "Bucket: !Ref Site}, Condition: IsProd",
                "Bucket: !If [IsProd, !Ref Site, other]}",
            })
    void aPolicyThatMayBeOfABucketLeavesItOpen(String of) throws IOException {
        String policy = "  Policy: {Type: AWS::S3::BucketPolicy, Properties: {PolicyDocument: {Version: '2012-10-17',"
                + " Statement: [{Effect: Allow, Principal: '*', Action: 's3:*', Resource: '*'}]}, " + of + "}\n";
        assertThat(survey(OPEN_CONDITION + policy)
                        .get("bucket-policy arn:aws:s3:::tides-content")
                        .has("unread"))
                .isTrue();
    }

    /** A bucket that may be made goes by its name, so that what is said of it is said of the same one. */
    @Test
    void aBucketThatMayBeMadeKeepsItsName() throws IOException {
        Map<String, JsonNode> read =
                survey(OPEN_CONDITION.replace("tides-content}}", "tides-content}, Condition: IsProd}"));
        assertThat(read.get("bucket-policy arn:aws:s3:::tides-content").has("unread"))
                .isTrue();
    }

    /** Two names that hang on what is not told are two buckets, not one that is described twice. */
    @Test
    void bucketsWhoseNamesAreNotToldStandApart() throws IOException {
        Map<String, JsonNode> read = survey("""
                Parameters:
                  Stage: {Type: String}
                Conditions:
                  IsProd: !Equals [!Ref Stage, prod]
                Resources:
                  Site:
                    Type: AWS::S3::Bucket
                    Properties: {BucketName: !If [IsProd, live, test]}
                  Logs:
                    Type: AWS::S3::Bucket
                    Properties: {BucketName: !If [IsProd, live-logs, test-logs]}
                """);
        assertThat(read).containsKeys("bucket-policy arn:aws:s3:::{Site}", "bucket-policy arn:aws:s3:::{Logs}");
    }

    /** A rule that spares small objects, or keeps some old versions, is another rule. */
    @Test
    void aLifecyclesFilterIsTold() throws IOException {
        JsonNode rules = survey("""
                Resources:
                  Site:
                    Type: AWS::S3::Bucket
                    Properties:
                      BucketName: tides-content
                      LifecycleConfiguration:
                        Rules:
                          - {Status: Enabled, ExpirationInDays: 9, Prefix: old/, ObjectSizeGreaterThan: '1048576'}
                          - Status: Enabled
                            TagFilters: [{Key: kept, Value: 'no'}]
                            NoncurrentVersionExpiration: {NoncurrentDays: 30, NewerNoncurrentVersions: 5}
                          - {Status: Enabled, ExpirationInDays: 3}
                """)
                .get("bucket-lifecycle arn:aws:s3:::tides-content")
                .path("found")
                .path("Rules");
        assertThat(rules.get(0).path("Filter").toString())
                .isEqualTo("{\"And\":{\"Prefix\":\"old/\",\"ObjectSizeGreaterThan\":1048576}}");
        assertThat(rules.get(1).path("Filter").toString()).isEqualTo("{\"Tag\":{\"Key\":\"kept\",\"Value\":\"no\"}}");
        assertThat(rules.get(1).path("NoncurrentVersionExpiration").toString())
                .isEqualTo("{\"NoncurrentDays\":30,\"NewerNoncurrentVersions\":5}");
        assertThat(rules.get(2).path("Filter").toString()).isEqualTo("{\"Prefix\":\"\"}");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "!Sub 'a-${AWS::Region}' | a-eu-west-1",
                "!Join ['-', [a, b, !Ref Stage]] | a-b-prod",
                "!Select [1, [x, y]] | y",
                "!Select [0, !Split ['.', 'one.two']] | one",
                "!If [IsProd, live, test] | live",
                "!FindInMap [Names, !Ref Stage, Bucket] | from-map",
                "!Sub ['${A}-${Stage}', {A: given}] | given-prod",
                "!Sub '${!Literal}' | ${Literal}",
                "{'Fn::Sub': 'x-${AWS::AccountId}'} | x-210987654321",
                "!ImportValue shared | {shared}",
                "!Ref Unset | {Unset}",
                "!Ref Nothing | {Nothing}",
                "!Sub '${Unset}-site' | {Unset}-site"
            })
    void functionsAreWorkedOut(String expression, String name) throws IOException {
        Map<String, JsonNode> read =
                survey("""
                Parameters:
                  Stage: {Type: String, Default: prod}
                  Unset: {Type: String}
                Mappings:
                  Names: {prod: {Bucket: from-map}}
                Conditions:
                  IsProd: !Equals [!Ref Stage, prod]
                Resources:
                  Site:
                    Type: AWS::S3::Bucket
                    Properties:
                      BucketName: %s
                """.formatted(expression), "--account", "210987654321", "--region", "eu-west-1");
        assertThat(read.keySet()).contains("bucket-policy arn:aws:s3:::" + name);
    }

    @Test
    void conditionsDecideWhatIsMade() throws IOException {
        String template = """
                Parameters:
                  Stage: {Type: String}
                Conditions:
                  IsProd: !Equals [!Ref Stage, prod]
                Resources:
                  Site:
                    Type: AWS::S3::Bucket
                  Logs:
                    Type: AWS::S3::Bucket
                    Condition: IsProd
                """;
        Map<String, JsonNode> open = survey(template);
        assertThat(open.get("bucket-public-access arn:aws:s3:::{Logs}").has("unread"))
                .isTrue();
        Path parameters = Files.writeString(folder.resolve("p.json"), "[\"Stage=test\"]");
        assertThat(survey(template, "--parameters", parameters.toString()).keySet())
                .doesNotContain("bucket-policy arn:aws:s3:::{Logs}");
        Files.writeString(parameters, "[{\"ParameterKey\":\"Stage\",\"ParameterValue\":\"prod\"}]");
        assertThat(survey(template, "--parameters", parameters.toString())
                        .get("bucket-policy arn:aws:s3:::{Logs}")
                        .has("absent"))
                .isTrue();
        Files.writeString(parameters, "{\"Parameters\":{\"Stag\":\"prod\"}}");
        Run wrong = refused(template, "--parameters", parameters.toString());
        assertThat(wrong.code()).isEqualTo(3);
        assertThat(wrong.err()).contains("no template has the parameter \"Stag\"", "\"Stage\"");
    }

    /** Who is meant must be told; what is not told is unread, never left out. */
    @Test
    void aPolicyThatIsNotToldIsUnread() throws IOException {
        String template = BUCKET + """
                  Policy:
                    Type: AWS::S3::BucketPolicy
                    Properties:
                      Bucket: !Ref Site
                      PolicyDocument:
                        Statement:
                          - Effect: Allow
                            Principal: {AWS: !Ref Partner}
                            Action: s3:GetObject
                            Resource: !Sub '${Site.Arn}/*'
                Parameters:
                  Partner: {Type: String}
                """;
        Map<String, JsonNode> read = survey(template);
        assertThat(read.get("bucket-policy arn:aws:s3:::{Site}")
                        .path("unread")
                        .path("message")
                        .asString())
                .contains("the parameter Partner has no value");
    }

    @Test
    void anOpenBucketOfATemplateIsFoundAtItsLine() throws IOException {
        survey(BUCKET + """
                            Properties:
                              BucketName: heronferry-planned
                              PublicAccessBlockConfiguration: {RestrictPublicBuckets: false}
                              WebsiteConfiguration: {IndexDocument: index.html}
                          Policy:
                            Type: AWS::S3::BucketPolicy
                            Properties:
                              Bucket: !Ref Site
                              PolicyDocument:
                                Statement:
                                  - {Effect: Allow, Principal: '*', Action: 's3:*', Resource: !Sub '${Site.Arn}/*'}
                        """, "--beside", Program.DEMO.toString());
        Path sarif = folder.resolve("out.sarif");
        Run audit = Program.run(
                "audit",
                "--survey",
                folder.resolve("planned.ndjson").toString(),
                "--only",
                "anyone-can-write",
                "--report",
                "sarif=" + sarif,
                "--at",
                "2026-11-24");
        assertThat(audit.code()).isEqualTo(1);
        assertThat(audit.out()).contains("site.yaml:8 Policy bucket-policy /Statement/0");
        JsonNode result = JSON.readTree(Program.read(sarif))
                .path("runs")
                .get(0)
                .path("results")
                .get(0);
        JsonNode place = result.path("locations").get(0).path("physicalLocation");
        assertThat(place.path("artifactLocation").path("uri").asString()).endsWith("site.yaml");
        assertThat(place.path("region").path("startLine").asInt()).isEqualTo(8);
    }

    @Test
    void stacksWithinAStackAreReadWhereTheyLieBeside() throws IOException {
        Files.writeString(folder.resolve("storage.yaml"), """
                Parameters:
                  Name: {Type: String}
                Resources:
                  Inner:
                    Type: AWS::S3::Bucket
                    Properties: {BucketName: !Ref Name}
                Outputs:
                  Bucket: {Value: !Ref Inner}
                """);
        Map<String, JsonNode> read = survey("""
                Resources:
                  Storage:
                    Type: AWS::CloudFormation::Stack
                    Properties:
                      TemplateURL: storage.yaml
                      Parameters: {Name: heronferry-inner}
                  Policy:
                    Type: AWS::S3::BucketPolicy
                    Properties:
                      Bucket: !GetAtt Storage.Outputs.Bucket
                      PolicyDocument: {Statement: []}
                """);
        assertThat(read.get("bucket-policy arn:aws:s3:::heronferry-inner").has("found"))
                .isTrue();
        assertThat(read.get("bucket-ownership arn:aws:s3:::heronferry-inner")
                        .path("from")
                        .path("file")
                        .asString())
                .isEqualTo("storage.yaml");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "'Resources: {A: [' | :1:",
                "'hello: world' | has no Resources",
                "'Resources: {A: {Properties: {}}}' | has no Type",
                "'Resources: {A: {Type: \"AWS::SNS::Topic\"}}' | nothing in this concerns a site",
                "'{\"$schema\":\"https://schema.management.azure.com/schemas/2019-04-01/deploymentTemplate.json#\",\"resources\":[]}' | another provider",
                "'{\"format_version\":\"2.0\",\"planned_values\":{}}' | format version 2.0"
            })
    void whatIsNoTemplateGetsASentence(String text, String says) throws IOException {
        Run run = refused(text);
        assertThat(run.code()).as(run.err()).isEqualTo(3);
        assertThat(run.err()).contains("site.yaml").contains(says);
    }

    @Test
    void aCircleIsSaidAndEnds() throws IOException {
        Map<String, JsonNode> read = survey("""
                Resources:
                  A:
                    Type: AWS::S3::Bucket
                    Properties: {BucketName: !Sub 'x-${B}'}
                  B:
                    Type: AWS::S3::Bucket
                    Properties: {BucketName: !Sub 'y-${A}'}
                """);
        assertThat(read.keySet()).anyMatch(key -> key.startsWith("bucket-policy arn:aws:s3:::x-"));
        Run twice = refused(BUCKET + "  Site:\n    Type: AWS::S3::Bucket\n");
        assertThat(twice.code()).isEqualTo(3);
        assertThat(twice.err()).contains(":4:").contains("a second time");
        assertThat(Program.run("survey", "--beside", Program.DEMO.toString()).code())
                .isEqualTo(2);
    }

    // --- plans

    private static String plan(String resources, String changes, String configuration) {
        return "{\"format_version\":\"1.2\",\"planned_values\":{\"root_module\":{\"resources\":[" + resources
                + "]}},\"resource_changes\":[" + changes + "],\"configuration\":{\"root_module\":{\"resources\":["
                + configuration + "]}}}";
    }

    private static String planned(String address, String type, String values) {
        return "{\"address\":\"" + address + "\",\"mode\":\"managed\",\"type\":\"" + type + "\",\"values\":" + values
                + "}";
    }

    private static String change(String address, String type, String action, String before, String unknown) {
        return "{\"address\":\"" + address + "\",\"type\":\"" + type + "\",\"change\":{\"actions\":[\"" + action
                + "\"],\"before\":" + before + ",\"after_unknown\":" + unknown + "}}";
    }

    @Test
    void aPlanOfWhichAPartIsBrokenIsRefused() throws IOException {
        Run run = refused(
                "{\"format_version\":\"1.2\",\"planned_values\":{\"root_module\":tru},\"resource_changes\":[]}");
        assertThat(run.code()).isEqualTo(3);
        assertThat(run.err()).contains("its member planned_values is not valid JSON");
    }

    /** An edge that is taken away is not one that nobody read. */
    @Test
    void whatAPlanTakesAwayLeavesTheAccountsLists() throws IOException {
        String edge = "arn:aws:cloudfront::210987654321:distribution/E2WQ7HERONWWW";
        Map<String, JsonNode> read = read(
                plan(
                        "",
                        change(
                                "aws_cloudfront_distribution.www",
                                "aws_cloudfront_distribution",
                                "delete",
                                "{\"id\":\"E2WQ7HERONWWW\",\"arn\":\"" + edge + "\"}",
                                "{}"),
                        ""),
                "plan.json",
                "--beside",
                Program.DEMO.toString());
        assertThat(read).doesNotContainKey("distribution " + edge);
        assertThat(read.get("distribution-list 210987654321").toString())
                .doesNotContain("E2WQ7HERONWWW")
                .contains("E3KD1TIMETABLE");
    }

    @Test
    void aPlanTellsWhatItMakesAndWhatItTakesAway() throws IOException {
        String text = plan(
                planned("aws_s3_bucket.site", "aws_s3_bucket", "{\"bucket\":\"heronferry-planned\"}") + ","
                        + planned(
                                "aws_s3_bucket_policy.site",
                                "aws_s3_bucket_policy",
                                "{\"policy\":\"{\\\"Statement\\\":[]}\"}")
                        + "," + planned("aws_sns_topic.x", "aws_sns_topic", "{}"),
                change("aws_s3_bucket.site", "aws_s3_bucket", "create", "null", "{\"id\":true}") + ","
                        + change(
                                "aws_s3_bucket_policy.site",
                                "aws_s3_bucket_policy",
                                "create",
                                "null",
                                "{\"bucket\":true}")
                        + ","
                        + change(
                                "aws_s3_bucket_public_access_block.old",
                                "aws_s3_bucket_public_access_block",
                                "delete",
                                "{\"bucket\":\"heronferry-www-content\"}",
                                "{}"),
                "{\"address\":\"aws_s3_bucket_policy.site\",\"expressions\":{\"bucket\":{\"references\":"
                        + "[\"aws_s3_bucket.site.id\",\"aws_s3_bucket.site\"]}}}");
        Map<String, JsonNode> read = read(text, "plan.json", "--beside", Program.DEMO.toString());
        assertThat(read.get("bucket-policy arn:aws:s3:::heronferry-planned").has("found"))
                .isTrue();
        assertThat(read.get("bucket-public-access arn:aws:s3:::heronferry-planned")
                        .toString())
                .contains("true");
        assertThat(read.get("bucket-public-access arn:aws:s3:::heronferry-www-content")
                        .has("absent"))
                .isTrue();
        assertThat(read.get("bucket-list 210987654321").toString()).contains("heronferry-planned");
    }

    @Test
    void whatAPlanLeavesOpenIsUnread() throws IOException {
        String text = plan(
                planned("aws_s3_bucket.site", "aws_s3_bucket", "{\"bucket\":\"heronferry-planned\"}") + ","
                        + planned(
                                "aws_s3_bucket_policy.site",
                                "aws_s3_bucket_policy",
                                "{\"bucket\":\"heronferry-planned\"}"),
                change("aws_s3_bucket.site", "aws_s3_bucket", "create", "null", "{}") + ","
                        + change(
                                "aws_s3_bucket_policy.site",
                                "aws_s3_bucket_policy",
                                "create",
                                "null",
                                "{\"policy\":true}"),
                "");
        Map<String, JsonNode> read = read(text, "plan.json");
        assertThat(read.get("bucket-policy arn:aws:s3:::heronferry-planned")
                        .path("unread")
                        .path("message")
                        .asString())
                .contains("known only after the apply");
    }

    /** A bucket that is there already, and whose block no resource manages, may be wide open. */
    @Test
    void anExistingBucketOfAPlanHasNoDefaults() throws IOException {
        String text = plan(
                planned("aws_s3_bucket.site", "aws_s3_bucket", "{\"bucket\":\"heronferry-old\"}"),
                change("aws_s3_bucket.site", "aws_s3_bucket", "no-op", "{\"bucket\":\"heronferry-old\"}", "{}"),
                "");
        assertThat(read(text, "plan.json").keySet()).doesNotContain("bucket-public-access arn:aws:s3:::heronferry-old");
    }

    @Test
    void aStateFileTellsWhatIsThere() throws IOException {
        String text = "{\"version\":4,\"terraform_version\":\"1.9.0\",\"resources\":[{\"mode\":\"managed\",\"type\":"
                + "\"aws_s3_bucket_versioning\",\"name\":\"v\",\"instances\":[{\"attributes\":{\"bucket\":\"b\","
                + "\"versioning_configuration\":[{\"status\":\"Enabled\"}]}}]},{\"mode\":\"managed\",\"type\":"
                + "\"aws_s3_bucket_policy\",\"name\":\"p\",\"instances\":[{\"attributes\":{\"bucket\":\"b\",\"policy\":"
                + "\"{}\"},\"sensitive_attributes\":[[{\"type\":\"get_attr\",\"value\":\"policy\"}]]}]}]}";
        Map<String, JsonNode> read = read(text, "terraform.tfstate");
        assertThat(read.get("bucket-versioning arn:aws:s3:::b").toString()).contains("Enabled");
        assertThat(read.get("bucket-policy arn:aws:s3:::b").toString()).contains("marked as sensitive");
    }

    // --- sources

    @Test
    void aSourcesPipelinesAndManagedAppsAreRead() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                resource "aws_s3_bucket" "content" { bucket = "tides-content" }
                resource "aws_codepipeline" "tides" {
                  name     = "tides"
                  role_arn = "arn:aws:iam::210987654321:role/tides-delivery"
                  artifact_store {
                    location = "tides-artifacts"
                    type     = "S3"
                  }
                  stage {
                    name = "Deploy"
                    action {
                      name            = "Publish"
                      category        = "Deploy"
                      owner           = "AWS"
                      provider        = "S3"
                      version         = "1"
                      input_artifacts = ["built"]
                      configuration   = { BucketName = aws_s3_bucket.content.bucket, Extract = "true" }
                    }
                  }
                }
                resource "aws_amplify_app" "tides" { name = "tides" }
                resource "aws_amplify_domain_association" "tides" {
                  app_id      = aws_amplify_app.tides.id
                  domain_name = "tides.heronferry.example"
                  sub_domain {
                    branch_name = "main"
                    prefix      = "app"
                  }
                }
                """), "--region", "eu-west-1");
        assertThat(read.get("delivery-pipeline arn:aws:codepipeline:eu-west-1:210987654321:tides")
                        .toString())
                .contains("\"BucketName\":\"tides-content\"", "\"inputArtifacts\":[{\"name\":\"built\"}]");
        assertThat(read.keySet())
                .anyMatch(key ->
                        key.startsWith("managed-app-domain ") && key.endsWith("/domains/tides.heronferry.example"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "\"aws_iam_policy_attachment\" \"x\" {\n name = \"x\"\n policy_arn = \"arn:aws:iam::aws:policy/AdministratorAccess\"\n"
                        + " users = [var.which]\n}",
                "\"aws_iam_user_policy_attachment\" \"x\" {\n user = var.which\n"
                        + " policy_arn = \"arn:aws:iam::aws:policy/AdministratorAccess\"\n}",
                "\"aws_iam_user_group_membership\" \"x\" {\n user = var.which\n groups = [\"admins\"]\n}",
                "\"aws_iam_group_membership\" \"x\" {\n name = \"x\"\n group = \"admins\"\n users = [var.which]\n}",
            })
    void whoHoldsWhatIsOpenWhereNobodyTells(String resource) throws IOException {
        Map<String, JsonNode> read = sources(Map.of(
                "main.tf",
                "variable \"which\" { type = string }\nresource \"aws_iam_user\" \"u\" { name = \"crew\" }\nresource "
                        + resource));
        assertThat(read.get("iam-user arn:aws:iam::210987654321:user/crew").has("unread"))
                .isTrue();
    }

    /** A module that lies elsewhere may set whatever it likes of what it is given, and nothing of the rest. */
    @Test
    void whatAModuleThatIsNotReadIsGivenIsOpen() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                resource "aws_s3_bucket" "site" { bucket = "tides-content" }
                resource "aws_s3_bucket" "logs" { bucket = "harbour-logs" }
                resource "aws_iam_role" "publisher" {
                  name               = "tides-publisher"
                  assume_role_policy = jsonencode({ Version = "2012-10-17", Statement = [] })
                }
                module "hosting" {
                  source = "registry.example/hosting/aws"
                  origin = { bucket = aws_s3_bucket.site.id }
                  role   = aws_iam_role.publisher.name
                }
                """));
        assertThat(read.get("bucket-policy arn:aws:s3:::tides-content").has("unread"))
                .isTrue();
        assertThat(read.get("bucket-policy arn:aws:s3:::harbour-logs").has("absent"))
                .isTrue();
        assertThat(read.get("iam-role arn:aws:iam::210987654321:role/tides-publisher")
                        .has("unread"))
                .isTrue();
    }

    @Test
    void whatALoopMakesInATemplateIsOpen() throws IOException {
        assertThat(survey("""
                Resources:
                  Site: {Type: AWS::S3::Bucket, Properties: {BucketName: tides-content}}
                  Fn::ForEach::Policies: [Name, [a, b], {'Policy${Name}': {Type: AWS::S3::BucketPolicy}}]
                """).get("bucket-policy arn:aws:s3:::tides-content").has("unread"))
                .isTrue();
    }

    /** What may be there in an unknown number, or is set of a bucket that is not told, is no default. */
    @Test
    void whatMayBeThereIsNotTold() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                variable "keeps" { type = bool }
                variable "which" { type = string }
                resource "aws_s3_bucket" "site" { bucket = "tides-content" }
                resource "aws_s3_bucket_versioning" "site" {
                  count  = var.keeps ? 1 : 0
                  bucket = aws_s3_bucket.site.id
                  versioning_configuration { status = "Enabled" }
                }
                resource "aws_s3_bucket_policy" "any" {
                  bucket = var.which
                  policy = jsonencode({ Version = "2012-10-17", Statement = [] })
                }
                """));
        assertThat(read.get("bucket-versioning arn:aws:s3:::tides-content").has("unread"))
                .isTrue();
        assertThat(read.get("bucket-policy arn:aws:s3:::tides-content").has("unread"))
                .isTrue();
    }

    /** The language's JSON form says the same, and override files have the last word. */
    @Test
    void sourcesInJsonAndOverridesAreRead() throws IOException {
        Map<String, JsonNode> read = sources(
                Map.of("main.tf.json", """
                {
                  "//": "made by a program",
                  "variable": {"stage": {"default": "test"}},
                  "locals": {"name": "tides-${var.stage}"},
                  "resource": {
                    "aws_s3_bucket": {"site": {"bucket": "${local.name}"}},
                    "aws_s3_bucket_public_access_block": {"site": {
                      "bucket": "${aws_s3_bucket.site.id}",
                      "block_public_acls": true, "ignore_public_acls": true,
                      "block_public_policy": true, "restrict_public_buckets": true}},
                    "aws_s3_bucket_website_configuration": {"site": {
                      "bucket": "${aws_s3_bucket.site.id}",
                      "index_document": {"suffix": "index.html"},
                      "error_document": [{"key": "404.html"}]}}
                  }
                }
                """, "override.tf", """
                resource "aws_s3_bucket_public_access_block" "site" {
                  restrict_public_buckets = false
                }
                """, "terraform.tfvars.json", "{\"stage\": \"prod\"}"));
        assertThat(read.get("bucket-website arn:aws:s3:::tides-prod")
                        .path("found")
                        .toString())
                .contains("\"Suffix\":\"index.html\"", "\"Key\":\"404.html\"");
        JsonNode block = read.get("bucket-public-access arn:aws:s3:::tides-prod")
                .path("found")
                .path("PublicAccessBlockConfiguration");
        assertThat(block.path("RestrictPublicBuckets").asBoolean()).isFalse();
        assertThat(block.path("BlockPublicPolicy").asBoolean()).isTrue();
    }

    @Test
    void aSourcesLifecycleFilterIsTold() throws IOException {
        JsonNode rules = sources(Map.of("main.tf", """
                resource "aws_s3_bucket" "b" { bucket = "tides-content" }
                resource "aws_s3_bucket_lifecycle_configuration" "b" {
                  bucket = aws_s3_bucket.b.id
                  rule {
                    id     = "big"
                    status = "Enabled"
                    filter { object_size_greater_than = 1024 * 1024 }
                    expiration { days = 9 }
                  }
                  rule {
                    id     = "tagged"
                    status = "Enabled"
                    filter {
                      and {
                        prefix = "old/"
                        tags   = { kept = "no" }
                      }
                    }
                    noncurrent_version_expiration {
                      noncurrent_days           = 30
                      newer_noncurrent_versions = 5
                    }
                  }
                }
                """))
                .get("bucket-lifecycle arn:aws:s3:::tides-content")
                .path("found")
                .path("Rules");
        assertThat(rules.get(0).path("Filter").toString()).isEqualTo("{\"ObjectSizeGreaterThan\":1048576}");
        assertThat(rules.get(1).path("Filter").toString())
                .isEqualTo("{\"And\":{\"Prefix\":\"old/\",\"Tags\":[{\"Key\":\"kept\",\"Value\":\"no\"}]}}");
        assertThat(rules.get(1).path("NoncurrentVersionExpiration").toString())
                .contains("\"NewerNoncurrentVersions\":5");
    }

    /** Resources in numbers that nobody would be told one by one are one of which nothing is known. */
    @Test
    void veryManyOfAKindAreNotDroppedSilently() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                resource "aws_s3_bucket" "b" {
                  count  = 20000
                  bucket = "tides-${count.index}"
                }
                """));
        assertThat(read.keySet()).anyMatch(key -> key.startsWith("bucket-policy arn:aws:s3:::tides-{"));
    }

    private Map<String, JsonNode> sources(Map<String, String> files, String... more) throws IOException {
        Path root = Files.createDirectories(folder.resolve("source"));
        for (Map.Entry<String, String> file : files.entrySet()) {
            Path path = root.resolve(file.getKey());
            Files.createDirectories(path.getParent());
            Files.writeString(path, file.getValue());
        }
        Path out = folder.resolve("planned.ndjson");
        List<String> words = new ArrayList<>(List.of(
                "survey",
                "--template",
                root.toString(),
                "--force",
                "--output",
                out.toString(),
                "--account",
                "210987654321"));
        words.addAll(List.of(more));
        Run run = Program.run(words.toArray(String[]::new));
        assertThat(run.code()).as(run.err()).isZero();
        Map<String, JsonNode> readings = new HashMap<>();
        for (String line : Files.readAllLines(out)) {
            JsonNode node = JSON.readTree(line);
            readings.put(
                    node.path("aspect").asString("header") + " "
                            + node.path("of").asString(""),
                    node);
        }
        return readings;
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "\"plain\" | plain",
                "\"${var.stage}-site\" | prod-site",
                "join(\"-\", [\"a\", local.part]) | a-inner",
                "var.stage == \"prod\" ? \"live\" : \"test\" | live",
                "lookup({prod = \"from-map\"}, var.stage, \"none\") | from-map",
                "{prod = \"by-key\"}[var.stage] | by-key",
                "[\"x\", \"y\"][1] | y",
                "lower(\"UPPER\") | upper",
                "format(\"%s-%d\", \"n\", 3) | n-3",
                "replace(\"a.b\", \".\", \"-\") | a-b",
                "try(var.nothing.at.all, \"fallback\") | fallback",
                "coalesce(\"\", \"second\") | second",
                "[for n in [\"p\", \"q\"] : n if n != \"p\"][0] | q",
                "element(concat([\"one\"], [\"two\"]), 1) | two",
                "tostring(1 + 2 * 3) | 7",
                "trimsuffix(\"site.tf\", \".tf\") | site",
                "merge({a = \"old\"}, {a = \"new\"}).a | new",
                "\"$${literal}\" | ${literal}",
                "var.unset | {aws_s3_bucket.site}",
                "\"${var.unset}-site\" | {var.unset}-site"
            })
    void expressionsAreWorkedOut(String expression, String name) throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                variable "stage" { default = "prod" }
                variable "unset" {}
                locals { part = "inner" }
                resource "aws_s3_bucket" "site" {
                  bucket = %s
                }
                resource "aws_s3_bucket_versioning" "site" {
                  bucket = aws_s3_bucket.site.id
                  versioning_configuration { status = "Enabled" }
                }
                """.formatted(expression)));
        assertThat(read.keySet()).contains("bucket-policy arn:aws:s3:::" + name);
    }

    @Test
    void blocksAreRepeatedOverKnownValues() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                variable "sites" { default = { north = "a", south = "b" } }
                resource "aws_s3_bucket" "each" {
                  for_each = var.sites
                  bucket   = "heronferry-${each.key}-${each.value}"
                }
                resource "aws_s3_bucket_public_access_block" "each" {
                  for_each                = var.sites
                  bucket                  = aws_s3_bucket.each[each.key].id
                  block_public_policy     = each.key == "north"
                }
                resource "aws_s3_bucket" "counted" {
                  count  = 2
                  bucket = "heronferry-${count.index}"
                }
                resource "aws_s3_bucket_cors_configuration" "one" {
                  bucket = aws_s3_bucket.counted[1].bucket
                  dynamic "cors_rule" {
                    for_each = ["https://a.example", "https://b.example"]
                    iterator = rule
                    content {
                      allowed_methods = ["GET"]
                      allowed_origins = [rule.value]
                    }
                  }
                }
                """));
        assertThat(read.get("bucket-public-access arn:aws:s3:::heronferry-north-a")
                        .toString())
                .contains(
                        "\"BlockPublicPolicy\":true",
                        "\"RestrictPublicBuckets\":false",
                        "aws_s3_bucket_public_access_block.each[\\\"north\\\"]");
        assertThat(read.get("bucket-public-access arn:aws:s3:::heronferry-south-b")
                        .toString())
                .contains("\"BlockPublicPolicy\":false");
        assertThat(read.get("bucket-cors arn:aws:s3:::heronferry-1")
                        .path("found")
                        .path("CORSRules"))
                .hasSize(2);
        assertThat(read.get("bucket-cors arn:aws:s3:::heronferry-0").has("absent"))
                .isTrue();
    }

    @Test
    void modulesFilesAndPoliciesOfASource() throws IOException {
        Map<String, JsonNode> read = sources(Map.of(
                "main.tf",
                """
                        module "site" {
                          source = "./parts/site"
                          name   = "heronferry-module"
                        }
                        data "aws_iam_policy_document" "read" {
                          statement {
                            actions   = ["s3:GetObject"]
                            resources = ["${module.site.arn}/*"]
                            principals {
                              type        = "AWS"
                              identifiers = ["*"]
                            }
                          }
                        }
                        resource "aws_s3_bucket_policy" "read" {
                          bucket = module.site.id
                          policy = data.aws_iam_policy_document.read.json
                        }
                        resource "aws_iam_role" "publisher" {
                          name               = "module-publisher"
                          assume_role_policy = file("trust.json")
                        }
                        resource "aws_iam_role_policy" "publish" {
                          role   = aws_iam_role.publisher.name
                          name   = "publish"
                          policy = templatefile("publish.json", { bucket = module.site.arn })
                        }
                        """,
                "trust.json",
                "{\"Statement\":[]}",
                "publish.json",
                "{\"Statement\":[{\"Effect\":\"Allow\",\"Action\":\"s3:PutObject\",\"Resource\":\"${bucket}/*\"}]}",
                "parts/site/main.tf",
                """
                        variable "name" {}
                        resource "aws_s3_bucket" "this" { bucket = var.name }
                        output "id" { value = aws_s3_bucket.this.id }
                        output "arn" { value = aws_s3_bucket.this.arn }
                        """));
        assertThat(read.get("bucket-policy arn:aws:s3:::heronferry-module")
                        .path("found")
                        .path("Policy")
                        .asString())
                .contains("arn:aws:s3:::heronferry-module/*", "\"AWS\"");
        assertThat(read.get("bucket-acl arn:aws:s3:::heronferry-module")
                        .path("from")
                        .path("address")
                        .asString())
                .isEqualTo("module.site.aws_s3_bucket.this");
        assertThat(read.get("iam-role arn:aws:iam::210987654321:role/module-publisher")
                        .toString())
                .contains("arn:aws:s3:::heronferry-module/*");
    }

    @Test
    void whatASourceCannotKnowIsUnreadWithItsPlace() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                variable "partner" {}
                resource "aws_s3_bucket" "site" { bucket = "heronferry-open" }
                resource "aws_s3_bucket_policy" "site" {
                  bucket = aws_s3_bucket.site.id
                  policy = jsonencode({
                    Statement = [{ Effect = "Allow", Principal = { AWS = var.partner }, Action = "s3:*", Resource = "*" }]
                  })
                }
                resource "aws_s3_bucket_versioning" "site" {
                  bucket = aws_s3_bucket.site.id
                  versioning_configuration { status = regex("a", "b") }
                }
                """, "terraform.tfvars", "unrelated = \"x\"\n"));
        JsonNode policy = read.get("bucket-policy arn:aws:s3:::heronferry-open");
        assertThat(policy.path("unread").path("message").asString()).contains("the variable partner has no value");
        assertThat(policy.path("from").path("line").asInt()).isEqualTo(3);
        assertThat(read.get("bucket-versioning arn:aws:s3:::heronferry-open").has("unread"))
                .isTrue();
        Path values =
                Files.writeString(folder.resolve("prod.tfvars"), "partner = \"arn:aws:iam::109876543210:root\"\n");
        Map<String, JsonNode> told = sources(Map.of(), "--parameters", values.toString());
        assertThat(told.get("bucket-policy arn:aws:s3:::heronferry-open").has("found"))
                .isTrue();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "resource \"aws_s3_bucket\" \"a\" { | :1:31: a } is missing",
                "resource \"aws_s3_bucket\" { } | has a type and a name",
                "locals { a = } | :1:14: an expression is missing",
                "locals { a = \"open | a text is not closed",
                "} | closes nothing"
            })
    void aBrokenSourceGetsItsPlace(String source, String says) throws IOException {
        Path root = Files.createDirectories(folder.resolve("source"));
        Files.writeString(root.resolve("main.tf"), source);
        Run run = Program.run(
                "survey",
                "--template",
                root.toString(),
                "--output",
                folder.resolve("none.ndjson").toString());
        assertThat(run.code()).isEqualTo(3);
        assertThat(run.err()).contains("main.tf").contains(says);
    }

    @Test
    void aCircleInASourceEnds() throws IOException {
        Map<String, JsonNode> read = sources(Map.of("main.tf", """
                locals {
                  a = local.b
                  b = local.a
                }
                resource "aws_s3_bucket" "site" { bucket = local.a }
                """));
        assertThat(read.keySet()).contains("bucket-policy arn:aws:s3:::{aws_s3_bucket.site}");
    }
}
