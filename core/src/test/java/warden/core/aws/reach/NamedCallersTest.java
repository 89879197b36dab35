package warden.core.aws.reach;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.acl;
import static warden.core.fixture.SurveyBuilder.grant;

import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.aws.account.Account;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.aws.policy.ContextValue.OneOf;
import warden.core.fixture.SurveyBuilder;

/** Who is named, however it is done. */
class NamedCallersTest {
    private static final String STRANGER = "5".repeat(64);

    private static List<NamedCallers.Caller> callers(SurveyBuilder survey) {
        Account account = survey.account();
        return NamedCallers.of(account, account.bucket("b"));
    }

    private static List<NamedCallers.Caller> named(String principal, String condition) {
        return callers(aSurvey()
                .bucket(
                        "b",
                        bucket -> bucket.policy("{'Effect':'Allow','Principal':" + principal
                                + ",'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'"
                                + (condition == null ? "" : ",'Condition':" + condition) + "}")));
    }

    private static String spelled(List<NamedCallers.Caller> callers) {
        return callers.stream()
                .map(caller -> caller.grantee().label() + " as " + caller.called()
                        + caller.account().map(number -> " of " + number).orElse("")
                        + caller.organization().map(id -> " in " + id).orElse(""))
                .collect(Collectors.joining("; "));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'*' | ``",
                "{'Service':'logging.s3.amazonaws.com'} | service:logging.s3.amazonaws.com as the service logging.s3.amazonaws.com",
                "{'AWS':'arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity E1'} | origin-identity:E1 as the origin access identity E1",
                "{'AWS':'109876543210'} | arn:aws:iam::109876543210:root as the account 109876543210 of 109876543210",
                "{'AWS':'arn:aws:iam::109876543210:user/otto'} | arn:aws:iam::109876543210:user/otto as arn:aws:iam::109876543210:user/otto of the account 109876543210 of 109876543210",
                "{'AWS':'arn:aws:iam::109876543210:role/r'} | arn:aws:iam::109876543210:role/r as arn:aws:iam::109876543210:role/r of the account 109876543210 of 109876543210",
                "{'AWS':'arn:aws:sts::109876543210:assumed-role/r/s'} | arn:aws:iam::109876543210:role/r as arn:aws:iam::109876543210:role/r of the account 109876543210 of 109876543210",
                "{'AWS':['109876543210','arn:aws:iam::109876543210:root']} | arn:aws:iam::109876543210:root as the account 109876543210 of 109876543210",
            })
    void asPrincipals(String principal, String expected) {
        assertThat(spelled(named(principal, null))).isEqualTo(expected);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "{'StringEquals':{'aws:PrincipalAccount':['109876543210','no-number']}} | arn:aws:iam::109876543210:root as the account 109876543210 of 109876543210",
                "{'StringEquals':{'aws:PrincipalOrgID':'o-heron'}} | organization:o-heron as the organization o-heron in o-heron",
                "{'StringLike':{'aws:PrincipalOrgID':'o-*'}} | ``",
                "{'StringLike':{'aws:PrincipalOrgID':'o-hero?'}} | ``",
                "{'StringEquals':{'aws:PrincipalOrgID':'heron'}} | ``",
                "{'ForAnyValue:StringLike':{'aws:PrincipalOrgPaths':'o-heron/r-1/*'}} | organization:o-heron as the organization o-heron in o-heron",
                "{'ForAnyValue:StringEquals':{'aws:PrincipalOrgPaths':'o-heron'}} | organization:o-heron as the organization o-heron in o-heron",
                "{'ArnLike':{'aws:PrincipalArn':'arn:aws:iam::109876543210:role/p*'}} | arn:aws:iam::109876543210:role/p as arn:aws:iam::109876543210:role/p of the account 109876543210 of 109876543210",
                "{'ArnEquals':{'aws:PrincipalArn':'arn:aws:iam::*:role/p'}} | ``",
                "{'ArnLike':{'aws:PrincipalArn':'arn:aws:iam::109876543210:role/*'}} | arn:aws:iam::109876543210:role/x as arn:aws:iam::109876543210:role/x of the account 109876543210 of 109876543210",
                "{'ArnLike':{'aws:PrincipalArn':'arn:aws:iam::109876543210:*'}} | arn:aws:iam::109876543210:root as the account 109876543210 of 109876543210; arn:aws:iam::109876543210:role/x as arn:aws:iam::109876543210:role/x of the account 109876543210 of 109876543210",
                "{'StringEquals':{'aws:PrincipalArn':'arn:aws:iam::109876543210:user/o*'}} | arn:aws:iam::109876543210:user/o* as arn:aws:iam::109876543210:user/o* of the account 109876543210 of 109876543210",
                "{'StringEquals':{'aws:SourceAccount':'109876543210'}} | service:any.amazonaws.com for 109876543210 as a service acting for the account 109876543210 of 109876543210",
                "{'StringEquals':{'aws:SourceAccount':'x'}} | ``",
                "{'ArnLike':{'aws:SourceArn':'arn:aws:cloudfront::109876543210:distribution/E1'}} | service:any.amazonaws.com for arn:aws:cloudfront::109876543210:distribution/E1 as a service acting for the account 109876543210 of 109876543210",
                "{'ArnLike':{'aws:SourceArn':'arn:aws:s3:::b'}} | ``",
                "{'StringEquals':{'s3:DataAccessPointAccount':'109876543210'}} | access-points:109876543210 as the account 109876543210 through its access points of 109876543210",
                "{'ArnLike':{'s3:DataAccessPointArn':'arn:aws:s3:eu-west-1:109876543210:accesspoint/*'}} | access-points:109876543210 as the account 109876543210 through its access points of 109876543210",
                "{'StringEquals':{'aws:Referer':'109876543210'}} | ``",
            })
    void byCondition(String condition, String expected) {
        assertThat(spelled(named("'*'", condition))).isEqualTo(expected);
    }

    @Test
    void aServiceIsNamedWithThoseForWhomItActs() {
        String source = "{'ArnLike':{'AWS:SourceArn':'arn:aws:cloudfront::109876543210:distribution/*'}}";
        List<NamedCallers.Caller> callers = named("{'Service':'CloudFront.amazonaws.com'}", source);
        assertThat(callers).hasSize(2);
        NamedCallers.Caller acting = callers.get(1);
        assertThat(acting.called())
                .isEqualTo("the service cloudfront.amazonaws.com acting for the account 109876543210");
        assertThat(acting.grantee().settled().get("aws:SourceArn"))
                .isEqualTo(Known.of("arn:aws:cloudfront::109876543210:distribution/x"));
        assertThat(acting.grantee().settled().get("aws:SourceAccount"))
                .isInstanceOfSatisfying(
                        OneOf.class,
                        one -> assertThat(one.values().contains("109876543210")).isTrue());
    }

    @Test
    void inADenyThatSparesThem() {
        SurveyBuilder survey = aSurvey()
                .bucket(
                        "b",
                        bucket -> bucket.policy(
                                "{'Effect':'Deny','NotPrincipal':{'AWS':'109876543210'},'Action':'s3:*','Resource':'*'}",
                                "{'Effect':'Deny','NotPrincipal':{'Service':'logging.s3.amazonaws.com'},'Action':'s3:*','Resource':'*','Condition':{'StringEquals':{'aws:SourceAccount':'109876543210'}}}"));
        assertThat(spelled(callers(survey)))
                .contains("the account 109876543210")
                .contains("a service acting for the account 109876543210");
    }

    @Test
    void byCanonicalUserId() {
        SurveyBuilder survey = aSurvey().bucket("b", bucket -> bucket.aclsInForce()
                .acl(acl(grant("READ", STRANGER), grant("READ", "AllUsers")))
                .objectAcl("a", acl(grant("READ", "6".repeat(64)))));
        assertThat(callers(survey).stream().map(caller -> caller.grantee().label()))
                .contains("canonical-user:" + STRANGER, "canonical-user:" + "6".repeat(64))
                .noneMatch(label -> label.contains("AllUsers"));
        assertThat(named("{'CanonicalUser':'" + STRANGER + "'}", null))
                .singleElement()
                .matches(caller -> caller.called().equals("the account with the canonical user id " + STRANGER));
    }

    @Test
    void anIdentitysCanonicalIdIsTheIdentity() {
        SurveyBuilder survey = aSurvey()
                .found(
                        "origin-identity",
                        "origin-access-identity/E1",
                        "{'CloudFrontOriginAccessIdentity':{'Id':'E1','S3CanonicalUserId':'" + STRANGER + "'}}")
                .bucket("b", bucket -> bucket.aclsInForce().acl(acl(grant("READ", STRANGER))));
        assertThat(callers(survey)).singleElement().matches(caller -> caller.called()
                .equals("E1"));
    }
}
