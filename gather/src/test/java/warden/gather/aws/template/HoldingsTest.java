package warden.gather.aws.template;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.document.Json;

/** What descriptions give to users, groups and roles that they do not make. */
class HoldingsTest {
    private static final String IAM = "arn:aws:iam::210987654321:";
    private static final String PUBLISHER = IAM + "role/site/publisher";
    private static final String EDITOR = IAM + "user/editor";
    private static final String ALL =
            "{Version: '2012-10-17', Statement: [{Effect: Allow, Action: '*', Resource: '*'}]}";

    private static final String LIVE = """
            {"survey":1,"provider":"aws","account":"210987654321","takenAt":"2026-11-20T06:30:00Z"}
            {"aspect":"iam-role","of":"arn:aws:iam::210987654321:role/site/publisher","found":{"Path":"/site/","RoleName":"publisher","Arn":"arn:aws:iam::210987654321:role/site/publisher","AssumeRolePolicyDocument":{},"RolePolicyList":[{"PolicyName":"publish","PolicyDocument":{"Statement":[]}}],"AttachedManagedPolicies":[{"PolicyName":"Audit","PolicyArn":"arn:aws:iam::aws:policy/Audit"}]}}
            {"aspect":"iam-role","of":"arn:aws:iam::210987654321:role/other","found":{"Path":"/","RoleName":"other","Arn":"arn:aws:iam::210987654321:role/other","AssumeRolePolicyDocument":{},"RolePolicyList":[],"AttachedManagedPolicies":[]}}
            {"aspect":"iam-user","of":"arn:aws:iam::210987654321:user/editor","found":{"Path":"/","UserName":"editor","Arn":"arn:aws:iam::210987654321:user/editor","UserPolicyList":[],"GroupList":["readers"],"AttachedManagedPolicies":[]}}
            {"aspect":"iam-user-keys","of":"arn:aws:iam::210987654321:user/editor","found":{"AccessKeyMetadata":[]}}
            {"aspect":"iam-group","of":"arn:aws:iam::210987654321:group/writers","found":{"Path":"/","GroupName":"writers","Arn":"arn:aws:iam::210987654321:group/writers","GroupPolicyList":[],"AttachedManagedPolicies":[]}}
            """;

    private static Described template(String resources) throws Exception {
        return Described.over(
                LIVE,
                "Parameters: {Name: {Type: String}}\nConditions: {Open: !Equals [!Ref Name, x]}\nResources:\n"
                        + resources);
    }

    @ParameterizedTest
    @ValueSource(strings = {"AWS::IAM::Policy, Roles: [publisher]", "AWS::IAM::RolePolicy, RoleName: publisher"})
    void aTemplateGivesAPolicy(String kind) throws Exception {
        String[] parts = kind.split(", ", 2);
        Described described = template("  More: {Type: " + parts[0] + ", Properties: {PolicyName: more, " + parts[1]
                + ", PolicyDocument: " + ALL + "}}\n");
        assertThat(described.reading("iam-role", PUBLISHER))
                .contains("\"PolicyName\":\"publish\"")
                .contains("\"PolicyName\":\"more\",\"PolicyDocument\":{\"Version\":\"2012-10-17\"")
                .contains("\"Action\":\"*\"")
                .contains("policy/Audit");
        assertThat(described.reading("iam-role", IAM + "role/other")).doesNotContain("more");
    }

    @Test
    void aPolicyTakesThePlaceOfOneOfItsName() throws Exception {
        Described described = template(
                "  More: {Type: AWS::IAM::Policy, Properties: {PolicyName: publish, Roles: [publisher], PolicyDocument: "
                        + ALL + "}}\n");
        assertThat(described.reading("iam-role", PUBLISHER))
                .containsOnlyOnce("\"PolicyName\":\"publish\"")
                .contains("\"Action\":\"*\"");
    }

    @Test
    void aTemplateAttachesAManagedPolicy() throws Exception {
        Described described = template(
                "  More: {Type: AWS::IAM::ManagedPolicy, Properties: {ManagedPolicyName: more, Roles: [publisher], "
                        + "Users: [editor], Groups: [writers], PolicyDocument: " + ALL + "}}\n");
        for (String reading :
                List.of("iam-role " + PUBLISHER, "iam-user " + EDITOR, "iam-group " + IAM + "group/writers")) {
            assertThat(described.readings().get(reading)).contains("\"PolicyArn\":\"" + IAM + "policy/more\"");
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "PolicyName: more, Roles: [publisher], PolicyDocument: " + ALL + "}, Condition: Open",
                "PolicyName: more, Roles: !If [Open, [publisher], [x]], PolicyDocument: " + ALL + "}",
                "PolicyName: more, Roles: [!Ref Name], PolicyDocument: " + ALL + "}",
                "PolicyName: more, Roles: [!Sub 'a-${Name}'], PolicyDocument: " + ALL + "}",
                "PolicyName: more, Roles: [publisher], PolicyDocument: !Ref Name}",
            })
    void whatIsNotToldLeavesTheRoleOpen(String properties) throws Exception {
        assertThat(template("  More: {Type: AWS::IAM::Policy, Properties: {" + properties + "}\n")
                        .reading("iam-role", PUBLISHER))
                .isEqualTo("unread");
    }

