package warden.core.aws.trim;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.HealthySites.BUCKET;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.sealed;
import static warden.core.fixture.PipelineBuilder.aPipeline;
import static warden.core.fixture.PipelineBuilder.term;
import static warden.core.fixture.PipelineBuilder.upload;

import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.aws.permission.EffectivePermissions;
import warden.core.aws.publishing.Deployments;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.PublisherFinder;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.fixture.Seeded;
import warden.core.fixture.SurveyBuilder;
import warden.core.pipeline.Needed;
import warden.core.pipeline.Needed.Evidence;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.Target;
import warden.core.site.SiteFile;
import warden.core.trim.Trimming;

class TrimmedTest {
    private static final String ROLE = "arn:aws:iam::210987654321:role/heron-www-publisher";
    private static final String TRUST =
            "{'Effect':'Allow','Principal':{'Federated':'arn:aws:iam::210987654321:oidc-provider/token.actions.githubusercontent.com'},"
                    + "'Action':'sts:AssumeRoleWithWebIdentity','Condition':{'StringLike':{'token.actions.githubusercontent.com:sub':'repo:heron-sound-ferries/www:*'}}}";
    private static final String EVERYTHING = "{'Effect':'Allow','Action':'s3:*','Resource':'*'}";

    private static SurveyBuilder role(String... statements) {
        return sealed().role("heron-www-publisher", TRUST, "", statements);
    }

    private static Trimmed trim(SurveyBuilder survey, List<Needed> activity, Pipeline... pipelines) {
        AwsCloud cloud = survey.cloud(SiteFile.empty());
        List<PublishingPrincipal> publishers = new PublisherFinder(cloud).find();
        PublishingPrincipal publisher = publishers.get(0);
        Deployments deployments = new Deployments(cloud, publishers, List.of(pipelines));
        EffectivePermissions permissions =
                new EffectivePermissions(cloud.reach(publisher.account()), publisher.principal());
        return Trimmed.of(publisher, deployments, permissions, activity);
    }

    private static List<String> spelled(List<Needed> needed) {
        return needed.stream().map(each -> each.action() + " on " + each.on()).toList();
    }

    /** The provider lets no quote into a role's name; a survey is a file, and may hold one. */
    @Test
    void provesItsProposalForAnyName() {
        SurveyBuilder survey = sealed().role("heron\\\"-publisher", TRUST, "", EVERYTHING);
        Pipeline pipeline = aPipeline()
                .asRole(ROLE.replace("heron-www", "heron\""))
                .step(upload("dist", BUCKET, "site", true, true, Optional.empty()))
                .build();
        Trimmed trimmed = trim(survey, List.of(), pipeline);
        assertThat(trimmed.needed()).isNotEmpty();
        assertThat(trimmed.proof().coversNeeded()).isTrue();
        assertThat(trimmed.proof().withinNeeded()).isTrue();
        assertThat(trimmed.proof().stillRefused()).isEmpty();
        assertThat(trimmed.proof().stillOpen()).isFalse();
    }

    @Test
    void writesASmallPolicyForWhatThePipelineDoes() {
        Pipeline pipeline = aPipeline()
                .asRole(ROLE)
                .step(upload("dist", BUCKET, "site", true, true, Optional.empty()))
                .invalidate("E1")
                .build();
        Trimmed trimmed = trim(role(EVERYTHING), List.of(), pipeline);
        assertThat(spelled(trimmed.needed()))
                .containsExactly(
                        "s3:ListBucket on " + BUCKET_ARN,
                        "s3:PutObject on " + BUCKET_ARN + "/site/*",
                        "s3:DeleteObject on " + BUCKET_ARN + "/site/*",
                        "cloudfront:CreateInvalidation on " + EDGE);
        assertThat(trimmed.needed()).extracting(Needed::evidence).containsOnly(Evidence.PIPELINE);
        assertThat(spelled(trimmed.missing())).containsExactly("cloudfront:CreateInvalidation on " + EDGE);
        assertThat(trimmed.policy().spelled()).isEqualTo("""
                        {
                          "Version": "2012-10-17",
                          "Statement": [
                            {
                              "Sid": "ListTheBucket",
                              "Effect": "Allow",
                              "Action": "s3:ListBucket",
                              "Resource": "arn:aws:s3:::heron-www"
                            },
                            {
                              "Sid": "PublishObjects",
                              "Effect": "Allow",
                              "Action": ["s3:DeleteObject", "s3:PutObject"],
                              "Resource": "arn:aws:s3:::heron-www/site/*"
                            },
                            {
                              "Sid": "InvalidateTheEdge",
                              "Effect": "Allow",
                              "Action": "cloudfront:CreateInvalidation",
                              "Resource": "arn:aws:cloudfront::210987654321:distribution/E1"
                            }
                          ]
                        }
                        """);
        assertThat(trimmed.proof()).isEqualTo(new Proof(true, true, List.of(), false));
        assertThat(trimmed.worst()).extracting(Trimming.Worst::action).contains("s3:PutBucketPolicy");
        assertThat(trimmed.excess().all().size()).isGreaterThan(50);
        assertThat(trimmed.policy().actionCount()).isEqualTo(4);
        assertThat(trimmed.policy().serviceCount()).isEqualTo(2);
    }

    @Test
    void takesThePatternWhereNoPipelineTells() {
        Trimmed trimmed = trim(role(EVERYTHING), List.of());
        assertThat(trimmed.needed()).extracting(Needed::evidence).containsOnly(Evidence.PATTERN);
        assertThat(spelled(trimmed.needed())).contains("s3:PutObject on " + BUCKET_ARN + "/*");
    }

