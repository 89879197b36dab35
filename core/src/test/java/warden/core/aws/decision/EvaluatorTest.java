package warden.core.aws.decision;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.acl;
import static warden.core.fixture.SurveyBuilder.grant;
import static warden.core.fixture.SurveyBuilder.guard;

import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.access.Decision;
import warden.core.access.Decision.Outcome;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.fixture.SurveyBuilder;

class EvaluatorTest {
    private static final String USER = "arn:aws:iam::210987654321:user/anna";
    private static final String ROLE = "arn:aws:iam::210987654321:role/publisher";
    private static final String OUTSIDER = "arn:aws:iam::109876543210:user/otto";
    private static final String ROOT = "arn:aws:iam::210987654321:root";
    private static final String OBJECT = "arn:aws:s3:::b/index.html";
    private static final String BUCKET = "arn:aws:s3:::b";
    private static final String ALLOW_ALL_READ =
            "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";

    /** Decides; {@code context} is "key=value" pairs joined by semicolons, a key alone being of unknown value. */
    private static Decision decide(SurveyBuilder survey, String who, String action, String on, String context) {
        Map<String, ContextValue> values = new HashMap<>();
        for (String pair : context.isEmpty() ? new String[0] : context.split(";")) {
            String[] parts = pair.split("=", 2);
            values.put(parts[0], parts.length == 2 ? ContextValue.Known.of(parts[1]) : ContextValue.UNKNOWN);
        }
        Request request = new Request(Actor.parse(who).orElseThrow(), action, on, Context.given(values));
        return new Evaluator(survey.account()).decide(request);
    }

    private static Outcome outcome(SurveyBuilder survey, String who, String action, String on) {
        return decide(survey, who, action, on, "").outcome();
    }

    private static SurveyBuilder bucketWith(String... statements) {
        return aSurvey().bucket("b", bucket -> bucket.policy(statements));
    }

    private static String identityAllow(String action, String resource) {
        return "{'Effect':'Allow','Action':'" + action + "','Resource':'" + resource + "'}";
    }

    @Nested
    class OfUnsignedCallers {
        @Test
        void allowsWhatAStatementAllowsToEveryone() {
            Decision decision = decide(bucketWith(ALLOW_ALL_READ), "anyone", "s3:GetObject", OBJECT, "");
            assertThat(decision.outcome()).isEqualTo(Outcome.ALLOW);
            assertThat(decision.explicit()).isTrue();
            assertThat(decision.because()).singleElement().satisfies(at -> {
                assertThat(at.aspect()).isEqualTo("bucket-policy");
                assertThat(at.path()).isEqualTo("/Statement/0");
                assertThat(at.file()).isEqualTo("test.ndjson");
            });
        }

        @Test
        void deniesWhatNoStatementAllows() {
            Decision decision = decide(bucketWith(ALLOW_ALL_READ), "anyone", "s3:PutObject", OBJECT, "");
            assertThat(decision.outcome()).isEqualTo(Outcome.DENY);
            assertThat(decision.explicit()).isFalse();
        }

        @Test
        void letsADenyWin() {
            SurveyBuilder survey = bucketWith(
                    ALLOW_ALL_READ,
                    "{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':'arn:aws:s3:::b/private/*'}");
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            Decision denied = decide(survey, "anyone", "s3:GetObject", "arn:aws:s3:::b/private/x", "");
            assertThat(denied.outcome()).isEqualTo(Outcome.DENY);
            assertThat(denied.explicit()).isTrue();
        }

