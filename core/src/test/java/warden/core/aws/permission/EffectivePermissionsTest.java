package warden.core.aws.permission;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import warden.core.access.Decision.Outcome;
import warden.core.access.Truth;
import warden.core.algebra.Language;
import warden.core.aws.account.Account;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.reach.Possibility;
import warden.core.aws.site.AwsCloud;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;

class EffectivePermissionsTest {
    private static EffectivePermissions permissions(SurveyBuilder survey) {
        AwsCloud cloud = survey.cloud(SiteFile.empty());
        Account account = cloud.accounts().get(0);
        return new EffectivePermissions(
                cloud.reach(account), account.directory().principals().get(0));
    }

    private static EffectivePermissions of(String... statements) {
        return permissions(aSurvey().bucket("b").user("anna", statements));
    }

    private static final String PUT = "{'Effect':'Allow','Action':'s3:PutObject','Resource':'arn:aws:s3:::b/*'}";

    @Test
    void takesAwayWhatIsDeniedWithoutAConditionOnly() {
        assertThat(of(PUT).granted("S3:putobject").possible().contains("arn:aws:s3:::b/x"))
                .isTrue();
        assertThat(of(PUT, "{'Effect':'Deny','Action':'s3:*','Resource':'arn:aws:s3:::b/private/*'}")
                        .granted("s3:PutObject")
                        .possible()
                        .contains("arn:aws:s3:::b/private/x"))
                .isFalse();
        assertThat(of(
                                PUT,
                                "{'Effect':'Deny','Action':'s3:*','Resource':'*','Condition':{'Bool':{'aws:SecureTransport':'false'}}}")
                        .granted("s3:PutObject")
                        .possible()
                        .isEmpty())
                .isFalse();
        assertThat(of("{'Effect':'Allow','Action':'s3:PutObject','Resource':'arn:aws:s3:::b/${aws:username}/*'}")
                        .granted("s3:PutObject")
                        .possible()
                        .contains("arn:aws:s3:::b/anna/x"))
                .isTrue();
    }

    @Test
    void staysWithinBoundaryAndOrganization() {
        SurveyBuilder bounded = aSurvey()
                .bucket("b")
                .user(
                        "anna",
                        "{'Effect':'Allow','Action':'*','Resource':'*'}",
                        ",'PermissionsBoundary':{'PermissionsBoundaryArn':'arn:aws:iam::210987654321:policy/limit'}")
                .managedPolicy("limit", PUT);
        assertThat(permissions(bounded).actions())
                .extracting(ServiceAction::name)
                .containsExactly("s3:PutObject");
        SurveyBuilder organized = aSurvey()
                .bucket("b")
                .user("anna", "{'Effect':'Allow','Action':'*','Resource':'*'}")
                .organizationPolicy("p-1", "{'Effect':'Allow','Action':'s3:*','Resource':'*'}");
        assertThat(permissions(organized).actions())
                .extracting(ServiceAction::service)
                .containsOnly("s3");
    }

    @Test
    void countsAnActionOnlyOnAResourceOfItsKind() {
        EffectivePermissions permissions = of("{'Effect':'Allow','Action':'s3:*','Resource':'arn:aws:s3:::b'}");
        assertThat(permissions.actions())
                .extracting(ServiceAction::name)
                .contains("s3:PutBucketPolicy", "s3:ListBucket")
                .doesNotContain("s3:PutObject", "s3:ListAllMyBuckets", "s3:CreateAccessGrant");
        assertThat(permissions.services()).containsExactly("s3");
        assertThat(of("{'Effect':'Allow','NotAction':'iam:*','Resource':'*'}").services())
                .contains("*");
        assertThat(of("{'Effect':'Allow','Action':['sqs:SendMessage','*'],'Resource':'*'}")
                        .services())
                .containsExactly("*", "sqs");
    }

    @Test
    void confirmsWithTheEngine() {
        EffectivePermissions permissions = of(PUT);
        assertThat(permissions.can("s3:PutObject", Language::all, () -> List.of("arn:aws:s3:::b/known"), Map.of()))
                .isInstanceOfSatisfying(
                        Possibility.Allowed.class,
                        allowed -> assertThat(allowed.witness().on()).isEqualTo("arn:aws:s3:::b/known"));
        assertThat(permissions.can("s3:DeleteObject", Language::all, List::of, Map.of()))
                .isInstanceOf(Possibility.Never.class);
        EffectivePermissions conditional = of(
                "{'Effect':'Allow','Action':'iam:PassRole','Resource':'*','Condition':{'StringEquals':{'iam:PassedToService':'ec2.amazonaws.com'}}}");
        assertThat(conditional.can(
                        "iam:PassRole",
                        Language::all,
                        List::of,
                        Map.of("iam:PassedToService", ContextValue.Known.of("ec2.amazonaws.com"))))
                .isInstanceOf(Possibility.Allowed.class);
        assertThat(conditional.can(
                        "iam:PassRole",
                        Language::all,
                        List::of,
                        Map.of("iam:PassedToService", ContextValue.Known.of("lambda.amazonaws.com"))))
                .isInstanceOf(Possibility.Never.class);
    }