    @Test
    void takesTheLogWhereNoPipelineTells() {
        Needed used = new Needed("s3:PutObject", BUCKET_ARN + "/*", "used 3 times", Evidence.ACTIVITY);
        Trimmed trimmed = trim(role(EVERYTHING), List.of(used));
        assertThat(trimmed.needed()).containsExactly(used);
        Pipeline pipeline = aPipeline().asRole(ROLE).sync("dist", BUCKET, false).build();
        Needed more = new Needed("s3:GetObject", BUCKET_ARN + "/*", "used once", Evidence.ACTIVITY);
        assertThat(spelled(trim(role(EVERYTHING), List.of(used, more), pipeline).needed()))
                .containsExactly(
                        "s3:ListBucket on " + BUCKET_ARN,
                        "s3:PutObject on " + BUCKET_ARN + "/*",
                        "s3:GetObject on " + BUCKET_ARN + "/*");
    }

    @Test
    void asksForTheKeyOnlyWhereTheBucketIsEncryptedUnderOne() {
        String key = "arn:aws:kms:eu-west-1:210987654321:key/11111111-2222-3333-4444-555555555555";
        Trimmed trimmed = trim(role(EVERYTHING).bucket(BUCKET, bucket -> bucket.encryptedUnder(key)), List.of());
        assertThat(spelled(trimmed.needed())).contains("kms:GenerateDataKey on " + key, "kms:Decrypt on " + key);
        assertThat(spelled(trim(role(EVERYTHING), List.of()).needed())).noneMatch(each -> each.startsWith("kms:"));
    }

    @Test
    void saysWhatIsStillRefusedWithTheProposal() {
        String deny = "{'Effect':'Deny','Principal':'*','Action':'s3:DeleteObject','Resource':'" + BUCKET_ARN + "/*'}";
        Trimmed trimmed = trim(role(EVERYTHING).bucket(BUCKET, bucket -> bucket.policy(deny)), List.of());
        assertThat(spelled(trimmed.proof().stillRefused())).containsExactly("s3:DeleteObject on " + BUCKET_ARN + "/*");
        assertThat(trimmed.proof().coversNeeded()).isTrue();
    }

    @Test
    void keepsTheBoundaryOnTheCopy() {
        SurveyBuilder bounded = sealed().role(
                        "heron-www-publisher",
                        TRUST,
                        ",'PermissionsBoundary':{'PermissionsBoundaryType':'Policy','PermissionsBoundaryArn':'arn:aws:iam::210987654321:policy/limit'}",
                        EVERYTHING)
                .managedPolicy("limit", "{'Effect':'Allow','Action':'s3:PutObject','Resource':'*'}");
        assertThat(spelled(trim(bounded, List.of()).proof().stillRefused()))
                .contains("s3:ListBucket on " + BUCKET_ARN, "s3:DeleteObject on " + BUCKET_ARN + "/*");
    }

    @Test
    void isALowerBoundWhereAStepIsNotUnderstood() {
        Pipeline pipeline = aPipeline()
                .asRole(ROLE)
                .sync("dist", BUCKET, false)
                .step(new Operation.NotUnderstood("what deploy.py does is not in this file"))
                .step(new Operation.Remove(new Target(term("$WHERE"), term("")), true))
                .build();
        Trimmed trimmed = trim(role(EVERYTHING).bucket("second"), List.of(), pipeline);
        assertThat(trimmed.open()).hasSize(2);
        assertThat(trimmed.open().get(0).why()).contains("deploy.py");
        assertThat(trimmed.open().get(1).why()).contains("which bucket is meant", "WHERE", "--set");
    }

    @Test
    void pinsTheTrustToRepositoryBranchAndAudience() {
        ProposedTrust trust = trim(role(EVERYTHING), List.of()).trust().orElseThrow();
        assertThat(trust.isComplete()).isTrue();
        assertThat(trust.spelled())
                .contains(
                        "\"token.actions.githubusercontent.com:sub\": \"repo:heron-sound-ferries/www:ref:refs/heads/main\"")
                .contains("\"token.actions.githubusercontent.com:aud\": \"sts.amazonaws.com\"")
                .contains("StringEquals");
    }

    private static Needed needed(Random random) {
        String action = Seeded.of(
                random,
                "s3:ListBucket",
                "s3:PutObject",
                "s3:DeleteObject",
                "s3:GetObject",
                "cloudfront:CreateInvalidation",
                "kms:Decrypt");
        String resource = Seeded.of(
                random,
                BUCKET_ARN,
                BUCKET_ARN + "/*",
                BUCKET_ARN + "/a/*",
                BUCKET_ARN + "/a/b.html",
                BUCKET_ARN + "/*.css",
                EDGE,
                "*");
        return new Needed(action, resource, "a test", Evidence.PIPELINE);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2})
    void thePolicyIsExactlyWhatIsNeeded(long seed) {
        Seeded.holds(
                seed,
                100,
                random -> Seeded.list(random, 1, 8, () -> needed(random)),
                made -> Seeded.shorter(made, 1),
                TrimmedTest::isExact);
    }

    private static void isExact(List<Needed> needed) {
        MinimalPolicy policy = MinimalPolicy.of(needed);
        assertThat(policy.document().problems()).isEmpty();
        for (String action : needed.stream().map(Needed::action).toList()) {
            assertThat(MinimalPolicy.allowed(policy.document(), action).isSameAs(MinimalPolicy.wanted(needed, action)))
                    .as(action + " in " + policy.spelled())
                    .isTrue();
        }
        Stream<String> sids = policy.statements().stream().map(MinimalPolicy.Allow::sid);
        assertThat(sids).doesNotHaveDuplicates();
    }
}
