package warden.core.aws.policy;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.json;

import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.access.Truth;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.Pointer;

class PolicyParserTest {
    private static final String GOOD =
            "'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'";

    private static PolicyDocument parse(String text) {
        return PolicyParser.parse(json(text), PolicyKind.BUCKET, Pointer.ROOT);
    }

    private static PolicyDocument statement(String members) {
        return parse("{'Version':'2012-10-17','Statement':[{" + members + "}]}");
    }

    @Test
    void takesOneStatementOrAList() {
        assertThat(parse("{'Statement':{" + GOOD + "}}").statements()).hasSize(1);
        assertThat(parse("{'Statement':[{" + GOOD + "},{" + GOOD + "}]}").statements())
                .hasSize(2);
    }

    @Test
    void keepsThePlaceOfEachPart() {
        Statement second = parse("{'Statement':[{" + GOOD + "},{"
                        + GOOD.replace("'s3:GetObject'", "['s3:GetObject','s3:PutObject']") + "}]}")
                .statements()
                .get(1);
        assertThat(second.at().toString()).isEqualTo("/Statement/1");
        assertThat(second.actions().patterns().get(1).at().toString()).isEqualTo("/Statement/1/Action/1");
        assertThat(second.called()).isEqualTo("statement 2");
    }

    @Test
    void readsTextPercentEncodedTextAndObjects() {
        String text = json("{'Statement':{" + GOOD + ",'Sid':'a+b c'}}");
        String encoded =
                java.net.URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
        JsonPart object = JsonReader.read(text).root().orElseThrow();
        assertThat(PolicyParser.parse(encoded, PolicyKind.BUCKET, Pointer.ROOT)
                        .statements()
                        .get(0)
                        .sid())
                .isEqualTo("a+b c");
        assertThat(PolicyParser.parse(object, PolicyKind.BUCKET, Pointer.ROOT).statements())
                .hasSize(1);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'*' | Everyone",
                "{'AWS':'*'} | Everyone",
                "{'AWS':['210987654321']} | Account",
                "{'AWS':'arn:aws:iam::210987654321:root'} | Account",
                "{'AWS':'arn:aws:iam::210987654321:user/a'} | UserArn",
                "{'AWS':'arn:aws:iam::210987654321:role/p/a'} | RoleArn",
                "{'AWS':'arn:aws:sts::210987654321:assumed-role/a/s'} | SessionArn",
                "{'AWS':'arn:aws:sts::210987654321:federated-user/a'} | Federated",
                "{'AWS':'AIDAJQABLZS4A3QDU576Q'} | Stale",
                "{'AWS':'AROAJQABLZS4A3QDU576Q'} | Stale",
                "{'AWS':'arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity E1A'} | OriginAccessIdentity",
                "{'Service':'cloudfront.amazonaws.com'} | ServiceName",
                "{'Federated':'accounts.heronferry.example'} | Federated",
                "{'CanonicalUser':'c0ffee'} | CanonicalUser"
            })
    void knowsEveryKindOfPrincipal(String principal, String kind) {
        PolicyDocument document = statement(GOOD.replace("'Principal':'*'", "'Principal':" + principal));
        assertThat(document.problems()).isEmpty();
        assertThat(document.statements()
                        .get(0)
                        .principals()
                        .orElseThrow()
                        .elements()
                        .get(0)
                        .getClass()
                        .getSimpleName())
                .isEqualTo(kind);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "arn:aws:iam::210987654321:user/*",
                "arn:aws:iam::21098765:root",
                "anna",
                "<YOUR-ACCOUNT>",
                "arn:aws:iam::210987654321:group/x"
            })
    void doesNotKnowWhomABadPrincipalMeans(String principal) {
        PolicyDocument document = statement(GOOD.replace("'Principal':'*'", "'Principal':{'AWS':'" + principal + "'}"));
        assertThat(document.problems()).singleElement().satisfies(problem -> {
            assertThat(problem.at().toString()).isEqualTo("/Statement/0/Principal/AWS");
            assertThat(problem.meaningLost()).isFalse();
        });
        PrincipalClause clause = document.statements().get(0).principals().orElseThrow();
        assertThat(clause.allows(new Actor.Anyone(), (id, actor) -> Truth.FALSE).truth())
                .isEqualTo(Truth.FALSE);
        assertThat(clause.allows(new Actor.AnyAccount(), (id, actor) -> Truth.FALSE)
                        .truth())
                .isEqualTo(Truth.UNKNOWN);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'Effect':'allow','Principal':'*','Action':'s3:*','Resource':'*' | /Statement/0/Effect | must be exactly",
                "'Principal':'*','Action':'s3:*','Resource':'*' | /Statement/0 | has no Effect",
                "'Effect':'Allow','Action':'s3:*','Resource':'*' | /Statement/0 | has no Principal",
                "'Effect':'Allow','Principal':'*','Resource':'*' | /Statement/0 | has neither Action nor NotAction",
                "'Effect':'Allow','Principal':'*','Action':'s3:*' | /Statement/0 | has neither Resource nor NotResource",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','NotAction':'s3:*','Resource':'*' | /Statement/0 | both Action and NotAction",
                "'Effect':'Allow','Principal':'*','Action':[],'Resource':'*' | /Statement/0/Action | empty list of actions",
                "'Effect':'Allow','Principal':'*','Action':7,'Resource':'*' | /Statement/0/Action | is a number",
                "'Effect':'Allow','Principal':'*','Action':'GetObject','Resource':'*' | /Statement/0/Action | is no action",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'b/*' | /Statement/0/Resource | is no resource",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'arn:aws:s3:::b/${aws:username' | /Statement/0/Resource | policy variable",
                "'Effect':'Allow','Principal':['*'],'Action':'s3:*','Resource':'*' | /Statement/0/Principal | must be",
                "'Effect':'Allow','Principal':{'Bank':'x'},'Action':'s3:*','Resource':'*' | /Statement/0/Principal/Bank | no kind of principal",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'*','Conditions':{} | /Statement/0/Conditions | perhaps Condition was meant",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'*','Condition':[] | /Statement/0/Condition | object of operators",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'*','Condition':{'StringIs':{'a:b':'c'}} | /Statement/0/Condition/StringIs/a:b | no condition operator",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'*','Condition':{'StringEquals':{'SourceIp':'c'}} | /Statement/0/Condition/StringEquals/SourceIp | no condition key",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'*','Condition':{'IpAddress':{'aws:SourceIp':'10.0.0.0/40'}} | /Statement/0/Condition/IpAddress/aws:SourceIp | can compare",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'*','Condition':{'StringEquals':{'aws:Referer':[]}} | /Statement/0/Condition/StringEquals/aws:Referer | empty list",
                "'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'*','Condition':{'NullIfExists':{'aws:Referer':'true'}} | /Statement/0/Condition/NullIfExists/aws:Referer | no condition operator"
            })
    void losesTheMeaningOfAStatementThatTheProviderRefuses(String members, String place, String says) {
        PolicyDocument document = statement(members);
        assertThat(document.problems()).isNotEmpty().anySatisfy(problem -> {
            assertThat(problem.at().toString()).isEqualTo(place);
            assertThat(problem.says()).contains(says);
        });
        assertThat(document.statements()).singleElement().matches(Statement::isOpaque);
        assertThat(document.isPartlyOpaque()).isTrue();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "not json",
                "[]",
                "7",
                "{}",
                "{'Version':'2012-10-17'}",
                "{'Version':'2020-01-01','Statement':[]}",
                "{'Statement':[],'Statement':[]}",
                "{'Statement':[]}{}",
                "{'Statement':[],'Extra':1}"
            })
    void knowsNothingOfADocumentThatIsNone(String text) {
        PolicyDocument document = parse(text);
        assertThat(document.isOpaque()).isTrue();
        assertThat(document.problems()).isNotEmpty();
    }

    @Test
    void findsMembersThatStandTwice() {
        PolicyDocument document = statement(GOOD + ",'Effect':'Deny'");
        assertThat(document.isOpaque()).isTrue();
        assertThat(document.problems()).anyMatch(problem -> problem.says().contains("stands twice"));
    }

    @Test
    void refusesDeepNestingWithoutFalling() {
        assertThat(parse("[".repeat(10_000)).isOpaque()).isTrue();
        assertThat(parse("{'Statement':".repeat(10_000)).isOpaque()).isTrue();
    }

    @Test
    void keepsTheMeaningOfWhatIsOnlyRefused() {
        PolicyDocument repeated = parse("{'Statement':[{" + GOOD + ",'Sid':'a'},{" + GOOD + ",'Sid':'a'}]}");
        assertThat(repeated.problems()).singleElement().matches(problem -> !problem.meaningLost());
        assertThat(repeated.isPartlyOpaque()).isFalse();
        assertThat(parse("{'Statement':[]}").isOpaque()).isFalse();
    }

    @Test
    void asksOfEachKindWhatItMustHave() {
        String identity = json("{'Statement':{'Effect':'Allow','Action':'s3:*','Resource':'*'}}");
        String trust =
                json("{'Statement':{'Effect':'Allow','Principal':{'AWS':'210987654321'},'Action':'sts:AssumeRole'}}");
        assertThat(PolicyParser.parse(identity, PolicyKind.IDENTITY, Pointer.ROOT)
                        .problems())
                .isEmpty();
        assertThat(PolicyParser.parse(identity, PolicyKind.KEY, Pointer.ROOT).problems())
                .isNotEmpty();
        assertThat(PolicyParser.parse(trust, PolicyKind.TRUST, Pointer.ROOT).problems())
                .isEmpty();
        assertThat(PolicyParser.parse(trust, PolicyKind.IDENTITY, Pointer.ROOT).problems())
                .hasSizeGreaterThan(1);
        assertThat(PolicyParser.parse(json("{'Statement':{" + GOOD + "}}"), PolicyKind.IDENTITY, Pointer.ROOT)
                        .problems())
                .anyMatch(problem -> problem.says().contains("must not stand here"));
    }

    @ParameterizedTest
    @CsvSource({
        "arn:aws:s3:::b/*, arn:aws:s3:::b/x/y, TRUE",
        "arn:aws:s3:::b*, arn:aws:s3:::book/x, TRUE",
        "arn:aws:s3:::b/?, arn:aws:s3:::b/xy, FALSE",
        "arn:aws:s3:*:*:b/*, arn:aws:s3:::b/x, TRUE",
        "arn:*:s3:::b, arn:aws:s3:::b, TRUE",
        "arn:*b, arn:aws:s3:::b, UNKNOWN",
        "arn:aws:*:::b, arn:aws:s3:x:y:b, FALSE",
        "arn:aws:lambda:*:*:function:*, arn:aws:lambda:r:1:function:f:2, TRUE",
        "*, arn:aws:s3:::b, TRUE"
    })
    void keepsWildcardsOfTheFirstPartsWithinTheirPart(String pattern, String resource, Truth expected) {
        PolicyDocument document = statement(GOOD.replace("arn:aws:s3:::b/*", pattern));
        Statement only = document.statements().get(0);
        Truth covered =
                only.isOpaque() ? Truth.UNKNOWN : only.resources().orElseThrow().covers(resource, Context.empty());
        assertThat(covered).isEqualTo(expected);
    }

    @Test
    void comparesActionsWithoutRegardToCase() {
        ActionClause actions = statement(GOOD.replace("s3:GetObject", "S3:getOBJ*"))
                .statements()
                .get(0)
                .actions();
        assertThat(actions.covers("s3:getobjectacl")).isTrue();
        assertThat(actions.covers("s3:putobject")).isFalse();
        ActionClause others = statement(GOOD.replace("'Action'", "'NotAction'"))
                .statements()
                .get(0)
                .actions();
        assertThat(List.of("s3:putobject", "iam:createuser")).allMatch(others::covers);
        assertThat(others.covers("s3:getobject")).isFalse();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'Sid':7 | /Statement/0/Sid | a Sid is a text | false",
                "'Principal':'arn:aws:iam::109876543210:root' | /Statement/0/Principal | must be \"*\" | false",
                "'Principal':{} | /Statement/0/Principal | must be \"*\" | true",
                "'Principal':{'AWS':'anna'} | /Statement/0/Principal/AWS | is no principal | false",
                "'Principal':{'Service':'*'} | /Statement/0/Principal/Service | a wildcard is not allowed | false",
                "'Principal':{'Team':'web'} | /Statement/0/Principal/Team | is no kind of principal | true",
                "'Action':'GetObject' | /Statement/0/Action | is no action | true",
                "'Resource':'${aws:username' | /Statement/0/Resource | | true",
                "'Condition':'none' | /Statement/0/Condition | | true",
                "'Condition':{'StringEquals':'x'} | /Statement/0/Condition/StringEquals | | true",
                "'Condition':{'StringEquals':{'aws:Referer':[]}} | /Statement/0/Condition/StringEquals/aws:Referer | | true",
                "'Effect':'alow' | /Statement/0/Effect | must be exactly | true"
            })
    void saysWhereAndWhyTheProviderWouldRefuse(String member, String pointer, String says, boolean opaque) {
        String key = member.substring(0, member.indexOf(':'));
        String rest = java.util.Arrays.stream(GOOD.split(",(?=')"))
                .filter(each -> !each.startsWith(key + ":"))
                .collect(java.util.stream.Collectors.joining(","));
        PolicyDocument document = parse("{'Version':'2012-10-17','Statement':[{" + rest + "," + member + "}]}");
        assertThat(document.problems()).anySatisfy(problem -> {
            assertThat(problem.at().toString()).isEqualTo(pointer);
            assertThat(problem.says()).contains(says == null ? "" : says);
        });
        assertThat(document.statements().get(0).isOpaque()).isEqualTo(opaque);
    }

    @Test
    void refusesASidTwiceAndOddCharactersInAnIdentityPolicysSid() {
        String twice =
                "{'Statement':[{'Sid':'A'," + GOOD + "},{'Sid':'A'," + GOOD + "},{" + GOOD + "},{" + GOOD + "}]}";
        assertThat(parse(twice).problems())
                .extracting(problem -> problem.at() + " " + problem.says())
                .containsExactly("/Statement/1/Sid repeats the Sid of another statement");
        String identity = "{'Statement':[{'Sid':'Put it','Effect':'Allow','Action':'s3:*','Resource':'*'}]}";
        assertThat(PolicyParser.parse(json(identity), PolicyKind.IDENTITY, Pointer.ROOT)
                        .problems())
                .singleElement()
                .satisfies(problem -> assertThat(problem.at().toString()).isEqualTo("/Statement/0/Sid"));
        assertThat(PolicyParser.parse(json(identity.replace("Put it", "PutIt1")), PolicyKind.IDENTITY, Pointer.ROOT)
                        .problems())
                .isEmpty();
    }

    @Test
    void refusesAPrincipalInAnIdentityPolicyAndAResourceInATrustPolicy() {
        PolicyDocument identity =
                PolicyParser.parse(json("{'Statement':{" + GOOD + "}}"), PolicyKind.IDENTITY, Pointer.ROOT);
        assertThat(identity.problems()).singleElement().satisfies(problem -> {
            assertThat(problem.at().toString()).isEqualTo("/Statement/Principal");
            assertThat(problem.meaningLost()).isTrue();
        });
        String trust = "{'Statement':{'Effect':'Allow','Principal':{'AWS':'109876543210'},'Action':'sts:AssumeRole'";
        assertThat(PolicyParser.parse(json(trust + "}}"), PolicyKind.TRUST, Pointer.ROOT)
                        .problems())
                .isEmpty();
        assertThat(PolicyParser.parse(json(trust + ",'Resource':'*'}}"), PolicyKind.TRUST, Pointer.ROOT)
                        .problems())
                .singleElement()
                .satisfies(problem -> assertThat(problem.at().toString()).isEqualTo("/Statement/Resource"));
    }

    @Test
    void anUnknownMemberOrVersionLosesTheMeaningOfTheWhole() {
        assertThat(parse("{'Version':'2012-10-18','Statement':{" + GOOD + "}}").isOpaque())
                .isTrue();
        assertThat(parse("{'Statements':[],'Statement':{" + GOOD + "}}").isOpaque())
                .isTrue();
        assertThat(parse("{'Statement':[]}").problems()).singleElement().satisfies(problem -> assertThat(problem.says())
                .contains("empty list"));
        assertThat(parse("[]").isOpaque()).isTrue();
        assertThat(parse("{'Statement':{" + GOOD + "}}").version()).isEqualTo("2008-10-17");
    }

    @Test
    void keepsTextThatOnlyLooksEncoded() {
        assertThat(PolicyParser.parse("%7B%zz", PolicyKind.BUCKET, Pointer.ROOT).isOpaque())
                .isTrue();
        String lower = json("{'Statement':{" + GOOD + "}}").replace("{", "%7b").replace("}", "%7d");
        assertThat(PolicyParser.parse(lower, PolicyKind.BUCKET, Pointer.ROOT).isOpaque())
                .isFalse();
    }
}
