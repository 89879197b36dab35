package warden.core.aws.policy;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.json;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.access.Truth;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.document.Pointer;

class ConditionTest {
    private static Condition condition(String block) {
        PolicyDocument document = PolicyParser.parse(
                json("{'Version':'2012-10-17','Statement':{'Effect':'Allow','Action':'*','Resource':'*','Condition':"
                        + block + "}}"),
                PolicyKind.IDENTITY,
                Pointer.ROOT);
        assertThat(document.problems()).isEmpty();
        return document.statements().get(0).conditions().get(0);
    }

    /** Reads "key=a,b;other=c"; a key with nothing behind the sign has no values, one with "?" is unknown. */
    private static Context context(String text) {
        Map<String, ContextValue> values = new HashMap<>();
        for (String pair : text == null || text.equals("-") ? new String[0] : text.split(";")) {
            String[] parts = pair.split("=", 2);
            values.put(
                    parts[0],
                    parts[1].equals("?")
                            ? ContextValue.UNKNOWN
                            : new ContextValue.Known(parts[1].isEmpty() ? List.of() : List.of(parts[1].split(","))));
        }
        return Context.given(values);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                // texts
                "{'StringEquals':{'aws:Referer':'a'}} | aws:Referer=a | TRUE",
                "{'StringEquals':{'aws:Referer':'a'}} | aws:Referer=A | FALSE",
                "{'StringEquals':{'aws:Referer':['a','b']}} | aws:Referer=b | TRUE",
                "{'StringEquals':{'aws:Referer':'a*'}} | aws:Referer=ab | FALSE",
                "{'StringEquals':{'aws:Referer':'a'}} | - | FALSE",
                "{'StringEquals':{'AWS:REFERER':'a'}} | aws:referer=a | TRUE",
                "{'StringNotEquals':{'aws:Referer':'a'}} | - | TRUE",
                "{'StringNotEquals':{'aws:Referer':['a','b']}} | aws:Referer=b | FALSE",
                "{'StringNotEquals':{'aws:Referer':['a','b']}} | aws:Referer=c | TRUE",
                "{'StringEqualsIgnoreCase':{'aws:Referer':'aB'}} | aws:Referer=Ab | TRUE",
                "{'StringNotEqualsIgnoreCase':{'aws:Referer':'aB'}} | aws:Referer=Ab | FALSE",
                "{'StringLike':{'aws:Referer':'https://*.heron?erry.example/*'}} | aws:Referer=https://www.heronferry.example/x | TRUE",
                "{'StringLike':{'aws:Referer':'h?t'}} | aws:Referer=ht | FALSE",
                "{'StringNotLike':{'aws:Referer':'a*'}} | aws:Referer=ab | FALSE",
                "{'StringNotLike':{'aws:Referer':'a*'}} | - | TRUE",
                // IfExists
                "{'StringEqualsIfExists':{'aws:Referer':'a'}} | - | TRUE",
                "{'StringEqualsIfExists':{'aws:Referer':'a'}} | aws:Referer=b | FALSE",
                "{'ForAnyValue:StringEqualsIfExists':{'aws:TagKeys':'a'}} | - | TRUE",
                // numbers and dates
                "{'NumericLessThan':{'s3:max-keys':'10'}} | s3:max-keys=9.5 | TRUE",
                "{'NumericLessThan':{'s3:max-keys':'10'}} | s3:max-keys=10 | FALSE",
                "{'NumericLessThanEquals':{'s3:max-keys':10}} | s3:max-keys=10 | TRUE",
                "{'NumericGreaterThan':{'s3:max-keys':'10'}} | s3:max-keys=many | FALSE",
                "{'NumericNotEquals':{'s3:max-keys':'10'}} | s3:max-keys=many | TRUE",
                "{'NumericEquals':{'s3:max-keys':'10'}} | s3:max-keys=10.0 | TRUE",
                "{'NumericGreaterThanEquals':{'s3:max-keys':'10'}} | s3:max-keys=10 | TRUE",
                "{'DateLessThan':{'aws:CurrentTime':'2026-11-24T00:00:00Z'}} | aws:CurrentTime=2026-11-23T23:59:59Z | TRUE",
                "{'DateGreaterThan':{'aws:CurrentTime':'2026-11-24'}} | aws:CurrentTime=2026-11-24T00:00:01Z | TRUE",
                "{'DateEquals':{'aws:CurrentTime':'2026-11-24T01:00:00+01:00'}} | aws:CurrentTime=2026-11-24T00:00:00Z | TRUE",
                "{'DateLessThanEquals':{'aws:EpochTime':'1795478400'}} | aws:EpochTime=1795478400 | TRUE",
                "{'DateGreaterThanEquals':{'aws:CurrentTime':'2026-11'}} | aws:CurrentTime=1795478400 | TRUE",
                "{'DateNotEquals':{'aws:CurrentTime':'2026-11-24'}} | - | TRUE",
                // truth and presence
                "{'Bool':{'aws:SecureTransport':'true'}} | aws:SecureTransport=true | TRUE",
                "{'Bool':{'aws:SecureTransport':true}} | aws:SecureTransport=True | TRUE",
                "{'Bool':{'aws:SecureTransport':'false'}} | - | FALSE",
                "{'BoolIfExists':{'aws:SecureTransport':'false'}} | - | TRUE",
                "{'Null':{'aws:Referer':'true'}} | - | TRUE",
                "{'Null':{'aws:Referer':'true'}} | aws:Referer= | TRUE",
                "{'Null':{'aws:Referer':'false'}} | aws:Referer=a | TRUE",
                "{'Null':{'aws:Referer':'false'}} | - | FALSE",
                "{'BinaryEquals':{'aws:Referer':'QmluYXJ5'}} | aws:Referer=QmluYXJ5 | TRUE",
                // addresses
                "{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}} | aws:SourceIp=203.0.113.255 | TRUE",
                "{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}} | aws:SourceIp=203.0.114.0 | FALSE",
                "{'IpAddress':{'aws:SourceIp':'203.0.113.7'}} | aws:SourceIp=203.0.113.7 | TRUE",
                "{'IpAddress':{'aws:SourceIp':'2001:db8::/32'}} | aws:SourceIp=2001:db8:5::1 | TRUE",
                "{'IpAddress':{'aws:SourceIp':'0.0.0.0/0'}} | aws:SourceIp=2001:db8::1 | FALSE",
                "{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}} | aws:SourceIp=host | FALSE",
                "{'NotIpAddress':{'aws:SourceIp':'203.0.113.0/24'}} | aws:SourceIp=203.0.113.9 | FALSE",
                "{'NotIpAddress':{'aws:SourceIp':'203.0.113.0/24'}} | - | TRUE",
                // ARNs, part by part
                "{'ArnLike':{'aws:SourceArn':'arn:aws:s3:::b*'}} | aws:SourceArn=arn:aws:s3:::book | TRUE",
                "{'ArnEquals':{'aws:SourceArn':'arn:aws:iam::*:role/x'}} | aws:SourceArn=arn:aws:iam::210987654321:role/x | TRUE",
                "{'ArnLike':{'aws:SourceArn':'arn:aws:lambda:*:*:function:*'}} | aws:SourceArn=arn:aws:lambda:r:a:function:f | TRUE",
                "{'ArnLike':{'aws:SourceArn':'arn:aws:lambda:*:*:*'}} | aws:SourceArn=arn:aws:lambda:r:a:function:f | TRUE",
                "{'ArnLike':{'aws:SourceArn':'arn:aws:lambda:*:function:f'}} | aws:SourceArn=arn:aws:lambda:r:a:function:f | FALSE",
                "{'ArnNotLike':{'aws:SourceArn':'arn:aws:s3:::b'}} | - | TRUE",
                "{'ArnNotEquals':{'aws:SourceArn':'arn:aws:s3:::b'}} | aws:SourceArn=arn:aws:s3:::b | FALSE",
                "{'ArnLike':{'aws:SourceArn':'*'}} | aws:SourceArn=arn:aws:s3:::b | UNKNOWN",
                // several values
                "{'ForAllValues:StringEquals':{'aws:TagKeys':['a','b']}} | aws:TagKeys=a,b | TRUE",
                "{'ForAllValues:StringEquals':{'aws:TagKeys':['a','b']}} | aws:TagKeys=a,c | FALSE",
                "{'ForAllValues:StringEquals':{'aws:TagKeys':'a'}} | - | TRUE",
                "{'ForAllValues:StringEquals':{'aws:TagKeys':'a'}} | aws:TagKeys= | TRUE",
                "{'ForAllValues:StringNotEquals':{'aws:TagKeys':'a'}} | aws:TagKeys=b,a | FALSE",
                "{'ForAnyValue:StringEquals':{'aws:TagKeys':'a'}} | aws:TagKeys=b,a | TRUE",
                "{'ForAnyValue:StringEquals':{'aws:TagKeys':'a'}} | - | FALSE",
                "{'ForAnyValue:StringNotEquals':{'aws:TagKeys':'a'}} | - | FALSE",
                "{'ForAnyValue:StringNotEquals':{'aws:TagKeys':'a'}} | aws:TagKeys=a,b | TRUE",
                "{'ForAnyValue:StringNotEquals':{'aws:TagKeys':'a'}} | aws:TagKeys=a | FALSE",
                // variables
                "{'StringEquals':{'aws:Referer':'${aws:username}'}} | aws:Referer=anna;aws:username=anna | TRUE",
                "{'StringEquals':{'aws:Referer':'${aws:username}'}} | aws:Referer=anna | FALSE",
                "{'StringNotEquals':{'aws:Referer':'${aws:username}'}} | aws:Referer=anna | UNKNOWN",
                "{'StringEquals':{'aws:Referer':'${aws:username}'}} | aws:Referer=anna;aws:username=? | UNKNOWN",
                "{'StringEquals':{'aws:Referer':'${aws:username, guest}'}} | aws:Referer=guest | TRUE",
                "{'StringLike':{'aws:Referer':'${*}${?}${$}*'}} | aws:Referer=*?$x | TRUE",
                "{'StringLike':{'aws:Referer':'${*}x'}} | aws:Referer=ax | FALSE",
                "{'StringLike':{'aws:Referer':'${aws:username}'}} | aws:Referer=abc;aws:username=a* | FALSE",
                // what is not known
                "{'StringEquals':{'aws:Referer':'a'}} | aws:Referer=? | UNKNOWN",
                "{'StringLikeIfExists':{'aws:Referer':'*'}} | aws:Referer=? | TRUE",
                "{'NotIpAddress':{'aws:SourceIp':'10.0.0.0/8'}} | aws:SourceIp=? | UNKNOWN"
            })
    void holdsAsTheGuideSays(String block, String carried, Truth expected) {
        assertThat(condition(block).holds(context(carried))).isEqualTo(expected);
    }

    @Test
    void takesVariablesForPlainTextInTheOldVersion() {
        PolicyDocument document = PolicyParser.parse(
                json("{'Version':'2008-10-17','Statement':{'Effect':'Allow','Action':'*','Resource':'*',"
                        + "'Condition':{'StringEquals':{'aws:Referer':'${aws:username}'}}}}"),
                PolicyKind.IDENTITY,
                Pointer.ROOT);
        Condition old = document.statements().get(0).conditions().get(0);
        assertThat(old.holds(context("aws:Referer=${aws:username};aws:username=anna")))
                .isEqualTo(Truth.TRUE);
        assertThat(old.holds(context("aws:Referer=anna;aws:username=anna"))).isEqualTo(Truth.FALSE);
    }

    @Test
    void weighsARangeOfPossibleValues() {
        ContextValue people = new ContextValue.OneOf(Language.matching(Glob.parse("arn:aws:iam::1:user/*")), false);
        Context context = Context.given(Map.of("aws:Referer", people));
        assertThat(condition("{'StringLike':{'aws:Referer':'arn:aws:*'}}").holds(context))
                .isEqualTo(Truth.TRUE);
        assertThat(condition("{'StringLike':{'aws:Referer':'x*'}}").holds(context))
                .isEqualTo(Truth.FALSE);
        assertThat(condition("{'StringNotLike':{'aws:Referer':'x*'}}").holds(context))
                .isEqualTo(Truth.TRUE);
        assertThat(condition("{'StringEquals':{'aws:Referer':'arn:aws:iam::1:user/a'}}")
                        .holds(context))
                .isEqualTo(Truth.UNKNOWN);
        assertThat(condition("{'Null':{'aws:Referer':'false'}}").holds(context)).isEqualTo(Truth.TRUE);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "{'StringEquals':{'aws:Referer':['a','b']}} | a | true | z | false",
                "{'StringNotEquals':{'aws:Referer':['a','b']}} | z | true | a | true",
                "{'StringEqualsIfExists':{'aws:Referer':'a'}} | a | true | z | true",
                "{'Null':{'aws:Referer':'true'}} | - | false | a | true"
            })
    void becomesASetOfValues(String block, String member, boolean present, String other, boolean absence) {
        Condition.Side side = condition(block).side(Context.empty());
        assertThat(side.dimension()).isEqualTo("aws:referer|text");
        assertThat(side.values().admitsAbsence()).isEqualTo(absence);
        if (present) {
            assertThat(condition(block).holds(Context.given(Map.of("aws:Referer", ContextValue.Known.of(member)))))
                    .isEqualTo(Truth.TRUE);
            assertThat(condition(block).holds(Context.given(Map.of("aws:Referer", ContextValue.Known.of(other)))))
                    .isEqualTo(Truth.FALSE);
        }
    }

    @Test
    void spellsItself() {
        assertThat(condition("{'ForAnyValue:StringLikeIfExists':{'aws:TagKeys':['a*','b']}}")
                        .spelled())
                .isEqualTo("ForAnyValue:StringLikeIfExists aws:TagKeys [a*, b]");
    }
}