        @Test
        void areCutOffWhenTheBucketOrTheAccountRestrictsPublicBuckets() {
            SurveyBuilder own =
                    aSurvey().bucket("b", b -> b.policy(ALLOW_ALL_READ).guard(guard(false, false, false, true)));
            SurveyBuilder accounts = bucketWith(ALLOW_ALL_READ).accountGuard(true);
            assertThat(outcome(own, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(accounts, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void areNotHeldBackByTheFlagsAboutLaterChanges() {
            SurveyBuilder survey =
                    aSurvey().bucket("b", b -> b.policy(ALLOW_ALL_READ).guard(guard(true, true, true, false)));
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
        }

        @Test
        void areNotRestrictedWhereThePolicyIsNotPublic() {
            SurveyBuilder survey = aSurvey().bucket("b", b -> b.guard(true)
                    .policy("{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*',"
                            + "'Condition':{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}}}"));
            assertThat(decide(survey, "anyone", "s3:GetObject", OBJECT, "aws:SourceIp=203.0.113.9")
                            .outcome())
                    .isEqualTo(Outcome.ALLOW);
            assertThat(decide(survey, "anyone", "s3:GetObject", OBJECT, "aws:SourceIp=198.51.100.9")
                            .outcome())
                    .isEqualTo(Outcome.DENY);
        }

        @Test
        void cannotReadWhatIsEncryptedUnderAKey() {
            SurveyBuilder managed =
                    aSurvey().bucket("b", b -> b.policy(ALLOW_ALL_READ).encryptedUnder(""));
            assertThat(outcome(managed, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
            SurveyBuilder oneObject = aSurvey().bucket("b", b -> b.policy(ALLOW_ALL_READ)
                    .object("index.html", "{'ServerSideEncryption':'aws:kms','SSEKMSKeyId':'k'}"));
            assertThat(outcome(oneObject, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(oneObject, "anyone", "s3:GetObject", "arn:aws:s3:::b/other"))
                    .isEqualTo(Outcome.ALLOW);
        }

        @Test
        void areUnknownWhatIsUnread() {
            for (String aspect :
                    new String[] {"bucket-policy", "bucket-public-access", "bucket-encryption", "bucket-payer"}) {
                SurveyBuilder survey =
                        aSurvey().bucket("b", b -> b.policy(ALLOW_ALL_READ).unread(aspect));
                Decision decision = decide(survey, "anyone", "s3:GetObject", OBJECT, "");
                assertThat(decision.outcome()).as(aspect).isEqualTo(Outcome.UNKNOWN);
                assertThat(decision.needs()).as(aspect).anyMatch(need -> need.aspect()
                        .equals(aspect));
            }
        }

        @Test
        void areDeniedBesideUnknownsWhenADenyHoldsInAnyCase() {
            SurveyBuilder survey = aSurvey().bucket("b", b -> b.policy(
                            ALLOW_ALL_READ,
                            "{'Effect':'Deny','Principal':'*','Action':'*','Resource':'arn:aws:s3:::b/*'}")
                    .unread("bucket-public-access")
                    .unread("bucket-encryption"));
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void cannotUseTheBucketPolicyCallsWhateverThePolicySays() {
            SurveyBuilder survey =
                    bucketWith("{'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'arn:aws:s3:::b'}");
            assertThat(outcome(survey, "anyone", "s3:PutBucketPolicy", BUCKET)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, OUTSIDER, "s3:GetBucketPolicy", BUCKET)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, "anyone", "s3:PutBucketCORS", BUCKET)).isEqualTo(Outcome.ALLOW);
        }

        @Test
        void failWhereTheReaderIsToPay() {
            SurveyBuilder survey = bucketWith(ALLOW_ALL_READ).found("bucket-payer", BUCKET, "{'Payer':'Requester'}");
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, "any-account", "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
        }
    }

    @Nested
    class OfTheAccountsOwnPrincipals {
        @Test
        void allowsByIdentityPolicyAloneOrBucketPolicyAlone() {
            SurveyBuilder byIdentity =
                    aSurvey().bucket("b").user("anna", identityAllow("s3:PutObject", "arn:aws:s3:::b/*"));
            SurveyBuilder byBucket = bucketWith("{'Effect':'Allow','Principal':{'AWS':'" + USER
                            + "'},'Action':'s3:PutObject','Resource':'arn:aws:s3:::b/*'}")
                    .user("anna");
            assertThat(outcome(byIdentity, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(byBucket, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(byBucket, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void takesAGrantToTheAccountForADelegationOnly() {
            String toAccount =
                    "{'Effect':'Allow','Principal':{'AWS':'210987654321'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";
            assertThat(outcome(bucketWith(toAccount).user("anna"), USER, "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.DENY);
            assertThat(outcome(bucketWith(toAccount), ROOT, "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.ALLOW);
        }

        @Test
        void doesNotNeedAPolicyForTheRoot() {
            Decision decision = decide(aSurvey().bucket("b"), ROOT, "s3:DeleteBucket", BUCKET, "");
            assertThat(decision.outcome()).isEqualTo(Outcome.ALLOW);
            assertThat(decision.explicit()).isFalse();
            assertThat(decision.assumes()).containsExactly("no organization policy");
        }

        @ParameterizedTest
        @CsvSource({
            "s3:GetBucketPolicy,ALLOW",
            "s3:PutBucketPolicy,ALLOW",
            "s3:DeleteBucketPolicy,ALLOW",
            "s3:ListBucket,DENY"
        })
        void letsTheRootWorkOnAPolicyThatLocksEverybodyOut(String action, Outcome expected) {
            SurveyBuilder survey = bucketWith(
                    "{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':['arn:aws:s3:::b','arn:aws:s3:::b/*']}");
            assertThat(outcome(survey, ROOT, action, BUCKET)).isEqualTo(expected);
        }

        @Test
        void bindsTheRootByOrganizationPolicies() {
            SurveyBuilder survey = aSurvey()
                    .bucket("b")
                    .organizationPolicy("p-full", "{'Effect':'Allow','Action':'*','Resource':'*'}")
                    .organizationPolicy("p-deny", "{'Effect':'Deny','Action':'s3:DeleteBucketPolicy','Resource':'*'}");
            assertThat(outcome(survey, ROOT, "s3:DeleteBucketPolicy", BUCKET)).isEqualTo(Outcome.DENY);
            Decision other = decide(survey, ROOT, "s3:ListBucket", BUCKET, "");
            assertThat(other.outcome()).isEqualTo(Outcome.ALLOW);
            assertThat(other.assumes()).isEmpty();
        }

        @Test
        void limitsWhatTheBucketPolicyGrantsByOrganizationPolicies() {
            String toUser = "{'Effect':'Allow','Principal':{'AWS':'" + USER
                    + "'},'Action':'s3:*','Resource':'arn:aws:s3:::b/*'}";
            SurveyBuilder survey = bucketWith(toUser, ALLOW_ALL_READ)
                    .user("anna")
                    .organizationPolicy("p-read", "{'Effect':'Allow','Action':'s3:Get*','Resource':'*'}");
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
        }

        @Test
        void isUnknownUnderAnOrganizationPolicyThatWasRefused() {
            SurveyBuilder survey = aSurvey()
                    .bucket("b")
                    .user("anna", identityAllow("s3:*", "*"))
                    .organizationPolicy("p-full", "{'Effect':'Allow','Action':'*','Resource':'*'}")
                    .unread("organization-policy", "p-dark");
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void isUnknownForAUserThatNoLineDescribes() {
            SurveyBuilder survey = bucketWith(ALLOW_ALL_READ);
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.UNKNOWN);
            assertThat(outcome(survey, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void readsGroupsAndManagedPolicies() {
            String group = "{'GroupName':'editors','GroupPolicyList':[{'PolicyName':'g','PolicyDocument':"
                    + SurveyBuilder.policyOf(identityAllow("s3:ListBucket", "arn:aws:s3:::b"))
                            .replace('"', '\'') + "}]}";
            SurveyBuilder survey = aSurvey()
                    .bucket("b")
                    .found("iam-group", "arn:aws:iam::210987654321:group/editors", group)
                    .managedPolicy("writers", identityAllow("s3:PutObject", "arn:aws:s3:::b/*"))
                    .user(
                            "anna",
                            ",'GroupList':['editors'],'AttachedManagedPolicies':["
                                    + "{'PolicyArn':'arn:aws:iam::210987654321:policy/writers'},"
                                    + "{'PolicyArn':'arn:aws:iam::aws:policy/AmazonS3ReadOnlyAccess'}]");
            assertThat(outcome(survey, USER, "s3:ListBucket", BUCKET)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "s3:DeleteObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void isUnknownUnderAManagedPolicyThatIsNotThere() {
            SurveyBuilder survey = aSurvey()
                    .bucket("b")
                    .user("anna", ",'AttachedManagedPolicies':[{'PolicyArn':'arn:aws:iam::aws:policy/SomethingElse'}]");
            Decision decision = decide(survey, USER, "s3:GetObject", OBJECT, "");
            assertThat(decision.outcome()).isEqualTo(Outcome.UNKNOWN);
            assertThat(decision.needs()).anyMatch(need -> need.of().endsWith("SomethingElse"));
        }

        @Test
        void knowsTheCopyOfReadOnlyAccessForItsOwnServicesOnly() {
            SurveyBuilder survey = aSurvey()
                    .bucket("b")
                    .user(
                            "anna",
                            ",'AttachedManagedPolicies':[{'PolicyArn':'arn:aws:iam::aws:policy/ReadOnlyAccess'}]");
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, USER, "rds:DescribeDBInstances", "arn:aws:rds:us-east-1:210987654321:db:x"))
                    .isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void decidesAboutOtherServicesByTheIdentitySideAlone() {
            String distribution = "arn:aws:cloudfront::210987654321:distribution/E1";
            SurveyBuilder survey = aSurvey().user("anna", identityAllow("cloudfront:CreateInvalidation", distribution));
            assertThat(outcome(survey, USER, "cloudfront:CreateInvalidation", distribution))
                    .isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "cloudfront:CreateInvalidation", distribution + "2"))
                    .isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, OUTSIDER, "cloudfront:CreateInvalidation", distribution))
                    .isEqualTo(Outcome.DENY);
        }

        @Test
        void isUnknownAboutResourcesWhosePolicyNoSurveyHolds() {
            SurveyBuilder survey = aSurvey().user("anna", identityAllow("lambda:*", "*"));
            assertThat(outcome(
                            survey, USER, "lambda:InvokeFunction", "arn:aws:lambda:us-east-1:210987654321:function:f"))
                    .isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void resolvesTheUsersName() {
            SurveyBuilder survey = aSurvey()
                    .bucket("b")
                    .user("team/anna", identityAllow("s3:PutObject", "arn:aws:s3:::b/home/${aws:username}/*"));
            String anna = "arn:aws:iam::210987654321:user/team/anna";
            assertThat(outcome(survey, anna, "s3:PutObject", "arn:aws:s3:::b/home/anna/x"))
                    .isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, anna, "s3:PutObject", "arn:aws:s3:::b/home/otto/x"))
                    .isEqualTo(Outcome.DENY);
        }

        @Test
        void fillsInTagsThatTheSurveyShows() {
            SurveyBuilder survey = aSurvey()
                    .bucket("b")
                    .user(
                            "anna",
                            ",'Tags':[{'Key':'team','Value':'web'}]",
                            "{'Effect':'Allow','Action':'s3:GetObject','Resource':'*','Condition':{'StringEquals':{'aws:PrincipalTag/Team':'web'}}}");
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
        }
    }

    @Nested
    class OfBoundaries {
        private SurveyBuilder bounded(String bucketStatement) {
            return bucketWith(bucketStatement)
                    .managedPolicy("limit", identityAllow("s3:GetObject", "*"))
                    .user(
                            "anna",
                            ",'PermissionsBoundary':{'PermissionsBoundaryArn':'arn:aws:iam::210987654321:policy/limit'}",
                            identityAllow("s3:*", "*"))
                    .role(
                            "publisher",
                            "{'Effect':'Allow','Principal':{'AWS':'210987654321'},'Action':'sts:AssumeRole'}",
                            ",'PermissionsBoundary':{'PermissionsBoundaryArn':'arn:aws:iam::210987654321:policy/limit'}");
        }

        private String putBy(String principal) {
            return "{'Effect':'Allow','Principal':" + principal
                    + ",'Action':'s3:PutObject','Resource':'arn:aws:s3:::b/*'}";
        }

        @Test
        void limitIdentityPolicies() {
            SurveyBuilder survey = bounded(ALLOW_ALL_READ);
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        /** Of a provider's policy without a line only the copy is known, which speaks for some services. */
        @Test
        void areKnownForTheServicesOfTheirCopyOnly() {
            SurveyBuilder survey = aSurvey()
                    .bucket("b")
                    .user(
                            "anna",
                            ",'PermissionsBoundary':{'PermissionsBoundaryArn':'arn:aws:iam::aws:policy/ReadOnlyAccess'}",
                            identityAllow("*", "*"));
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, USER, "rds:DescribeDBInstances", "arn:aws:rds:us-east-1:210987654321:db:x"))
                    .isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void doNotLimitAGrantToTheUserByArn() {
            SurveyBuilder survey = bounded(putBy("{'AWS':'" + USER + "'}"));
            assertThat(outcome(survey, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.ALLOW);
        }

        @Test
        void limitAGrantToTheRoleByArnAndToTheAccount() {
            assertThat(outcome(bounded(putBy("{'AWS':'" + ROLE + "'}")), ROLE, "s3:PutObject", OBJECT))
                    .isEqualTo(Outcome.DENY);
            assertThat(outcome(bounded(putBy("{'AWS':'210987654321'}")), USER, "s3:PutObject", OBJECT))
                    .isEqualTo(Outcome.DENY);
        }

        @Test
        void doNotLimitAGrantToEveryoneUnderAConditionOnTheArn() {
            String statement =
                    "{'Effect':'Allow','Principal':'*','Action':'s3:PutObject','Resource':'arn:aws:s3:::b/*',"
                            + "'Condition':{'ArnEquals':{'aws:PrincipalArn':'" + USER + "'}}}";
            assertThat(outcome(bounded(statement), USER, "s3:PutObject", OBJECT))
                    .isEqualTo(Outcome.ALLOW);
        }

        @Test
        void leaveAPlainGrantToEveryoneOpen() {
            assertThat(outcome(bounded(putBy("'*'")), USER, "s3:PutObject", OBJECT))
                    .isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void denyByTheirOwnDenies() {
            SurveyBuilder survey = bucketWith(putBy("{'AWS':'" + USER + "'}"))
                    .managedPolicy(
                            "limit",
                            identityAllow("*", "*"),
                            "{'Effect':'Deny','Action':'s3:PutObject','Resource':'*'}")
                    .user(
                            "anna",
                            ",'PermissionsBoundary':{'PermissionsBoundaryArn':'arn:aws:iam::210987654321:policy/limit'}");
            assertThat(outcome(survey, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.DENY);
        }
    }

    @Nested
    class OfOtherAccounts {
        @ParameterizedTest
        @CsvSource({"109876543210", "arn:aws:iam::109876543210:root", "arn:aws:iam::109876543210:user/otto", "*"})
        void assumesThatTheirOwnSideAllows(String principal) {
            SurveyBuilder survey = bucketWith("{'Effect':'Allow','Principal':{'AWS':'" + principal
                    + "'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}");
            assertThat(outcome(survey, OUTSIDER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
        }

        @Test
        void areCutOffEvenWhereNamedWhenThePolicyIsPublicAndRestricted() {
            SurveyBuilder survey = aSurvey()
                    .bucket(
                            "b",
                            b -> b.guard(true)
                                    .policy(
                                            ALLOW_ALL_READ,
                                            "{'Effect':'Allow','Principal':{'AWS':'109876543210'},'Action':'s3:PutObject','Resource':'arn:aws:s3:::b/*'}"));
            assertThat(outcome(survey, OUTSIDER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void areLetThroughWhenNamedAndThePolicyIsNotPublic() {
            SurveyBuilder survey = aSurvey()
                    .bucket(
                            "b",
                            b -> b.guard(true)
                                    .policy(
                                            "{'Effect':'Allow','Principal':{'AWS':'109876543210'},'Action':'s3:PutObject','Resource':'arn:aws:s3:::b/*'}"));
            assertThat(outcome(survey, OUTSIDER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, "any-account", "s3:PutObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @ParameterizedTest
        @CsvSource(
                delimiter = '|',
                quoteCharacter = '`',
                value = {
                    "{'StringEquals':{'aws:PrincipalAccount':'109876543210'}} | DENY",
                    "{'StringNotEquals':{'aws:PrincipalAccount':'109876543210'}} | ALLOW",
                    "{'StringLike':{'aws:PrincipalAccount':'*'}} | ALLOW",
                    "{'StringLike':{'aws:PrincipalAccount':'11*'}} | UNKNOWN",
                    "{'StringEquals':{'aws:PrincipalType':'User'}} | UNKNOWN",
                    "{'ArnLike':{'aws:PrincipalArn':'arn:aws:iam::109876543210:*'}} | DENY",
                    "{'ArnLike':{'aws:PrincipalArn':'arn:aws:iam::*:role/*'}} | UNKNOWN",
                    "{'ArnLike':{'aws:PrincipalArn':'arn:*:iam::*:*'}} | ALLOW",
                    "{'Null':{'aws:PrincipalArn':'true'}} | DENY"
                })
        void leaveOpenOnlyWhatAnUnrelatedAccountMayBe(String condition, Outcome expected) {
            SurveyBuilder survey = bucketWith(
                    "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*','Condition':"
                            + condition + "}");
            assertThat(outcome(survey, "any-account", "s3:GetObject", OBJECT)).isEqualTo(expected);
        }
    }

    @Nested
    class OfServicesAndIdentities {
        private static final String EDGE = "service:cloudfront.amazonaws.com";
        private static final String EDGE_STATEMENT =
                "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*',"
                        + "'Condition':{'StringEquals':{'aws:SourceArn':'arn:aws:cloudfront::210987654321:distribution/E1'}}}";

        @Test
        void followTheBucketPolicyAndItsSource() {
            SurveyBuilder survey = aSurvey().bucket("b", b -> b.guard(true).policy(EDGE_STATEMENT));
            String source = "aws:SourceArn=arn:aws:cloudfront::210987654321:distribution/E";
            assertThat(decide(survey, EDGE, "s3:GetObject", OBJECT, source + "1")
                            .outcome())
                    .isEqualTo(Outcome.ALLOW);
            assertThat(decide(survey, EDGE, "s3:GetObject", OBJECT, source + "2")
                            .outcome())
                    .isEqualTo(Outcome.DENY);
            assertThat(decide(survey, EDGE, "s3:GetObject", OBJECT, "").outcome())
                    .isEqualTo(Outcome.DENY);
            assertThat(decide(survey, EDGE, "s3:GetObject", OBJECT, "aws:SourceArn")
                            .outcome())
                    .isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void passARestrictedPublicBucketAsServicesOnly() {
            SurveyBuilder survey = aSurvey().bucket("b", b -> b.guard(true).policy(EDGE_STATEMENT, ALLOW_ALL_READ));
            assertThat(outcome(survey, EDGE, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, "origin-identity:E9", "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void matchIdentitiesByArnAndByCanonicalId() {
            String byArn =
                    "{'Effect':'Allow','Principal':{'AWS':'arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity E9'},"
                            + "'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";
            String byId =
                    "{'Effect':'Allow','Principal':{'CanonicalUser':'c0ffee'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";
            assertThat(outcome(bucketWith(byArn), "origin-identity:E9", "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.ALLOW);
            assertThat(outcome(bucketWith(byArn), "origin-identity:E8", "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.DENY);
            assertThat(outcome(bucketWith(byId).identity("E9", "c0ffee"), "origin-identity:E9", "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.ALLOW);
            assertThat(outcome(bucketWith(byId), "origin-identity:E9", "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.UNKNOWN);
            assertThat(outcome(bucketWith(byId).identity("E7", "c0ffee"), "origin-identity:E9", "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.DENY);
            assertThat(outcome(bucketWith(byId), "any-account", "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.DENY);
        }
    }

    @Nested
    class OfAccessLists {
        private SurveyBuilder withAcl(String... grants) {
            return aSurvey().bucket("b", b -> b.aclsInForce().acl(acl(grants)));
        }

        @ParameterizedTest
        @CsvSource({
            "READ,s3:ListBucket,ALLOW",
            "READ,s3:GetObject,DENY",
            "WRITE,s3:PutObject,ALLOW",
            "WRITE,s3:DeleteObject,UNKNOWN",
            "WRITE_ACP,s3:PutBucketAcl,ALLOW",
            "FULL_CONTROL,s3:GetBucketAcl,ALLOW",
            "READ,s3:PutObject,DENY"
        })
        void grantByTheProvidersTable(String permission, String action, Outcome expected) {
            String on = action.contains("Object") ? OBJECT : BUCKET;
            assertThat(outcome(withAcl(grant(permission, "AllUsers")), "anyone", action, on))
                    .isEqualTo(expected);
        }

        @Test
        void tellSignedFromUnsigned() {
            SurveyBuilder survey = withAcl(grant("READ", "AuthenticatedUsers"));
            assertThat(outcome(survey, "anyone", "s3:ListBucket", BUCKET)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, "any-account", "s3:ListBucket", BUCKET)).isEqualTo(Outcome.ALLOW);
        }

        @Test
        void doNotCountWhereTheOwnerIsEnforcedOrPublicOnesAreIgnored() {
            SurveyBuilder enforced = aSurvey().bucket("b", b -> b.acl(acl(grant("READ", "AllUsers"))));
            SurveyBuilder ignored = aSurvey().bucket("b", b -> b.aclsInForce()
                    .acl(acl(grant("READ", "AllUsers")))
                    .guard(guard(false, true, false, false)));
            assertThat(outcome(enforced, "anyone", "s3:ListBucket", BUCKET)).isEqualTo(Outcome.DENY);
            assertThat(outcome(ignored, "anyone", "s3:ListBucket", BUCKET)).isEqualTo(Outcome.DENY);
        }

        @Test
        void areUnknownWhenUnreadUnlessNothingCouldComeOfThem() {
            SurveyBuilder unread = aSurvey().bucket("b", b -> b.aclsInForce().unread("bucket-acl"));
            SurveyBuilder ignored = aSurvey()
                    .bucket("b", b -> b.aclsInForce().unread("bucket-acl").guard(true));
            assertThat(outcome(unread, "anyone", "s3:ListBucket", BUCKET)).isEqualTo(Outcome.UNKNOWN);
            assertThat(outcome(ignored, "anyone", "s3:ListBucket", BUCKET)).isEqualTo(Outcome.DENY);
        }

        @Test
        void ofObjectsGrantReadingThem() {
            SurveyBuilder survey =
                    aSurvey().bucket("b", b -> b.aclsInForce().objectAcl("index.html", acl(grant("READ", "AllUsers"))));
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT + "x")).isEqualTo(Outcome.DENY);
        }

        @Test
        void ofAnotherOwnerAloneAdmitReaders() {
            String other = "9999aaaabbbbccccddddeeee";
            SurveyBuilder survey = aSurvey()
                    .bucket("b", b -> b.policy(ALLOW_ALL_READ)
                            .aclsInForce()
                            .objectAcl("index.html", SurveyBuilder.aclOf(other)))
                    .user("anna", identityAllow("s3:*", "*"));
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, USER, "s3:DeleteObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, "anyone", "s3:GetObject", "arn:aws:s3:::b/ours"))
                    .isEqualTo(Outcome.ALLOW);
        }
    }

    @Nested
    class OfKeys {
        private static final String KEY = "arn:aws:kms:us-east-1:210987654321:key/11112222-3333";

        private SurveyBuilder encrypted(String... keyStatements) {
            return aSurvey()
                    .bucket("b", b -> b.encryptedUnder(KEY))
                    .keyPolicy(KEY, keyStatements)
                    .user("anna", identityAllow("s3:*", "*"))
                    .role(
                            "publisher",
                            "{'Effect':'Allow','Principal':{'AWS':'210987654321'},'Action':'sts:AssumeRole'}",
                            "",
                            identityAllow("s3:*", "*"),
                            identityAllow("kms:*", KEY));
        }

        private static String allow(String principal, String action, String condition) {
            return "{'Effect':'Allow','Principal':" + principal + ",'Action':'" + action + "','Resource':'*'"
                    + condition + "}";
        }

        @Test
        void mustNameThePrincipalOrDelegateToItsPolicies() {
            SurveyBuilder delegating = encrypted(allow("{'AWS':'210987654321'}", "kms:*", ""));
            assertThat(outcome(delegating, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(delegating, ROLE, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            SurveyBuilder naming = encrypted(allow("{'AWS':'" + USER + "'}", "kms:Decrypt", ""));
            assertThat(outcome(naming, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(naming, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(naming, ROLE, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void seeTheServiceThatAsksForThem() {
            String viaStorage =
                    ",'Condition':{'StringEquals':{'kms:ViaService':'s3.us-east-1.amazonaws.com','kms:CallerAccount':'210987654321'}}";
            assertThat(outcome(encrypted(allow("{'AWS':'*'}", "kms:*", viaStorage)), USER, "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.ALLOW);
            assertThat(outcome(
                            encrypted(allow("{'AWS':'*'}", "kms:*", viaStorage.replace("us-east-1", "eu-west-1"))),
                            USER,
                            "s3:GetObject",
                            OBJECT))
                    .isEqualTo(Outcome.DENY);
        }

        @Test
        void areNotNeededForListingNorDeleting() {
            SurveyBuilder survey = encrypted(allow("{'AWS':'" + ROLE + "'}", "kms:*", ""));
            assertThat(outcome(survey, USER, "s3:ListBucket", BUCKET)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "s3:DeleteObject", OBJECT)).isEqualTo(Outcome.ALLOW);
        }

        @Test
        void areNotAskedWhenTheWriterChoosesPlainEncryption() {
            SurveyBuilder survey = encrypted(allow("{'AWS':'" + ROLE + "'}", "kms:*", ""));
            assertThat(decide(survey, USER, "s3:PutObject", OBJECT, "s3:x-amz-server-side-encryption=AES256")
                            .outcome())
                    .isEqualTo(Outcome.ALLOW);
        }

        @Test
        void areUnknownWhenUnread() {
            SurveyBuilder survey = encrypted().unread("key-policy", KEY);
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void areDeniedThoughUnreadWhereSomethingElseDeniesTheCallInAnyCase() {
            SurveyBuilder survey = encrypted().unread("key-policy", KEY);
            String deny = "{'Effect':'Deny','Action':'kms:Decrypt','Resource':'*'%s}";
            String viaStorage = ",'Condition':{'StringEquals':{'kms:ViaService':'s3.us-east-1.amazonaws.com'}}";
            for (String condition : new String[] {"", viaStorage}) {
                SurveyBuilder denied = survey.user("anna", identityAllow("s3:*", "*"), String.format(deny, condition));
                assertThat(outcome(denied, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
                assertThat(outcome(denied, USER, "s3:PutObject", OBJECT)).isEqualTo(Outcome.UNKNOWN);
            }
            SurveyBuilder elsewhere = survey.user(
                    "anna",
                    identityAllow("s3:*", "*"),
                    String.format(deny, viaStorage.replace("us-east-1", "eu-west-1")));
            assertThat(outcome(elsewhere, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.UNKNOWN);
            SurveyBuilder organization = encrypted()
                    .unread("key-policy", KEY)
                    .organizationPolicy("p", identityAllow("*", "*"), String.format(deny, ""));
            assertThat(outcome(organization, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void ofTheProviderServeOwnPrincipalsOnly() {
            SurveyBuilder survey = aSurvey()
                    .bucket(
                            "b",
                            b -> b.encryptedUnder("")
                                    .policy(
                                            "{'Effect':'Allow','Principal':{'AWS':'109876543210'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}"))
                    .user("anna", identityAllow("s3:GetObject", "*"));
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, OUTSIDER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void mayBeAskedAboutThemselves() {
            SurveyBuilder survey = encrypted(allow("{'AWS':'210987654321'}", "kms:*", ""));
            assertThat(outcome(survey, ROLE, "kms:Decrypt", KEY)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "kms:Decrypt", KEY)).isEqualTo(Outcome.DENY);
        }
    }

    @Nested
    class OfRoles {
        private static final String TRUSTS_USER =
                "{'Effect':'Allow','Principal':{'AWS':'" + USER + "'},'Action':'sts:AssumeRole'}";
        private static final String TRUSTS_ACCOUNT =
                "{'Effect':'Allow','Principal':{'AWS':'210987654321'},'Action':'sts:AssumeRole'}";

        @Test
        void areAssumedByThoseWhomTheTrustPolicyNames() {
            SurveyBuilder survey = aSurvey().role("publisher", TRUSTS_USER, "").user("anna");
            assertThat(outcome(survey, USER, "sts:AssumeRole", ROLE)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, OUTSIDER, "sts:AssumeRole", ROLE)).isEqualTo(Outcome.DENY);
        }

        @Test
        void needAnIdentityPolicyWhereTheTrustIsInTheAccount() {
            SurveyBuilder without =
                    aSurvey().role("publisher", TRUSTS_ACCOUNT, "").user("anna");
            SurveyBuilder with =
                    aSurvey().role("publisher", TRUSTS_ACCOUNT, "").user("anna", identityAllow("sts:AssumeRole", ROLE));
            assertThat(outcome(without, USER, "sts:AssumeRole", ROLE)).isEqualTo(Outcome.DENY);
            assertThat(outcome(with, USER, "sts:AssumeRole", ROLE)).isEqualTo(Outcome.ALLOW);
        }

        @Test
        void areKnownByTheirSessions() {
            SurveyBuilder survey = aSurvey()
                    .bucket("b")
                    .role("publisher", TRUSTS_ACCOUNT, "", identityAllow("s3:PutObject", "arn:aws:s3:::b/*"));
            assertThat(outcome(
                            survey, "arn:aws:sts::210987654321:assumed-role/publisher/night", "s3:PutObject", OBJECT))
                    .isEqualTo(Outcome.ALLOW);
        }
    }

    @Nested
    class OfNotPrincipal {
        @Test
        void sparesExactlyThoseNamedInADeny() {
            SurveyBuilder survey = bucketWith(
                            ALLOW_ALL_READ,
                            "{'Effect':'Deny','NotPrincipal':{'AWS':['" + USER
                                    + "']},'Action':'s3:*','Resource':'arn:aws:s3:::b/*'}")
                    .user("anna")
                    .user("otto");
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, "arn:aws:iam::210987654321:user/otto", "s3:GetObject", OBJECT))
                    .isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void sparesOnlyTheRootWhereTheAccountIsNamed() {
            SurveyBuilder survey = bucketWith(
                            ALLOW_ALL_READ,
                            "{'Effect':'Deny','NotPrincipal':{'AWS':'210987654321'},'Action':'s3:*','Resource':'arn:aws:s3:::b/*'}")
                    .user("anna");
            assertThat(outcome(survey, ROOT, "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void allowsEverybodyElseInAnAllow() {
            SurveyBuilder survey = bucketWith("{'Effect':'Allow','NotPrincipal':{'AWS':'" + OUTSIDER
                    + "'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}");
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
            assertThat(outcome(survey, OUTSIDER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
        }

        @Test
        void takesAnAccountInADenyForAllItsPrincipals() {
            SurveyBuilder survey = bucketWith(
                            ALLOW_ALL_READ,
                            "{'Effect':'Deny','Principal':{'AWS':'" + ROOT
                                    + "'},'Action':'s3:*','Resource':'arn:aws:s3:::b/*'}")
                    .user("anna");
            assertThat(outcome(survey, USER, "s3:GetObject", OBJECT)).isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.ALLOW);
        }
    }

    @Nested
    class OfWhatIsNotThere {
        @Test
        void isUnknownAboutBucketsOfNoSurvey() {
            Decision decision = decide(aSurvey(), "anyone", "s3:GetObject", "arn:aws:s3:::elsewhere/x", "");
            assertThat(decision.outcome()).isEqualTo(Outcome.UNKNOWN);
            assertThat(decision.needs()).anyMatch(need -> need.why().contains("not in the surveyed account"));
        }

        @Test
        void deniesOwnPrincipalsWithoutAPolicyForOtherAccountsBuckets() {
            SurveyBuilder survey = aSurvey().user("anna");
            assertThat(outcome(survey, USER, "s3:GetObject", "arn:aws:s3:::elsewhere/x"))
                    .isEqualTo(Outcome.DENY);
            assertThat(outcome(survey.withoutBucketList(), USER, "s3:GetObject", "arn:aws:s3:::elsewhere/x"))
                    .isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void keepsTheGoodStatementsOfADocumentThatIsPartlyBroken() {
            SurveyBuilder survey = bucketWith(
                    ALLOW_ALL_READ,
                    "{'Effect':'Deny','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/private/*'}",
                    "{'Effect':'allow','Principal':'*','Action':'s3:*','Resource':'*'}");
            assertThat(outcome(survey, "anyone", "s3:GetObject", OBJECT)).isEqualTo(Outcome.UNKNOWN);
            assertThat(outcome(survey, "anyone", "s3:GetObject", "arn:aws:s3:::b/private/x"))
                    .isEqualTo(Outcome.DENY);
            assertThat(outcome(survey, "anyone", "s3:PutObject", OBJECT)).isEqualTo(Outcome.UNKNOWN);
        }

        @Test
        void explainsEachStep() {
            Request request = new Request(new Actor.Anyone(), "s3:GetObject", OBJECT, Context.empty());
            Decision decision = new Evaluator(bucketWith(ALLOW_ALL_READ).account()).answer(request, true);
            assertThat(decision.steps()).contains("The bucket policy: statement 1 allows it to everyone.");
        }
    }
}