    /** What is attached to a name that is given later may be attached to the one that is made here. */
    @Test
    void aNameThatIsGivenLaterMayBeOfWhatIsMadeHere() throws Exception {
        String resources = """
                Parameters: {Name: {Type: String}}
                Resources:
                  Told: {Type: AWS::IAM::Role, Properties: {RoleName: %s, AssumeRolePolicyDocument: {}}}
                  Site: {Type: AWS::S3::Bucket, Properties: {BucketName: %s}}
                  More: {Type: AWS::IAM::Policy, Properties: {PolicyName: more, Roles: [!Ref Name], PolicyDocument: {Statement: []}}}
                  Open: {Type: AWS::S3::BucketPolicy, Properties: {Bucket: !Ref Name, PolicyDocument: {Statement: []}}}
                """;
        Described literal = Described.template(resources.formatted("told", "heron-site"));
        assertThat(literal.reading("iam-role", IAM + "role/told")).isEqualTo("unread");
        assertThat(literal.reading("bucket-policy", "arn:aws:s3:::heron-site")).isEqualTo("unread");
        Described same = Described.template(resources.formatted("!Ref Name", "!Ref Name"));
        assertThat(same.reading("iam-role", IAM + "role/{Name}")).contains("\"more\"");
        assertThat(same.reading("bucket-policy", "arn:aws:s3:::{Name}")).contains("Statement");
    }

    @Test
    void whoIsNotInTheAccountIsUnread() throws Exception {
        String more =
                "  More: {Type: AWS::IAM::Policy, Properties: {PolicyName: more, Roles: [stranger], PolicyDocument: "
                        + ALL + "}}\n";
        assertThat(template(more).reading("iam-role", IAM + "role/stranger")).isEqualTo("unread");
        assertThat(Described.template("Resources:\n" + more).reading("iam-role", IAM + "role/stranger"))
                .isEqualTo("unread");
    }

    @Test
    void usersJoinGroupsAndGetKeys() throws Exception {
        Described described = template("""
                  Joins: {Type: AWS::IAM::UserToGroupAddition, Properties: {GroupName: writers, Users: [editor]}}
                  Key: {Type: AWS::IAM::AccessKey, Properties: {UserName: editor}}
                """);
        assertThat(described.reading("iam-user", EDITOR)).contains("\"GroupList\":[\"readers\",\"writers\"]");
        assertThat(described.reading("iam-user-keys", EDITOR)).isEqualTo("unread");
        assertThat(template(
                                "  Joins: {Type: AWS::IAM::UserToGroupAddition, Properties: {GroupName: !Ref Name, Users: [editor]}}\n")
                        .reading("iam-user", EDITOR))
                .isEqualTo("unread");
    }

    /** What is not made gives nothing; what may be made leaves open. */
    @ParameterizedTest
    @CsvSource({
        "Never, '\"GroupList\":[\"readers\"]'",
        "Open, unread",
        "Always, '\"GroupList\":[\"readers\",\"writers\"]'"
    })
    void aUserJoinsAGroupUnderACondition(String condition, String expected) throws Exception {
        Described described = Described.over(LIVE, """
                Parameters: {Name: {Type: String}}
                Conditions: {Open: !Equals [!Ref Name, x], Never: !Equals [a, b], Always: !Equals [a, a]}
                Resources:
                  Joins: {Type: AWS::IAM::UserToGroupAddition, Condition: %s, Properties: {GroupName: writers, Users: [editor, made]}}
                  Made: {Type: AWS::IAM::User, Properties: {UserName: made, Groups: [readers]}}
                """.formatted(condition));
        assertThat(described.reading("iam-user", EDITOR)).contains(expected);
        assertThat(described.reading("iam-user", IAM + "user/made")).contains(expected);
    }

    @Test
    void aStackWithinGivesToARoleOfTheOneAround() throws Exception {
        Described described = Described.template(
                """
                Resources:
                  Role: {Type: AWS::IAM::Role, Properties: {AssumeRolePolicyDocument: {}}}
                  Inner: {Type: AWS::CloudFormation::Stack, Properties: {TemplateURL: inner.yaml, Parameters: {Role: !Ref Role}}}
                """,
                Map.of(
                        "inner.yaml",
                        "Parameters: {Role: {Type: String}}\nResources:\n  More: {Type: AWS::IAM::Policy, Properties: {PolicyName: more, "
                                + "Roles: [!Ref Role], PolicyDocument: " + ALL + "}}\n"));
        assertThat(described.reading("iam-role", IAM + "role/{Role}")).contains("\"PolicyName\":\"more\"");
    }

