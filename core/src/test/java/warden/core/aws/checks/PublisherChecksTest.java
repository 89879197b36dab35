package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.Audited.check;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.distributionArn;
import static warden.core.fixture.SurveyBuilder.restOrigin;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.audit.Severity;
import warden.core.fixture.SurveyBuilder;

class PublisherChecksTest {
    private static final String USER = "arn:aws:iam::210987654321:user/b-publisher";
    private static final String TRUST =
            "{'Effect':'Allow','Principal':{'Federated':'arn:aws:iam::210987654321:oidc-provider/ci.heronferry.example'},"
                    + "'Action':'sts:AssumeRoleWithWebIdentity'}";
    private static final String PUBLISH =
            "{'Effect':'Allow','Action':['s3:ListBucket','s3:PutObject','s3:DeleteObject'],'Resource':['arn:aws:s3:::bay','arn:aws:s3:::bay/*']}";
    private static final String INVALIDATE =
            "{'Effect':'Allow','Action':'cloudfront:CreateInvalidation','Resource':'" + distributionArn("E1") + "'}";
    private static final String ADMIN = "{'Effect':'Allow','Action':'*','Resource':'*'}";

    private static SurveyBuilder site() {
        return aSurvey()
                .bucket("bay")
                .bucket("other")
                .distribution("E1", "bay.heronferry.example", "index.html", restOrigin("bay", "", "C1"))
                .control("C1", "always");
    }

    private static SurveyBuilder publishing(String... statements) {
        return site().role("bay-publisher", TRUST, "", statements);
    }

    private static final String ROLE = "arn:aws:iam::210987654321:role/bay-publisher";

    @Test
    void aPublisherIsNoAdministrator() {
        check("publisher-is-admin", publishing(ADMIN)).flags(Severity.CRITICAL, ROLE, "can do everything");
        check("publisher-is-admin", publishing(PUBLISH, INVALIDATE)).isSilent();
        check("publisher-is-admin", publishing(ADMIN, "{'Effect':'Deny','Action':'iam:*','Resource':'*'}"))
                .isSilent();
        check("publisher-is-admin", publishing("{'Effect':'Allow','NotAction':'iam:*','Resource':'*'}"))
                .isSilent();
        SurveyBuilder attached = site().role(
                        "bay-publisher",
                        TRUST,
                        ",'AttachedManagedPolicies':[{'PolicyArn':'arn:aws:iam::aws:policy/AdministratorAccess'}]");
        check("publisher-is-admin", attached).flags(Severity.CRITICAL, ROLE, "can do everything");
        SurveyBuilder unread = site().role(
                        "bay-publisher",
                        TRUST,
                        ",'AttachedManagedPolicies':[{'PolicyArn':'arn:aws:iam::aws:policy/Unheard'}]");
        check("publisher-is-admin", unread).isUnknownFor("iam-policy");
    }

    @Test
    void administratorsThatPublishNothingAreNobodysBusiness() {
        SurveyBuilder people = site().role(
                        "engineers",
                        "{'Effect':'Allow','Principal':{'Federated':'arn:aws:iam::210987654321:saml-provider/staff'},'Action':'sts:AssumeRoleWithSAML'}",
                        "",
                        ADMIN);
        check("publisher-is-admin", people).doesNotApply();
    }

    @Test
    void aMachinesKeyMakesAPublisher() {
        String keys =
                "{'AccessKeyMetadata':[{'AccessKeyId':'AKIAEXAMPLE000000001','Status':'Active','CreateDate':'2026-11-01T00:00:00Z'}]}";
        SurveyBuilder survey = site().user("robot", ADMIN)
                .found("iam-user-keys", "arn:aws:iam::210987654321:user/robot", keys)
                .absent("iam-login", "arn:aws:iam::210987654321:user/robot", "NoSuchEntity");
        check("publisher-is-admin", survey)
                .flags(Severity.CRITICAL, "arn:aws:iam::210987654321:user/robot", "everything");
    }

    @Test
    void aPublisherKeepsToItsOwnSites() {
        check("publisher-beyond-its-sites", publishing("{'Effect':'Allow','Action':'s3:*','Resource':'*'}"))
                .flags(Severity.HIGH, ROLE, "other");
        check("publisher-beyond-its-sites", publishing(PUBLISH)).isSilent();
        check("publisher-beyond-its-sites", publishing(ADMIN)).doesNotApply();
        SurveyBuilder byBucket = site().bucket(
                        "log",
                        b -> b.policy("{'Effect':'Allow','Principal':{'AWS':'" + ROLE
                                + "'},'Action':'s3:DeleteObject','Resource':'arn:aws:s3:::log/*'}"))
                .role("bay-publisher", TRUST, "", PUBLISH);
        check("publisher-beyond-its-sites", byBucket).flags(Severity.HIGH, ROLE, "log");
        check("publisher-beyond-its-sites", publishing(PUBLISH).unread("bucket-policy", "arn:aws:s3:::other"))
                .isUnknownFor("bucket-policy");
    }

    @Test
    void aPublisherCanPublish() {
        check("publisher-cannot-publish", publishing(PUBLISH))
                .flags(Severity.HIGH, ROLE, "cloudfront:CreateInvalidation");
        check("publisher-cannot-publish", publishing(PUBLISH, INVALIDATE)).isSilent();
        check("publisher-cannot-publish", publishing(INVALIDATE, PUBLISH.replace("'arn:aws:s3:::bay',", "")))
                .flags(Severity.HIGH, ROLE, "s3:ListBucket.");
        check("publisher-cannot-publish", publishing(PUBLISH, INVALIDATE).unread("bucket-policy", "arn:aws:s3:::bay"))
                .isUnknownFor("bucket-policy");
    }

    @ParameterizedTest
    @CsvSource({
        "2026-08-25T00:00:00Z, 91, MEDIUM",
        "2025-11-23T00:00:00Z, 366, HIGH",
        "2025-11-24T00:00:00+00:00, 365, MEDIUM"
    })
    void keysGrowOld(String created, int days, Severity severity) {
        check("key-old", withKey(created, "Active")).flags(severity, USER, days + " days old");
    }

    @Test
    void keysThatAreYoungOrInactiveAreFine() {
        check("key-old", withKey("2026-08-26T00:00:00Z", "Active")).isSilent();
        check("key-old", withKey("2019-01-01T00:00:00Z", "Inactive")).doesNotApply();
        check("key-old", withKey("last spring", "Active")).isUnknownFor("iam-user-keys");
        check("key-old", site().user("b-publisher").unread("iam-user-keys", USER))
                .isUnknownFor("iam-user-keys");
    }

    @Test
    void keysAreShownShortened() {
        assertThat(check("key-old", withKey("2019-01-01T00:00:00Z", "Active"))
                        .findings()
                        .get(0)
                        .says())
                .contains("AKIA…0001")
                .doesNotContain("EXAMPLE0000");
    }

    private static SurveyBuilder withKey(String created, String status) {
        String keys = "{'AccessKeyMetadata':[{'AccessKeyId':'AKIAEXAMPLE000000001','Status':'" + status
                + "','CreateDate':'" + created + "'}]}";
        return site().user("b-publisher").found("iam-user-keys", USER, keys);
    }
}
