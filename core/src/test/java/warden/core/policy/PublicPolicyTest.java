package warden.core.policy;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.json;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.document.Pointer;

class PublicPolicyTest {
    private static Truth isPublic(String principal, String condition) {
        String text = "{'Version':'2012-10-17','Statement':[{'Effect':'Allow'," + principal
                + ",'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':" + condition + "}]}";
        return PublicPolicy.isPublic(PolicyParser.parse(json(text), PolicyKind.BUCKET, Pointer.ROOT));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "{} | TRUE",
                "{'StringEquals':{'aws:SourceVpce':'vpce-1'}} | FALSE",
                "{'StringEquals':{'aws:SourceVpce':['vpce-1','vpce-2']}} | FALSE",
                "{'StringEquals':{'aws:SourceVpce':['vpce-1','*']}} | TRUE",
                "{'StringLike':{'aws:SourceVpce':'vpce-*'}} | TRUE",
                "{'StringLike':{'aws:PrincipalOrgID':'o-1'}} | FALSE",
                "{'StringEqualsIgnoreCase':{'aws:SourceAccount':'109876543210'}} | FALSE",
                "{'StringEqualsIfExists':{'aws:SourceVpce':'vpce-1'}} | TRUE",
                "{'ForAllValues:StringEquals':{'aws:PrincipalOrgPaths':'o-1/r-1/'}} | TRUE",
                "{'ForAnyValue:StringEquals':{'aws:PrincipalOrgPaths':'o-1/r-1/'}} | FALSE",
                "{'StringNotEquals':{'aws:SourceVpce':'vpce-1'}} | TRUE",
                "{'StringEquals':{'aws:userid':'${aws:username}'}} | TRUE",
                "{'StringEquals':{'aws:Referer':'secret'}} | TRUE",
                "{'Bool':{'aws:SecureTransport':'true'}} | TRUE",
                "{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}} | FALSE",
                "{'IpAddress':{'aws:SourceIp':'10.0.0.0/8'}} | FALSE",
                "{'IpAddress':{'aws:SourceIp':'10.0.0.0/7'}} | TRUE",
                "{'IpAddress':{'aws:SourceIp':['203.0.113.0/24','0.0.0.0/1']}} | TRUE",
                "{'IpAddress':{'aws:SourceIp':'2001:db8::/32'}} | FALSE",
                "{'IpAddress':{'aws:SourceIp':'2001::/31'}} | TRUE",
                "{'ArnLike':{'aws:SourceArn':'arn:aws:s3:::b'}} | FALSE",
                "{'ArnLike':{'aws:SourceArn':'arn:aws:s3:::*'}} | TRUE",
                "{'ArnLike':{'s3:DataAccessPointArn':'arn:aws:s3:eu-west-1:210987654321:accesspoint/*'}} | FALSE",
                "{'ArnLike':{'s3:DataAccessPointArn':'arn:aws:s3:eu-west-1:*:accesspoint/*'}} | TRUE",
                "{'StringEquals':{'s3:DataAccessPointAccount':'210987654321'}} | FALSE",
                "{'StringEquals':{'aws:PrincipalAccount':'210987654321'}} | TRUE",
                "{'Bool':{'aws:SecureTransport':'true'},'StringEquals':{'aws:SourceVpc':'vpc-1'}} | FALSE"
            })
    void followsThePublishedDefinition(String condition, Truth expected) {
        assertThat(isPublic("'Principal':'*'", condition)).isEqualTo(expected);
        assertThat(isPublic("'Principal':{'AWS':['210987654321','*']}", condition))
                .isEqualTo(expected);
    }

    @Test
    void takesNamedPrincipalsAndServicesForPrivate() {
        assertThat(isPublic("'Principal':{'AWS':'109876543210'}", "{}")).isEqualTo(Truth.FALSE);
        assertThat(isPublic("'Principal':{'Service':'cloudfront.amazonaws.com'}", "{}"))
                .isEqualTo(Truth.FALSE);
        assertThat(isPublic("'NotPrincipal':{'AWS':'109876543210'}", "{}")).isEqualTo(Truth.TRUE);
    }

    @Test
    void doesNotCallDeniesPublicAndIsOpenAboutBrokenStatements() {
        String deny = "{'Statement':{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':'arn:aws:s3:::b'}}";
        String broken =
                "{'Statement':{'Effect':'Perhaps','Principal':'*','Action':'s3:*','Resource':'arn:aws:s3:::b'}}";
        assertThat(PublicPolicy.isPublic(PolicyParser.parse(json(deny), PolicyKind.BUCKET, Pointer.ROOT)))
                .isEqualTo(Truth.FALSE);
        assertThat(PublicPolicy.isPublic(PolicyParser.parse(json(broken), PolicyKind.BUCKET, Pointer.ROOT)))
                .isEqualTo(Truth.UNKNOWN);
    }
}
