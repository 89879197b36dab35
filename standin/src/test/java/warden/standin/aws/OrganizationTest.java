package warden.standin.aws;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.survey.SurveyException;
import warden.standin.Faults;
import warden.standin.aws.Wire.Answer;

/** Several accounts together: what one of them asks of another is decided on both sides. */
class OrganizationTest {
    private static final String MANAGER = "111111111111";
    private static final String MEMBER = "222222222222";
    private static final String USER = "arn:aws:iam::" + MANAGER + ":user/auditor";
    private static final String ROLE = "arn:aws:iam::" + MEMBER + ":role/survey";

    private static String line(String aspect, String of, String found) {
        return ("{'aspect':'" + aspect + "','of':'" + of + "','call':'x','found':" + found + "}\n").replace('\'', '"');
    }

    private static String header(String account) {
        return "{\"survey\":1,\"provider\":\"aws\",\"account\":\"" + account
                + "\",\"takenAt\":\"\",\"takenBy\":\"\"}\n";
    }

    private static String manager(String allowed) {
        return header(MANAGER)
                + line(
                        "iam-user",
                        USER,
                        "{'UserName':'auditor','Arn':'" + USER
                                + "','UserPolicyList':[{'PolicyName':'p','PolicyDocument':{'Version':'2012-10-17','Statement':"
                                + "[{'Effect':'Allow','Action':[" + allowed
                                + "],'Resource':'*'}]}}],'GroupList':[],'AttachedManagedPolicies':[]}");
    }

    private static String member(String trusted, String readers) {
        String bucket = "arn:aws:s3:::timetables";
        return header(MEMBER)
                + line(
                        "iam-role",
                        ROLE,
                        "{'RoleName':'survey','Arn':'" + ROLE
                                + "','AssumeRolePolicyDocument':{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':{'AWS':'"
                                + trusted
                                + "'},'Action':'sts:AssumeRole'}]},'RolePolicyList':[],'AttachedManagedPolicies':[]}")
                + line("bucket-list", MEMBER, "{'Buckets':[{'Name':'timetables'}]}")
                + line("bucket-location", bucket, "{'LocationConstraint':'eu-west-1'}")
                + "{\"aspect\":\"bucket-public-access\",\"of\":\"" + bucket
                + "\",\"call\":\"x\",\"absent\":\"NoSuchPublicAccessBlockConfiguration\"}\n"
                + "{\"aspect\":\"bucket-encryption\",\"of\":\"" + bucket
                + "\",\"call\":\"x\",\"absent\":\"ServerSideEncryptionConfigurationNotFoundError\"}\n"
                + line("account-public-access", MEMBER, "{'PublicAccessBlockConfiguration':{}}")
                + line(
                        "bucket-ownership",
                        bucket,
                        "{'OwnershipControls':{'Rules':[{'ObjectOwnership':'BucketOwnerEnforced'}]}}")
                + line(
                        "bucket-policy",
                        bucket,
                        "{'Policy':'{\\\"Version\\\":\\\"2012-10-17\\\",\\\"Statement\\\":[{\\\"Effect\\\":\\\"Allow\\\",\\\"Principal\\\":{\\\"AWS\\\":\\\""
                                + readers
                                + "\\\"},\\\"Action\\\":\\\"s3:GetObject\\\",\\\"Resource\\\":\\\"arn:aws:s3:::timetables/*\\\"}]}'}")
                + line("bucket-objects", bucket, "{'Contents':[{'Key':'index.html','Size':5}],'IsTruncated':false}");
    }

    private static StandIn start(String... surveys) throws Exception {
        List<Map.Entry<String, String>> all = new ArrayList<>();
        for (String survey : surveys) {
            all.add(Map.entry("survey " + all.size(), survey));
        }
        return StandIn.start(
                all,
                (bucket, key) -> Optional.empty(),
                StandIn.Settings.of(Faults.none()),
                0,
                Clock.fixed(Instant.parse("2026-11-24T08:00:00Z"), ZoneOffset.UTC));
    }

    private static Answer assume(StandIn standIn, String as) throws Exception {
        return new Wire(standIn)
                .service(
                        as,
                        "sts",
                        "POST",
                        "/",
                        "Action=AssumeRole&Version=2011-06-15&RoleSessionName=run&RoleArn="
                                + URLEncoder.encode(ROLE, StandardCharsets.UTF_8));
    }

