package warden.core.aws.permission;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import warden.core.access.Ability;
import warden.core.access.Decision;
import warden.core.access.Decision.Outcome;
import warden.core.access.Extent;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.aws.reach.Grantee;
import warden.core.aws.reach.Possibility;
import warden.core.aws.reach.Reach;
import warden.core.aws.site.AwsCloud;
import warden.core.fixture.GeneratedSurveys;
import warden.core.fixture.Seeded;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;

/**
 * The rules of access are weighed for one request, for sets of requests and for sets of resources, and each lies within the next: what is
 * allowed, or may be, is in the set that is said to be; and that in what the caller is said to be able to do anywhere.
 */
class WeighingsAgreeTest {
    private static final int ACCOUNTS = Seeded.cases(400);
    private static final int REQUESTS = 15;
    private static final List<String> ACTIONS = List.of(
            "s3:GetObject",
            "s3:PutObject",
            "s3:ListBucket",
            "s3:PutBucketPolicy",
            "iam:CreateAccessKey",
            "kms:Decrypt");
    private static final List<String> OBJECTS =
            List.of("arn:aws:s3:::quay/index.html", "arn:aws:s3:::quay/public/a", "arn:aws:s3:::shed/private/b");
    private static final List<String> BUCKETS = List.of("arn:aws:s3:::quay", "arn:aws:s3:::shed");

    private static String resource(String action, Random random) {
        if (action.startsWith("kms:")) {
            return GeneratedSurveys.KEY;
        }
        if (action.startsWith("iam:")) {
            return GeneratedSurveys.USER;
        }
        List<String> from = action.endsWith("Object") ? OBJECTS : BUCKETS;
        return from.get(random.nextInt(from.size()));
    }

    private static Map<String, ContextValue> carried(Random random) {
        Map<String, ContextValue> carried = new HashMap<>();
        carried.put("aws:securetransport", Known.of(random.nextInt(4) == 0 ? "false" : "true"));
        carried.put("aws:sourceip", Known.of(random.nextBoolean() ? "203.0.113.9" : "198.51.100.7"));
        carried.put("aws:requestedregion", Known.of(random.nextBoolean() ? "eu-west-1" : "us-east-1"));
        return carried;
    }

    @Test
    void whatIsAllowedLiesInWhatIsSaidToBe() {
        LongStream.range(0, ACCOUNTS).parallel().forEach(WeighingsAgreeTest::agree);
    }

    private static void agree(long seed) {
        SurveyBuilder survey = GeneratedSurveys.of(seed);
        AwsCloud cloud = survey.cloud(SiteFile.empty());
        Account account = cloud.accounts().get(0);
        Reach reach = cloud.reach(account);
        Evaluator evaluator = reach.evaluator();
        Random random = new Random(seed);
        for (Principal principal : account.directory().principals()) {
            EffectivePermissions permissions = new EffectivePermissions(reach, principal);
            Actor actor = principal.isRole() ? new Actor.Role(principal.arn()) : new Actor.User(principal.arn());
            for (int i = 0; i < REQUESTS; i++) {
                String action = ACTIONS.get(random.nextInt(ACTIONS.size()));
                String resource = resource(action, random);
                Map<String, ContextValue> carried = carried(random);
                Decision decision = evaluator.decide(new Request(actor, action, resource, Context.given(carried)));
                Possibility can = reach.can(actor, action, resource, carried);
                String about = "seed " + seed + ": " + actor.spelled() + " " + action + " " + resource + " " + carried
                        + " is " + decision.outcome() + "\n" + survey.text();
                if (decision.outcome() != Outcome.DENY) {
                    assertThat(can).as(about).isNotInstanceOf(Possibility.Never.class);
                }
                if (decision.outcome() == Outcome.ALLOW) {
                    assertThat(can).as(about).isInstanceOf(Possibility.Allowed.class);
                }
                if (!(can instanceof Possibility.Never)) {
                    assertThat(permissions.anywhere(action).possible().contains(resource))
                            .as("anywhere, " + about)
                            .isTrue();
                }
                if (permissions.isAdmin() == Truth.TRUE && !action.startsWith("kms:")) {
                    assertThat(permissions.granted("iam:CreateUser").certain().isEverything())
                            .as("administrator, " + about)
                            .isTrue();
                }
            }
        }
        strangers(seed, survey, account, reach, random);
    }

    private static void strangers(long seed, SurveyBuilder survey, Account account, Reach reach, Random random) {
        List<Actor> strangers = List.of(new Actor.Anyone(), new Actor.CanonicalUser(GeneratedSurveys.STRANGER));
        for (int i = 0; i < REQUESTS; i++) {
            Actor actor = strangers.get(random.nextInt(strangers.size()));
            boolean reads = random.nextBoolean();
            String object = OBJECTS.get(random.nextInt(OBJECTS.size()));
            Request request =
                    new Request(actor, reads ? "s3:GetObject" : "s3:PutObject", object, Context.given(carried(random)));
            Decision decision = reach.evaluator().decide(request);
            String bucket = object.substring("arn:aws:s3:::".length(), object.indexOf('/'));
            Extent extent =
                    reach.extent(account.bucket(bucket), new Grantee(actor), reads ? Ability.READ : Ability.WRITE);
            if (decision.outcome() != Outcome.DENY) {
                assertThat(extent.kind())
                        .as("seed " + seed + ": " + request + " is " + decision.outcome() + "\n" + survey.text())
                        .isNotEqualTo(Extent.Kind.NONE);
            }
        }
    }
}
