package warden.core.power;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import warden.core.account.Account;
import warden.core.algebra.Language;
import warden.core.catalogue.ServiceAction;
import warden.core.decision.Decision.Outcome;
import warden.core.fixture.SurveyBuilder;
import warden.core.policy.ContextValue;
import warden.core.reach.Possibility;
import warden.core.site.Estate;
import warden.core.site.SiteFile;

class PowersTest {
    private static Powers powers(SurveyBuilder survey) {
        Estate estate = survey.estate(SiteFile.empty());
        Account account = estate.accounts().get(0);
        return new Powers(
                estate.reach(account), account.directory().principals().get(0));
    }

    private static Powers of(String... statements) {
        return powers(aSurvey().bucket("b").user("anna", statements));
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
        assertThat(powers(bounded).actions()).extracting(ServiceAction::name).containsExactly("s3:PutObject");
        SurveyBuilder organized = aSurvey()
                .bucket("b")
                .user("anna", "{'Effect':'Allow','Action':'*','Resource':'*'}")
                .organizationPolicy("p-1", "{'Effect':'Allow','Action':'s3:*','Resource':'*'}");
        assertThat(powers(organized).actions())
                .extracting(ServiceAction::service)
                .containsOnly("s3");
    }

    @Test
    void countsAnActionOnlyOnAResourceOfItsKind() {
        Powers powers = of("{'Effect':'Allow','Action':'s3:*','Resource':'arn:aws:s3:::b'}");
        assertThat(powers.actions())
                .extracting(ServiceAction::name)
                .contains("s3:PutBucketPolicy", "s3:ListBucket")
                .doesNotContain("s3:PutObject", "s3:ListAllMyBuckets", "s3:CreateAccessGrant");
        assertThat(powers.services()).containsExactly("s3");
        assertThat(of("{'Effect':'Allow','NotAction':'iam:*','Resource':'*'}").services())
                .contains("*");
        assertThat(of("{'Effect':'Allow','Action':['sqs:SendMessage','*'],'Resource':'*'}")
                        .services())
                .containsExactly("*", "sqs");
    }

    @Test
    void confirmsWithTheEngine() {
        Powers powers = of(PUT);
        assertThat(powers.can("s3:PutObject", Language::all, () -> List.of("arn:aws:s3:::b/known"), Map.of()))
                .isInstanceOfSatisfying(
                        Possibility.Allowed.class,
                        allowed -> assertThat(allowed.witness().on()).isEqualTo("arn:aws:s3:::b/known"));
        assertThat(powers.can("s3:DeleteObject", Language::all, List::of, Map.of()))
                .isInstanceOf(Possibility.Never.class);
        Powers conditional = of(
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
}