    // --- the other language

    @Test
    void aSourceGivesAndAttaches() throws Exception {
        Described described = Described.sourceOver(LIVE, """
                data "aws_iam_role" "publisher" { name = "publisher" }
                resource "aws_iam_role_policy" "more" {
                  name   = "more"
                  role   = data.aws_iam_role.publisher.name
                  policy = jsonencode({ Statement = [{ Effect = "Allow", Action = "*", Resource = "*" }] })
                }
                resource "aws_iam_role_policy_attachment" "all" {
                  role       = data.aws_iam_role.publisher.id
                  policy_arn = "arn:aws:iam::aws:policy/AdministratorAccess"
                }
                resource "aws_iam_policy_attachment" "some" {
                  name       = "some"
                  users      = ["editor"]
                  groups     = ["writers"]
                  policy_arn = "arn:aws:iam::aws:policy/AmazonS3FullAccess"
                }
                resource "aws_iam_user_group_membership" "joins" {
                  user   = "editor"
                  groups = ["writers"]
                }
                resource "aws_iam_access_key" "key" { user = "editor" }
                """);
        assertThat(described.reading("iam-role", PUBLISHER))
                .contains("\"PolicyName\":\"more\"")
                .contains("policy/AdministratorAccess");
        assertThat(described.reading("iam-role", IAM + "role/other")).doesNotContain("more");
        assertThat(described.reading("iam-user", EDITOR))
                .contains("AmazonS3FullAccess")
                .contains("\"writers\"");
        assertThat(described.reading("iam-group", IAM + "group/writers")).contains("AmazonS3FullAccess");
        assertThat(described.reading("iam-user-keys", EDITOR)).isEqualTo("unread");
    }

    @ParameterizedTest
    @ValueSource(strings = {"var.name", "\"a-${var.name}\"", "data.aws_iam_role.some.name"})
    void aSourceThatDoesNotTellToWhomLeavesAllOpen(String role) throws Exception {
        Described described = Described.sourceOver(LIVE, """
                variable "name" {}
                data "aws_iam_role" "some" { name = var.name }
                resource "aws_iam_role_policy" "more" {
                  name   = "more"
                  role   = %s
                  policy = "{}"
                }
                """.formatted(role));
        assertThat(described.reading("iam-role", PUBLISHER)).isEqualTo("unread");
        assertThat(described.reading("iam-user", EDITOR)).startsWith("{");
    }

    @Test
    void aKeyForAUserWhoIsNotToldMayBeAnybodys() throws Exception {
        Described template = template("  Key: {Type: AWS::IAM::AccessKey, Properties: {UserName: !Ref Name}}\n");
        Described source = Described.sourceOver(LIVE, """
                variable "name" {}
                resource "aws_iam_access_key" "key" { user = var.name }
                """);
        for (Described described : List.of(template, source)) {
            assertThat(described.reading("iam-user-keys", EDITOR)).isEqualTo("unread");
            assertThat(described.reading("iam-user", EDITOR)).startsWith("{");
        }
    }

    /** Two spellings of one name that is told in part only. */
    @Test
    void aNameThatIsToldInPartIsTheSameEverywhere() throws Exception {
        Described described = Described.source("""
                variable "stage" {}
                resource "aws_iam_role" "role" {
                  name               = "publish-${var.stage}"
                  assume_role_policy = "{}"
                }
                resource "aws_iam_role_policy" "more" {
                  name   = "more"
                  role   = "publish-${var.stage}"
                  policy = "{}"
                }
                """);
        assertThat(described.reading("iam-role", IAM + "role/publish-{var.stage}"))
                .contains("\"PolicyName\":\"more\"");
    }

    private static Object deleted(String type, Map<String, Object> before) {
        return PlanText.change(type, "it", List.of("delete"), before, null, Json.object());
    }

    @Test
    void aPlanTakesAway() throws Exception {
        Described described = Described.over(
                LIVE,
                PlanText.of(
                        List.of(
                                deleted(
                                        "aws_iam_role_policy",
                                        Json.object("name", "publish", "role", "publisher", "policy", "{}")),
                                deleted(
                                        "aws_iam_role_policy_attachment",
                                        Json.object(
                                                "role", "publisher", "policy_arn", "arn:aws:iam::aws:policy/Audit")),
                                deleted(
                                        "aws_iam_user_group_membership",
                                        Json.object("user", "editor", "groups", List.of("readers")))),
                        List.of(),
                        List.of()));
        assertThat(described.reading("iam-role", PUBLISHER))
                .contains("\"RolePolicyList\":[]")
                .contains("\"AttachedManagedPolicies\":[]");
        assertThat(described.reading("iam-user", EDITOR)).contains("\"GroupList\":[]");
    }
}
