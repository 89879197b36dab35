package warden.core.aws.reach;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;

import java.util.List;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.Bucket;
import warden.core.fixture.Seeded;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;

class CandidatesTest {
    private static final List<String> BUCKETS = List.of("one", "two", "three");

    private static String identityStatement(Random random) {
        String effect = Seeded.of(random, "Allow", "Allow", "Deny");
        String action = Seeded.of(
                random, "'s3:PutObject'", "'s3:*'", "'*'", "'s3:Get*'", "['s3:DeleteObject','s3:ListBucket']");
        String resource = Seeded.of(
                random,
                "'Resource':'arn:aws:s3:::one/*'",
                "'Resource':['arn:aws:s3:::two','arn:aws:s3:::two/a*']",
                "'Resource':'arn:aws:s3:::t*'",
                "'Resource':'*'",
                "'Resource':'arn:*:s3:::three/*'",
                "'NotResource':'arn:aws:s3:::one/*'",
                "'Resource':'arn:aws:cloudfront::210987654321:distribution/E1'",
                "'Resource':'arn:aws:s3:::${aws:username}/*'");
        return "{'Effect':'" + effect + "','Action':" + action + "," + resource + "}";
    }

    private static String bucketStatement(Random random) {
        return Seeded.of(
                random,
                "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::one/*'}",
                "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::one/*'}",
                "{'Effect':'Allow','Principal':{'AWS':'arn:aws:iam::210987654321:user/one'},'Action':'s3:*','Resource':'arn:aws:s3:::one/*'}",
                "{'Effect':'Allow','Principal':'*','Action':'s3:PutObject','Resource':'arn:aws:s3:::one/*'}",
                "{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':'arn:aws:s3:::one/*'}");
    }

    /** A user's statements and one of a bucket. */
    private record Setup(List<String> own, String open) {
        static Setup of(Random random) {
            return new Setup(Seeded.list(random, 2, 2, () -> identityStatement(random)), bucketStatement(random));
        }

        Stream<Setup> smaller() {
            return Seeded.shorter(own, 1).map(fewer -> new Setup(fewer, open));
        }
    }

    /** What is left out surely is not allowed. */
    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3})
    void nothingIsAllowedInABucketThatIsNoCandidate(long seed) {
        Seeded.holds(
                seed,
                50,
                Setup::of,
                Setup::smaller,
                made -> isNotAllowed(made.own().toArray(String[]::new), made.open()));
    }

    private static void isNotAllowed(String[] own, String open) {
        SurveyBuilder survey = aSurvey()
                .bucket("one", bucket -> bucket.policy(open))
                .bucket("two")
                .bucket("three")
                .user("one", own);
        Reach reach = reach(survey);
        Principal user = reach.evaluator().account().directory().principals().get(0);
        List<String> candidates =
                reach.candidates(user).stream().map(Bucket::name).toList();
        for (String name : BUCKETS) {
            for (Ability ability : List.of(Ability.WRITE, Ability.DELETE)) {
                Extent extent = reach.extent(
                        reach.evaluator().account().bucket(name), new Grantee(new Actor.User(user.arn())), ability);
                assertThat(candidates.contains(name) || extent.kind() == Extent.Kind.NONE)
                        .as(name + " " + ability + " " + extent + " with " + String.join("", own) + open)
                        .isTrue();
            }
        }
    }

    private static Reach reach(SurveyBuilder survey) {
        Account account = new AwsCloud(survey.cloud(SiteFile.empty()).accounts(), SiteFile.empty())
                .accounts()
                .get(0);
        return new Reach(new Evaluator(account));
    }

    private static List<String> candidates(SurveyBuilder survey) {
        Reach reach = reach(survey);
        return reach
                .candidates(reach.evaluator().account().directory().principals().get(0))
                .stream()
                .map(Bucket::name)
                .toList();
    }

    private static SurveyBuilder with(String... statements) {
        return aSurvey().bucket("one").bucket("two").bucket("three").user("anna", statements);
    }

    @Test
    void leavesOutWhatNoPolicyNames() {
        assertThat(candidates(with("{'Effect':'Allow','Action':'s3:PutObject','Resource':'arn:aws:s3:::two/*'}")))
                .containsExactly("two");
        assertThat(candidates(with("{'Effect':'Allow','Action':'s3:GetObject','Resource':'*'}")))
                .isEmpty();
        assertThat(candidates(with("{'Effect':'Allow','Action':'s3:*','Resource':'*'}")))
                .containsExactly("one", "two", "three");
        assertThat(candidates(with().bucket("two", bucket -> bucket.unread("bucket-policy"))))
                .containsExactly("two");
        assertThat(candidates(with().bucket("three", bucket -> bucket.aclsInForce())))
                .containsExactly("three");
    }

    @Test
    void takesAllWhereAPolicyWasNotRead() {
        SurveyBuilder lost = aSurvey()
                .bucket("one")
                .user(
                        "anna",
                        ",'AttachedManagedPolicies':[{'PolicyName':'lost','PolicyArn':'arn:aws:iam::210987654321:policy/lost'}]");
        assertThat(candidates(lost)).containsExactly("one");
    }
}