    @ParameterizedTest
    @CsvSource({
        "'sts:AssumeRole', arn:aws:iam::111111111111:root, 200",
        "'sts:AssumeRole', arn:aws:iam::111111111111:user/auditor, 200",
        "'sts:AssumeRole', arn:aws:iam::111111111111:user/other, 403",
        "'sts:AssumeRole', arn:aws:iam::333333333333:root, 403",
        "'s3:GetObject', arn:aws:iam::111111111111:root, 403"
    })
    void aRoleOfAnotherAccountIsAssumedWhereBothSidesSaySo(String allowed, String trusted, int status)
            throws Exception {
        String quoted = "'" + allowed.replace("'", "") + "'";
        try (StandIn standIn = start(manager(quoted), member(trusted, USER))) {
            Answer answer = assume(standIn, USER);
            assertThat(answer.status()).as(answer.body()).isEqualTo(status);
            if (status == 200) {
                Matcher key =
                        Pattern.compile("<AccessKeyId>([^<]+)</AccessKeyId>").matcher(answer.body());
                Matcher token =
                        Pattern.compile("<SessionToken>([^<]+)</SessionToken>").matcher(answer.body());
                assertThat(key.find() && token.find()).isTrue();
                Answer who = new Wire(standIn)
                        .send(
                                "POST",
                                "/",
                                "Action=GetCallerIdentity&Version=2011-06-15",
                                "Authorization",
                                Wire.signed(USER, "sts").replace(StandIn.keyOf(USER), key.group(1)),
                                "X-Amz-Security-Token",
                                token.group(1));
                assertThat(who.body()).contains("<Account>" + MEMBER + "</Account>", "assumed-role/survey/run");
            }
        }
    }

    @ParameterizedTest
    @CsvSource({
        "'s3:GetObject', arn:aws:iam::111111111111:user/auditor, 200",
        "'s3:GetObject', arn:aws:iam::333333333333:root, 403",
        "'s3:PutObject', arn:aws:iam::111111111111:root, 403"
    })
    void anObjectOfAnotherAccountIsReadWhereBothSidesSaySo(String allowed, String readers, int status)
            throws Exception {
        String quoted = "'" + allowed.replace("'", "") + "'";
        try (StandIn standIn = start(manager(quoted), member(USER, readers))) {
            Answer answer = new Wire(standIn).storage(USER, "GET", "/timetables/index.html", "");
            assertThat(answer.status()).as(answer.body()).isEqualTo(status);
        }
    }

    private static Answer list(StandIn standIn, String as, String body) throws Exception {
        return new Wire(standIn)
                .service(
                        as,
                        "organizations",
                        "POST",
                        "/",
                        body,
                        "X-Amz-Target",
                        "AWSOrganizationsV20161128.ListAccounts",
                        "Content-Type",
                        "application/x-amz-json-1.1");
    }

    @Test
    void listsItsAccountsPageByPageToTheOneThatManagesThem() throws Exception {
        List<String> surveys = new ArrayList<>(List.of(manager("'*'")));
        for (int i = 0; i < 25; i++) {
            surveys.add(header(Long.toString(222_222_222_222L + i)));
        }
        try (StandIn standIn = start(surveys.toArray(String[]::new))) {
            Answer first = list(standIn, USER, "{}");
            assertThat(first.body()).contains("\"NextToken\":\"20\"", "\"Id\":\"" + MANAGER + "\"", "\"ACTIVE\"");
            assertThat(first.body().split("\"Id\"")).hasSize(21);
            Answer last = list(standIn, USER, "{\"NextToken\":\"20\"}");
            assertThat(last.body().split("\"Id\"")).hasSize(7);
            assertThat(last.body()).doesNotContain("NextToken");
            assertThat(list(standIn, USER, "{\"NextToken\":\"elsewhere\"}").status())
                    .isEqualTo(400);
            String member = "arn:aws:iam::" + MEMBER + ":root";
            assertThat(list(standIn, member, "{}").body()).contains("AccessDeniedException");
        }
        try (StandIn alone = start(manager("'*'"))) {
            assertThat(list(alone, USER, "{}").body()).contains("AWSOrganizationsNotInUseException");
        }
    }

    @Test
    void refusesASubscriptionAmongAccounts() {
        String subscription = header("0c5f7a52-3b1d-4e57-9a0e-6f2d1b7c8e90").replace("\"aws\"", "\"azure\"");
        assertThatThrownBy(() -> start(manager("'*'"), subscription))
                .isInstanceOf(SurveyException.class)
                .hasMessageContaining("a subscription is simulated alone");
    }

    @Test
    void refusesTwoSurveysOfOneAccount() {
        assertThatThrownBy(() -> start(manager("'*'"), manager("'*'")))
                .isInstanceOf(SurveyException.class)
                .hasMessageContaining("this is of account " + MANAGER + ", as is another");
    }
}