    @Test
    void doesNotGuessWhereADeploymentRuns() {
        String fromOffice =
                "{'Effect':'Allow','Action':'s3:PutObject','Resource':'*','Condition':{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}}}";
        assertThat(of(fromOffice)
                        .asDeployment("s3:PutObject", "arn:aws:s3:::b/x", Map.of())
                        .outcome())
                .isEqualTo(Outcome.UNKNOWN);
        String overTls =
                "{'Effect':'Allow','Action':'s3:PutObject','Resource':'*','Condition':{'Bool':{'aws:SecureTransport':'true'}}}";
        assertThat(of(overTls)
                        .asDeployment("s3:PutObject", "arn:aws:s3:::b/x", Map.of())
                        .outcome())
                .isEqualTo(Outcome.ALLOW);
        String tagged =
                "{'Effect':'Allow','Action':'s3:PutObject','Resource':'*','Condition':{'StringEquals':{'aws:username':'anna'}}}";
        assertThat(of(tagged)
                        .asDeployment("s3:PutObject", "arn:aws:s3:::b/x", Map.of())
                        .outcome())
                .isEqualTo(Outcome.ALLOW);
    }

    private static final String ALL = "{'Effect':'Allow','Action':'*','Resource':'*'}";

    @Test
    void isAnAdministratorOnlyWithEverything() {
        assertThat(of(ALL).isAdmin()).isEqualTo(Truth.TRUE);
        assertThat(of(PUT).isAdmin()).isEqualTo(Truth.FALSE);
        assertThat(of("{'Effect':'Allow','NotAction':'ec2:*','Resource':'*'}").isAdmin())
                .isEqualTo(Truth.FALSE);
        assertThat(of("{'Effect':'Allow','Action':'*','Resource':'arn:aws:s3:::b'}")
                        .isAdmin())
                .isEqualTo(Truth.FALSE);
        assertThat(of(ALL, "{'Effect':'Deny','Action':'iam:*','Resource':'*'}").isAdmin())
                .isEqualTo(Truth.FALSE);
        assertThat(of(ALL, "{'Effect':'Deny','Action':'iam:*','Resource':'arn:aws:iam::210987654321:user/b'}")
                        .isAdmin())
                .isEqualTo(Truth.FALSE);
        assertThat(of(ALL, "{'Effect':'Deny','Action':'ec2:*','Resource':'*'}").isAdmin())
                .isEqualTo(Truth.TRUE);
        String condition = ",'Condition':{'Bool':{'aws:MultiFactorAuthPresent':'true'}}}";
        assertThat(of(ALL.replace("}", condition)).isAdmin()).isEqualTo(Truth.UNKNOWN);
        assertThat(of(ALL, "{'Effect':'Deny','Action':'iam:*','Resource':'*'" + condition)
                        .isAdmin())
                .isEqualTo(Truth.UNKNOWN);
        String passed = ",'Condition':{'DateLessThan':{'aws:TokenIssueTime':'2020-01-01T00:00:00Z'}}}";
        assertThat(of(ALL, "{'Effect':'Deny','Action':'*','Resource':'*'" + passed)
                        .isAdmin())
                .isEqualTo(Truth.UNKNOWN);
    }

    @Test
    void namesTheServicesThatAreLeft() {
        assertThat(of(PUT).services()).containsExactly("s3");
        assertThat(of(ALL).services()).contains("*");
        assertThat(of("{'Effect':'Allow','NotAction':'s3:*','Resource':'*'}").services())
                .contains("*");
        assertThat(of(
                                "{'Effect':'Allow','Action':['braket:*','s3:PutObject'],'Resource':'*'}",
                                "{'Effect':'Deny','Action':'braket:*','Resource':'*'}")
                        .services())
                .containsExactly("s3");
        assertThat(of(
                                "{'Effect':'Allow','Action':'braket:*','Resource':'*'}",
                                "{'Effect':'Deny','Action':'braket:*','Resource':'arn:x'}")
                        .services())
                .containsExactly("braket");
        assertThat(of(ALL, "{'Effect':'Deny','NotAction':'kms:Decrypt','Resource':'*'}")
                        .services())
                .containsExactly("kms");
    }

