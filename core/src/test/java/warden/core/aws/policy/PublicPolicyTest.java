package warden.core.aws.policy;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.json;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.access.Truth;
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

    private static Condition condition(String members) {
        return PolicyParser.parse(
                        json(
                                "{'Version':'2012-10-17','Statement':{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':"
                                        + "'arn:aws:s3:::b/*','Condition':{" + members + "}}}"),
                        PolicyKind.BUCKET,
                        Pointer.ROOT)
                .statements()
                .get(0)
                .conditions()
                .get(0);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'StringEquals':{'aws:SourceOrgID':'o-heron'} | true",
                "'StringLike':{'aws:SourceOrgPaths':'o-heron/*'} | true",
                "'StringLike':{'aws:SourceOrgPaths':['o-heron/*','*']} | false",
                "'StringEquals':{'aws:SourceOrgID':'${aws:PrincipalOrgID}'} | false",
                "'StringEqualsIfExists':{'aws:SourceOrgID':'o-heron'} | false",
                "'StringNotEquals':{'aws:SourceOrgID':'o-heron'} | false",
                "'ForAllValues:StringLike':{'aws:SourceOrgPaths':'o-heron/*'} | false",
                "'ForAnyValue:StringLike':{'aws:SourceOrgPaths':'o-heron/*'} | true",
                "'ArnLike':{'aws:SourceArn':'arn:aws:cloudfront::210987654321:distribution/*'} | true",
                "'ArnLike':{'aws:SourceArn':'arn:aws:cloudfront::*:distribution/E1'} | false",
                "'ArnLike':{'aws:SourceArn':['arn:aws:cloudfront::210987654321:distribution/*','arn:aws:cloudfront::*:*']} | false",
                "'ArnLike':{'aws:SourceArn':'arn:aws:s3:::inventory.heronferry.example'} | true",
                "'StringLike':{'aws:SourceArn':'*'} | false",
                "'StringEquals':{'aws:Referer':'o-heron'} | false"
            })
    void knowsWhatPinsTheSourceOfAService(String members, boolean pins) {
        assertThat(PublicPolicy.pinsSource(condition(members))).isEqualTo(pins);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'StringNotEquals':{'aws:SourceVpce':'vpce-1'} | true",
                "'StringNotEquals':{'aws:SourceVpce':['vpce-1','${aws:x}']} | false",
                "'StringNotLike':{'aws:SourceVpce':'vpce-*'} | false",
                "'StringNotLike':{'aws:SourceVpce':'vpce-?'} | false",
                "'StringNotLike':{'aws:SourceVpce':'*'} | false",
                "'StringNotLike':{'aws:SourceVpce':'?'} | false",
                "'NotIpAddress':{'aws:SourceIp':'203.0.113.0/24'} | true",
                "'NotIpAddress':{'aws:SourceIp':['203.0.113.0/24','0.0.0.0/1']} | false"
            })
    void knowsADenyThatSparesFixedValuesOnly(String members, boolean fixed) {
        assertThat(PublicPolicy.sparesFixed(condition(members))).isEqualTo(fixed);
    }

    @ParameterizedTest
    @CsvSource({"aws:sourcevpce, true", "aws:sourceorgid, true", "aws:sourceorgpaths, true", "aws:referer, false"})
    void knowsTheKeysThatPin(String key, boolean pins) {
        assertThat(PublicPolicy.isPinningKey(key)).isEqualTo(pins);
    }
}
