package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import warden.cli.Program.Run;

/** Surveys that are made of templates: what they tell, what they leave open, and where it stands. */
class TemplateTest extends DescribedSurveys {
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

    @Test
    void whatALoopOverWhatIsNotToldMakesIsOpen() throws IOException {
        assertThat(survey("""
                Parameters: {Names: {Type: CommaDelimitedList}}
                Resources:
                  Site: {Type: AWS::S3::Bucket, Properties: {BucketName: tides-content}}
                  Fn::ForEach::Policies: [Name, !Ref Names, {'Policy${Name}': {Type: AWS::S3::BucketPolicy}}]
                """).get("bucket-policy arn:aws:s3:::tides-content").has("unread"))
                .isTrue();
    }
}