    @Test
    void saysWhatIsMissing() {
        assertThat(of(PUT).missing()).isEmpty();
        SurveyBuilder lost = aSurvey()
                .bucket("b")
                .user(
                        "anna",
                        ",'AttachedManagedPolicies':[{'PolicyArn':'arn:aws:iam::210987654321:policy/lost'}],'PermissionsBoundary':{'PermissionsBoundaryArn':'arn:aws:iam::210987654321:policy/limit'}");
        assertThat(permissions(lost).missing())
                .extracting(need -> need.of())
                .contains("arn:aws:iam::210987654321:policy/lost", "arn:aws:iam::210987654321:policy/limit");
        SurveyBuilder copy = aSurvey()
                .bucket("b")
                .user(
                        "anna",
                        ",'PermissionsBoundary':{'PermissionsBoundaryArn':'arn:aws:iam::aws:policy/ReadOnlyAccess'}",
                        PUT);
        assertThat(permissions(copy).missing()).singleElement().matches(need -> need.why()
                .contains("some services only"));
        assertThat(of("{'Effect':'Allow','Verb':'x','Resource':'*'}").missing()).isNotEmpty();
        assertThat(permissions(aSurvey().bucket("b").user("anna", PUT).unread("organization-policy", "p"))
                        .missing())
                .singleElement()
                .matches(need -> need.aspect().equals("organization-policy"));
    }

    @Test
    void givesAnExampleOfWhereAnActionIsAllowed() {
        ServiceAction put = warden.core.aws.catalogue.ActionCatalogue.shipped()
                .named("s3:PutObject")
                .orElseThrow();
        assertThat(of(ALL).example(put)).isEqualTo("*");
        assertThat(of(PUT).example(put)).startsWith("arn:aws:s3:::b/");
    }

    private static SurveyBuilder limited(String arn, String... statements) {
        return aSurvey()
                .bucket("b")
                .managedPolicy("limit", statements)
                .user("anna", ",'PermissionsBoundary':{'PermissionsBoundaryArn':'" + arn + "'}", ALL);
    }

    @Test
    void countsLimitsInTheServicesThatItNames() {
        String own = "arn:aws:iam::210987654321:policy/limit";
        String few = "{'Effect':'Allow','Action':['s3:*','braket:*'],'Resource':'*'}";
        assertThat(permissions(limited(own, few)).services()).containsExactly("braket", "s3");
        assertThat(permissions(limited(own, ALL)).services()).contains("*");
        assertThat(permissions(limited(own, few, "{'Effect':'Deny','Action':'braket:*','Resource':'*'}"))
                        .services())
                .containsExactly("s3");
        String condition = ",'Condition':{'Bool':{'aws:MultiFactorAuthPresent':'true'}}}";
        assertThat(permissions(limited(own, few, "{'Effect':'Deny','Action':'braket:*','Resource':'*'" + condition))
                        .services())
                .containsExactly("braket", "s3");
        // The built-in copy speaks for some services only, and so limits none for sure.
        assertThat(permissions(limited("arn:aws:iam::aws:policy/ReadOnlyAccess", few))
                        .services())
                .contains("*");
        SurveyBuilder organized = aSurvey().bucket("b").user("anna", ALL).organizationPolicy("p", few);
        assertThat(permissions(organized).services()).containsExactly("braket", "s3");
        assertThat(permissions(organized.unread("organization-policy", "q")).services())
                .contains("*");
        SurveyBuilder denying = aSurvey()
                .bucket("b")
                .user("anna", ALL)
                .organizationPolicy("p", "{'Effect':'Deny','Action':'ec2:*','Resource':'*'}");
        assertThat(permissions(denying).services()).contains("*");
    }

    @Test
    void takesTheActionsThatItsPoliciesName() {
        assertThat(of(PUT).actions()).extracting(ServiceAction::name).containsExactly("s3:PutObject");
        assertThat(of("{'Effect':'Allow','NotAction':'s3:*','Resource':'*'}").actions())
                .extracting(ServiceAction::name)
                .contains("iam:CreateUser")
                .doesNotContain("s3:PutObject");
        assertThat(of("{'Effect':'Deny','Action':'s3:*','Resource':'*'}").actions())
                .isEmpty();
        assertThat(of("{'Effect':'Allow','Verb':'s3:*','Resource':'*'}").actions())
                .isEmpty();
    }
}
