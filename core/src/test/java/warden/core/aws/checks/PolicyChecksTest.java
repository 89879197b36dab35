package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.Audited.check;
import static warden.core.fixture.SurveyBuilder.aSurvey;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.audit.Severity;
import warden.core.fixture.SurveyBuilder;

class PolicyChecksTest {
    private static final String B = "arn:aws:s3:::b";

    private static String statement(String effect, String principal, String action, String resource, String condition) {
        return "{'Effect':'" + effect + "','Principal':" + principal + ",'Action':" + action + ",'Resource':" + resource
                + (condition.isEmpty() ? "" : ",'Condition':" + condition) + "}";
    }

    private static String allow(String action, String resource) {
        return statement("Allow", "'*'", action, resource, "");
    }

    private static SurveyBuilder bucketWith(String... statements) {
        return aSurvey().bucket("b", bucket -> bucket.policy(statements));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "policy-invalid",
                "policy-names-bucket-not-objects",
                "policy-names-other-bucket",
                "policy-template-text",
                "policy-unknown-action",
                "policy-dead-statement",
                "policy-allow-not-principal",
                "policy-stale-principal",
                "policy-wider-than-needed"
            })
    void isSilentOnAPlainPolicyAndUnknownOnAnUnreadOne(String id) {
        check(id, bucketWith(allow("'s3:GetObject'", "'arn:aws:s3:::b/*'"))).isSilent();
        check(id, bucketWith().unread("bucket-policy", B)).isUnknownFor("bucket-policy");
    }

    @Test
    void saysWhereAndWhyTheProviderWouldRefuse() {
        assertThat(check("policy-invalid", aSurvey().bucket("b", b -> b.policyText("{nonsense")))
                        .flags(Severity.HIGH, B, "is not valid JSON")
                        .says())
                .contains("line 1");
        check("policy-invalid", bucketWith("{'Effect':'Allow','Principal':'*','Action':'s3:*'}"))
                .flags(Severity.HIGH, B, "at /Statement/0 has neither Resource nor NotResource");
        check("policy-invalid", bucketWith(allow("['s3:GetObject','ec2:RunInstances']", "'arn:aws:s3:::b/*'")))
                .flags(Severity.HIGH, B, "/Statement/0/Action/1 is an action of another service");
        String long20k = allow("'s3:GetObject'", "'arn:aws:s3:::b/" + "x".repeat(21_000) + "'");
        check("policy-invalid", bucketWith(long20k)).flags(Severity.HIGH, B, "20 KB");
    }

    @Test
    void looksAtIdentityPoliciesToo() {
        SurveyBuilder survey = aSurvey().user("anna", "{'Effect':'Allow','Action':'s3:GetObjects','Resource':'b'}");
        check("policy-invalid", survey)
                .flags(
                        Severity.HIGH,
                        "arn:aws:iam::210987654321:user/anna",
                        "/UserPolicyList/0/PolicyDocument/Statement/0/Resource");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'s3:GetObject' | 'arn:aws:s3:::b' | names the bucket, not its objects",
                "['s3:GetObject','s3:ListBucket'] | 'arn:aws:s3:::b' | for s3:GetObject",
                "'s3:ListBucket' | 'arn:aws:s3:::b/*' | names only objects, not the bucket",
                "['s3:ListBucket*','s3:GetObject'] | 'arn:aws:s3:::b/*' | for s3:ListBucket*"
            })
    void knowsBucketsFromObjects(String action, String resource, String says) {
        check("policy-names-bucket-not-objects", bucketWith(allow(action, resource)))
                .flags(Severity.HIGH, B, says);
        check("policy-dead-statement", bucketWith(allow(action, resource))).isSilent();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'s3:*' | 'arn:aws:s3:::b/*'",
                "['s3:GetObject','s3:ListBucket'] | ['arn:aws:s3:::b','arn:aws:s3:::b/*']",
                "'s3:Get*' | 'arn:aws:s3:::b'",
                "'s3:GetObject' | 'arn:aws:s3:::b*'"
            })
    void isContentWhereSomethingApplies(String action, String resource) {
        check("policy-names-bucket-not-objects", bucketWith(allow(action, resource)))
                .isSilent();
    }

    @Test
    void findsResourcesOfOtherBuckets() {
        check(
                        "policy-names-other-bucket",
                        bucketWith(allow("'s3:GetObject'", "['arn:aws:s3:::b/*','arn:aws:s3:::c/*']")))
                .flags(Severity.HIGH, B, "arn:aws:s3:::c/*");
        check("policy-names-other-bucket", bucketWith(allow("'s3:GetObject'", "'arn:aws:s3:::*/*'")))
                .isSilent();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "arn:aws:s3:::<bucket-name>/*",
                "arn:aws:s3:::REPLACE_ME/*",
                "arn:aws:s3:::YOUR-BUCKET/*",
                "arn:aws:s3:::example-bucket/*",
                "arn:aws:s3:::DOC-EXAMPLE-BUCKET/*",
                "arn:aws:s3:::{{bucket}}/*"
            })
    void findsTemplateTextBeforeAnythingElse(String resource) {
        SurveyBuilder survey = bucketWith(allow("'s3:GetObject'", "'" + resource + "'"));
        check("policy-template-text", survey).flags(Severity.HIGH, B, "template text");
        check("policy-names-other-bucket", survey).doesNotApply();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "arn:aws:s3:::heron-replacement-parts/*",
                "arn:aws:s3:::bayour-site/*",
                "arn:aws:s3:::counterexample-buckets/*"
            })
    void doesNotTakeNamesForTemplates(String resource) {
        check("policy-template-text", bucketWith(allow("'s3:GetObject'", "'" + resource + "'")))
                .isSilent();
    }

    @Test
    void offersTheNearestAction() {
        check("policy-unknown-action", bucketWith(allow("'s3:GetObjects'", "'arn:aws:s3:::b/*'")))
                .flags(Severity.MEDIUM, B, "perhaps s3:GetObject was meant");
        check("policy-unknown-action", bucketWith(allow("'s3:Fetch*'", "'arn:aws:s3:::b/*'")))
                .flags(Severity.MEDIUM, B, "s3:Fetch*, which does not exist");
        check(
                        "policy-unknown-action",
                        aSurvey().user("a", "{'Effect':'Allow','Action':'newservice:Do','Resource':'*'}"))
                .isSilent();
    }

    @Test
    void findsStatementsWithoutEffect() {
        String all = allow("'s3:*'", "'arn:aws:s3:::b/*'");
        String some = allow("'s3:GetObject'", "'arn:aws:s3:::b/public/*'");
        check("policy-dead-statement", bucketWith(all, some)).flags(Severity.LOW, B, "covered by statement 1");
        check("policy-dead-statement", bucketWith(some, some)).flags(Severity.LOW, B, "statement 2 has no effect");
        String deny = statement("Deny", "'*'", "'s3:*'", "'arn:aws:s3:::b/*'", "");
        check("policy-dead-statement", bucketWith(some, deny)).flags(Severity.LOW, B, "denied by statement 2");
        String never = statement(
                "Allow",
                "'*'",
                "'s3:GetObject'",
                "'arn:aws:s3:::b/*'",
                "{'StringEquals':{'aws:Referer':'a'},'StringNotEquals':{'aws:Referer':'a'}}");
        check("policy-dead-statement", bucketWith(never)).flags(Severity.LOW, B, "no request can match it");
    }

    @Test
    void keepsANarrowGrantBesideAPublicOne() {
        String narrow = statement("Allow", "{'AWS':'109876543210'}", "'s3:GetObject'", "'arn:aws:s3:::b/*'", "");
        check("policy-dead-statement", bucketWith(allow("'s3:GetObject'", "'arn:aws:s3:::b/*'"), narrow))
                .isSilent();
        String otherwise = statement(
                "Allow", "'*'", "'s3:GetObject'", "'arn:aws:s3:::b/*'", "{'Bool':{'aws:SecureTransport':'true'}}");
        check("policy-dead-statement", bucketWith(otherwise, narrow)).isSilent();
    }

    @Test
    void findsAllowsToEverybodyElse() {
        String statement =
                "{'Effect':'Allow','NotPrincipal':{'AWS':'109876543210'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";
        check("policy-allow-not-principal", bucketWith(statement))
                .flags(Severity.HIGH, B, "everybody who is not named");
        check("policy-allow-not-principal", bucketWith(statement.replace("Allow", "Deny")))
                .isSilent();
    }

    @Test
    void findsPrincipalsThatAreGone() {
        String stale =
                statement("Allow", "{'AWS':'AIDAJQABLZS4A3QDU576Q'}", "'s3:GetObject'", "'arn:aws:s3:::b/*'", "");
        check("policy-stale-principal", bucketWith(stale)).flags(Severity.LOW, B, "AIDAJQABLZS4A3QDU576Q");
        String identity = statement(
                "Allow",
                "{'AWS':'arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity E9'}",
                "'s3:GetObject'",
                "'arn:aws:s3:::b/*'",
                "");
        check(
                        "policy-stale-principal",
                        bucketWith(identity)
                                .absent(
                                        "origin-identity",
                                        "origin-access-identity/E9",
                                        "NoSuchCloudFrontOriginAccessIdentity"))
                .flags(Severity.LOW, B, "E9");
        check("policy-stale-principal", bucketWith(identity).identity("E9", "c0ffee"))
                .isSilent();
    }

    @Test
    void findsGrantsOfMoreThanReading() {
        check("policy-wider-than-needed", bucketWith(allow("'s3:Get*'", "'arn:aws:s3:::b/*'")))
                .flags(Severity.MEDIUM, B, "s3:Get*");
        String edge = statement(
                "Allow",
                "{'Service':'cloudfront.amazonaws.com'}",
                "['s3:GetObject','s3:ListBucket']",
                "['arn:aws:s3:::b','arn:aws:s3:::b/*']",
                "{'StringEquals':{'aws:SourceAccount':'210987654321'}}");
        check("policy-wider-than-needed", bucketWith(edge)).isSilent();
        check("policy-wider-than-needed", bucketWith(edge.replace("s3:ListBucket", "s3:PutObject")))
                .flags(Severity.MEDIUM, B, "the CDN");
        check("policy-wider-than-needed", bucketWith(allow("'s3:*'", "'arn:aws:s3:::b/*'")))
                .doesNotApply();
        String ownRoles = statement(
                "Allow",
                "'*'",
                "['s3:GetObject','s3:PutObject']",
                "['arn:aws:s3:::b/*']",
                "{'ArnLike':{'aws:PrincipalArn':'arn:aws:iam::%s:role/*'}}");
        check("policy-wider-than-needed", bucketWith(String.format(ownRoles, "210987654321")))
                .isSilent();
        check("policy-wider-than-needed", bucketWith(String.format(ownRoles, "*")))
                .flags(Severity.MEDIUM, B, "everyone");
    }
}
