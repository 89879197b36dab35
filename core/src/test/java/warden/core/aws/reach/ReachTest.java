package warden.core.aws.reach;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.acl;
import static warden.core.fixture.SurveyBuilder.distributionArn;
import static warden.core.fixture.SurveyBuilder.grant;
import static warden.core.fixture.SurveyBuilder.restOrigin;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.access.Ability;
import warden.core.access.Decision;
import warden.core.access.Extent;
import warden.core.access.Extent.Kind;
import warden.core.access.Matrix.Row;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Actor;
import warden.core.fixture.SurveyBuilder;

class ReachTest {
    private static final String READ =
            "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";

    private static Extent extent(SurveyBuilder survey, String who, Ability ability) {
        Account account = survey.account();
        Reach reach = new Reach(new Evaluator(account));
        Actor caller = Actor.parse(who).orElseThrow();
        Extent extent = reach.extent(account.bucket("b"), new Grantee(caller), ability);
        extent.witness().ifPresent(witness -> assertThat(
                        reach.evaluator().decide(Request.of(caller, witness)).outcome())
                .isEqualTo(Decision.Outcome.ALLOW));
        return extent;
    }

    private static SurveyBuilder with(String... statements) {
        return aSurvey().bucket("b", b -> b.policy(statements));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*' | ALL | *",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/public/*' | SOME | public/*",
                "'Action':'s3:GetObject','Resource':['arn:aws:s3:::b/a/*','arn:aws:s3:::b/*.css'] | SOME | a/*, *.css",
                "'Action':'s3:GetObject','NotResource':'arn:aws:s3:::b/private/*' | SOME | * except private/*",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::c/*' | NONE | ``",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'Bool':{'aws:SecureTransport':'true'}} | SOME | * when aws:SecureTransport is true",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}} | SOME | * when aws:SourceIp is in 203.0.113.0/24",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'DateLessThan':{'aws:CurrentTime':'2027-01-01'}} | SOME | * when aws:CurrentTime is in before 2027-01-01T00:00:00Z",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'StringLike':{'aws:Referer':'https://a/*'}} | SOME | * when aws:Referer is https://a/*",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'StringEquals':{'aws:PrincipalType':'Anonymous'}} | ALL | *",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'Null':{'aws:PrincipalArn':'false'}} | NONE | ``",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'StringEquals':{'aws:PrincipalOrgID':'o-heron'}} | NONE | ``",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'StringEquals':{'s3:prefix':'x'}} | NONE | ``",
                "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'ForAnyValue:StringLike':{'aws:TagKeys':'a'}} | SOME | * when (ForAnyValue:StringLike aws:TagKeys [a])"
            })
    void saysInWordsWhatAStatementOpens(String members, Kind kind, String which) {
        Extent extent = extent(with("{'Effect':'Allow','Principal':'*'," + members + "}"), "anyone", Ability.READ);
        assertThat(extent.kind()).isEqualTo(kind);
        assertThat(String.join(", ", extent.which())).isEqualTo(which);
    }

    @Test
    void takesDeniesAway() {
        String deny = "{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':'arn:aws:s3:::b/private/*'}";
        assertThat(extent(with(READ, deny), "anyone", Ability.READ).which()).containsExactly("* except private/*");
        assertThat(extent(with(READ, deny.replace("private/", "")), "anyone", Ability.READ)
                        .kind())
                .isEqualTo(Kind.NONE);
    }

    @Test
    void joinsWhatAddsUp() {
        String https = ",'Condition':{'Bool':{'aws:SecureTransport':'true'}}}";
        String http = ",'Condition':{'BoolIfExists':{'aws:SecureTransport':'false'}}}";
        String half = READ.substring(0, READ.length() - 1);
        assertThat(extent(with(half + https), "anyone", Ability.READ).kind()).isEqualTo(Kind.SOME);
        Extent both = extent(with(half + https, half + http), "anyone", Ability.READ);
        assertThat(both.kind()).isEqualTo(Kind.SOME);
        assertThat(both.which().toString()).contains("aws:SecureTransport");
    }

    @Test
    void isUnknownWhatRestsOnUnreadParts() {
        Extent extent = extent(with(READ).unread("bucket-public-access", "arn:aws:s3:::b"), "anyone", Ability.READ);
        assertThat(extent.kind()).isEqualTo(Kind.UNKNOWN);
        assertThat(extent.why()).contains("bucket-public-access");
        assertThat(extent.needs()).isNotEmpty();
    }

    @Test
    void isUnknownWhatIsTooComplex() {
        String hostile = READ.replace("b/*", "b/*a" + "?".repeat(60));
        Extent extent = extent(with(hostile), "anyone", Ability.READ);
        assertThat(extent.kind()).isEqualTo(Kind.UNKNOWN);
        assertThat(extent.why()).startsWith("too complex");
    }

    @Test
    void countsObjectsOpenedByTheirOwnLists() {
        SurveyBuilder survey =
                aSurvey().bucket("b", b -> b.aclsInForce().objectAcl("a.pdf", acl(grant("READ", "AllUsers"))));
        Extent extent = extent(survey, "anyone", Ability.READ);
        assertThat(extent.kind()).isEqualTo(Kind.SOME);
        assertThat(extent.witness().orElseThrow().on()).isEqualTo("arn:aws:s3:::b/a.pdf");
    }

    @Test
    void leavesOutObjectsUnderAKey() {
        SurveyBuilder survey = aSurvey().bucket("b", b -> b.policy(READ)
                .object("secret", "{'ServerSideEncryption':'aws:kms','SSEKMSKeyId':'k'}"));
        Extent extent = extent(survey, "anyone", Ability.READ);
        assertThat(extent.kind()).isEqualTo(Kind.SOME);
    }

    @Test
    void namesTheActionsOfRules() {
        String cors =
                "{'Effect':'Allow','Principal':'*','Action':['s3:PutBucketCORS','s3:PutBucketPolicy'],'Resource':'arn:aws:s3:::b'}";
        Extent extent = extent(with(cors), "anyone", Ability.CHANGE_RULES);
        assertThat(extent.kind()).isEqualTo(Kind.SOME);
        assertThat(extent.which()).containsExactly("s3:PutBucketCORS");
        SurveyBuilder own = aSurvey().bucket("b").user("anna", "{'Effect':'Allow','Action':'s3:*','Resource':'*'}");
        assertThat(extent(own, "arn:aws:iam::210987654321:user/anna", Ability.CHANGE_RULES)
                        .kind())
                .isEqualTo(Kind.ALL);
    }

    @Test
    void followsOwnPrincipalsThroughBoundaryAndOrganization() {
        SurveyBuilder survey = aSurvey()
                .bucket("b")
                .managedPolicy("limit", "{'Effect':'Allow','Action':'s3:*','Resource':'arn:aws:s3:::b/home/*'}")
                .organizationPolicy("p", "{'Effect':'Allow','Action':'s3:Put*','Resource':'*'}")
                .user(
                        "anna",
                        ",'PermissionsBoundary':{'PermissionsBoundaryArn':'arn:aws:iam::210987654321:policy/limit'}",
                        "{'Effect':'Allow','Action':'s3:*','Resource':'*'}");
        String anna = "arn:aws:iam::210987654321:user/anna";
        assertThat(extent(survey, anna, Ability.WRITE).which()).containsExactly("home/*");
        assertThat(extent(survey, anna, Ability.READ).kind()).isEqualTo(Kind.NONE);
    }

    @Test
    void listsTheActorsThatMatter() {
        String outside =
                "{'Effect':'Allow','Principal':{'AWS':'109876543210','Service':'logging.s3.amazonaws.com'},'Action':'s3:ListBucket','Resource':'arn:aws:s3:::b'}";
        SurveyBuilder survey = with(outside)
                .distribution("E1", "www.heronferry.example", "index.html", restOrigin("b", "", "C1"))
                .user("anna", "{'Effect':'Allow','Action':'s3:GetObject','Resource':'*'}")
                .user("idle")
                .user("listed");
        Account account = survey.account();
        BucketMatrix matrix = new BucketMatrix(new Reach(new Evaluator(account)));
        List<Row> rows = matrix.of(account.bucket("b"), List.of("arn:aws:iam::210987654321:user/listed"))
                .rows();
        assertThat(rows)
                .extracting(Row::who)
                .containsExactly(
                        "anyone",
                        "any-account",
                        distributionArn("E1"),
                        "arn:aws:iam::109876543210:root",
                        "service:logging.s3.amazonaws.com",
                        "arn:aws:iam::210987654321:user/anna",
                        "arn:aws:iam::210987654321:user/listed");
        Map<Ability, Extent> other = rows.get(3).abilities();
        assertThat(other.get(Ability.LIST).kind()).isEqualTo(Kind.ALL);
        assertThat(other.get(Ability.READ).kind()).isEqualTo(Kind.NONE);
    }

    @Test
    void tellsStrangersFromThoseOfWhomSomethingIsKnown() {
        String organization =
                "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{'StringEquals':{'aws:PrincipalOrgID':'o-other'}}}";
        Account account = with(organization).account();
        List<Row> rows = new BucketMatrix(new Reach(new Evaluator(account)))
                .of(account.bucket("b"), List.of())
                .allRows();
        assertThat(rows.stream().filter(Row::isStrangers).map(Row::who)).containsExactly("anyone", "any-account");
        assertThat(rows.stream().map(Row::who)).contains("organization:o-other");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "'StringNotEquals':{'aws:Referer':'x'} | * when aws:Referer is not x",
                "'StringNotEquals':{'aws:Referer':['x','y']} | * when aws:Referer is not x or y",
                "'StringNotEquals':{'aws:Referer':'x'},'Null':{'aws:Referer':'false'} | * when aws:Referer is not x, but sent",
                "'Null':{'aws:Referer':'false'} | * when aws:Referer is sent",
                "'Null':{'aws:Referer':'true'} | * when aws:Referer is not sent",
                "'StringEqualsIfExists':{'aws:Referer':'x'} | * when aws:Referer is x, or not sent",
                "'StringEqualsIgnoreCase':{'aws:Referer':'Quay'} | * when aws:Referer is Quay",
                "'StringNotEqualsIgnoreCase':{'aws:Referer':'Quay'} | * when aws:Referer is not Quay",
                "'StringLike':{'aws:Referer':['a*','b']} | * when aws:Referer is a* or b",
                "'StringLike':{'aws:Referer':'a*'},'StringNotEquals':{'aws:Referer':'ab'} | * when aws:Referer is such as a",
                "'IpAddress':{'aws:SourceIp':'203.0.113.0/24'},'Bool':{'aws:SecureTransport':'true'} | * when aws:SecureTransport is true and aws:SourceIp is in 203.0.113.0/24"
            })
    void saysInWordsUnderWhichCondition(String condition, String which) {
        String statement =
                "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':{"
                        + condition + "}}";
        assertThat(String.join(
                        ", ", extent(with(statement), "anyone", Ability.READ).which()))
                .isEqualTo(which);
    }

    @Test
    void saysWhatCouldWidenIt() {
        SurveyBuilder survey = aSurvey().bucket("b", b -> b.aclsInForce()
                .policy(READ.replace("b/*", "b/public/*"))
                .unread("bucket-acl"));
        Extent extent = extent(survey, "anyone", Ability.WRITE);
        assertThat(extent.mayBeWider()).isFalse();
        assertThat(extent.kind()).isEqualTo(Kind.UNKNOWN);
        String maybe =
                "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Verb':1}";
        Extent wider = extent(
                with(READ.replace("b/*", "b/public/*")).unread("account-public-access", "210987654321"),
                "anyone",
                Ability.READ);
        assertThat(wider.kind()).isEqualTo(Kind.UNKNOWN);
        assertThat(extent(with(READ), "anyone", Ability.READ).mayBeWider()).isFalse();
        assertThat(extent(with(maybe), "anyone", Ability.READ).kind()).isEqualTo(Kind.UNKNOWN);
    }
}
