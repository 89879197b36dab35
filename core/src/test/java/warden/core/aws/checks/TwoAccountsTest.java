package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.HealthySites.BUCKET;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.sealed;
import static warden.core.fixture.SurveyBuilder.ACCOUNT;
import static warden.core.fixture.SurveyBuilder.OTHER_ACCOUNT;

import java.util.List;
import org.junit.jupiter.api.Test;
import warden.core.access.Decision;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.PublisherFinder;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.aws.trace.Tracer;
import warden.core.fixture.Audited;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;
import warden.core.trace.Trace;
import warden.core.trace.WebAddress;

/** The edge, the names and the pipeline's role in one account, the bucket in another: what is decided is decided over both. */
class TwoAccountsTest {
    private static final String ROLE = "arn:aws:iam::" + ACCOUNT + ":role/quay";
    private static final String PIPELINE =
            "{'Effect':'Allow','Principal':{'Service':'codebuild.amazonaws.com'},'Action':'sts:AssumeRole'}";
    private static final String PUT = "{'Effect':'Allow','Action':'s3:PutObject','Resource':'" + BUCKET_ARN + "/*'}";
    private static final String EDGE_READS =
            "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'s3:GetObject','Resource':'"
                    + BUCKET_ARN + "/*','Condition':{'StringEquals':{'aws:SourceArn':'" + EDGE + "'}}}";
    private static final String ROLE_WRITES = "{'Effect':'Allow','Principal':{'AWS':'" + ROLE
            + "'},'Action':'s3:PutObject','Resource':'" + BUCKET_ARN + "/*'}";

    /** Returns the healthy site with its bucket, under these statements, in the other account. */
    private static AwsCloud cloud(String own, String... statements) {
        SurveyBuilder whole = sealed().role("quay", PIPELINE, "", own)
                .bucket(BUCKET, bucket -> bucket.policy(statements).guard(true));
        return cloud(whole);
    }

    private static AwsCloud cloud(SurveyBuilder whole) {
        Account names = whole.account(line -> !isStorage(line), ACCOUNT);
        Account storage = whole.account(TwoAccountsTest::isStorage, OTHER_ACCOUNT);
        return new AwsCloud(List.of(names, storage), SiteFile.empty());
    }

    private static boolean isStorage(String line) {
        return line.startsWith("{\"aspect\":\"bucket") || line.startsWith("{\"aspect\":\"object");
    }

    private static Trace front(AwsCloud cloud) {
        WebAddress address =
                WebAddress.parse("https://www.heronferry.example/").address().orElseThrow();
        return new Tracer(cloud).trace(address, Audited.NOW);
    }

    private static List<String> worst(AwsCloud cloud) {
        return Audited.audit(cloud).findings().stream()
                .filter(finding -> finding.severity().compareTo(warden.core.audit.Severity.HIGH) <= 0)
                .map(Finding::card)
                .map(card -> card.id())
                .distinct()
                .toList();
    }

    @Test
    void theEdgeReadsWhereTheOtherAccountLetsIt() {
        AwsCloud healthy = cloud(PUT, EDGE_READS, ROLE_WRITES);
        assertThat(front(healthy).outcomes()).singleElement().matches(outcome -> outcome.is(200));
        assertThat(worst(healthy)).doesNotContain("page-not-served", "origin-identity-not-allowed", "origin-missing");
        AwsCloud other = cloud(PUT, EDGE_READS.replace(EDGE, EDGE.replace("E1", "E9")), ROLE_WRITES);
        assertThat(front(other).outcomes()).singleElement().matches(outcome -> outcome.is(403));
        assertThat(front(other).remedy()).startsWith("Grant the service cloudfront.amazonaws.com for " + EDGE);
        assertThat(worst(other)).containsAnyOf("page-not-served", "origin-identity-not-allowed");
    }

    @Test
    void whatWasNotReadInTheOtherAccountIsOpen() {
        AwsCloud unread = cloud(sealed().role("quay", PIPELINE, "", PUT).unread("bucket-policy", BUCKET_ARN));
        assertThat(front(unread).isCertain()).isFalse();
        Audit audit = Audited.audit(unread);
        assertThat(audit.unknowns())
                .anyMatch(unknown -> unknown.card().id().equals("page-not-served")
                        || unknown.card().id().equals("origin-identity-not-allowed"));
        assertThat(new PublisherFinder(unread).findAll().possible())
                .anyMatch(possible -> possible.publisher().arn().equals(ROLE));
    }

    @Test
    void aRolePublishesIntoTheOtherAccountWhereBothSidesLetIt() {
        AwsCloud both = cloud(PUT, EDGE_READS, ROLE_WRITES);
        List<PublishingPrincipal> publishers = new PublisherFinder(both).find();
        assertThat(publishers).extracting(PublishingPrincipal::arn).containsExactly(ROLE);
        assertThat(publishers.get(0).sites()).extracting(BucketSite::name).containsExactly("heronferry.example");
        assertThat(new PublisherFinder(cloud(PUT, EDGE_READS)).find()).isEmpty();
        String reads = PUT.replace("PutObject", "GetObject");
        assertThat(new PublisherFinder(cloud(reads, EDGE_READS, ROLE_WRITES)).find())
                .isEmpty();
        assertThat(decided(both)).isEqualTo(Decision.Outcome.ALLOW);
        assertThat(decided(cloud(reads, EDGE_READS, ROLE_WRITES))).isEqualTo(Decision.Outcome.DENY);
        assertThat(decided(cloud(PUT, EDGE_READS))).isEqualTo(Decision.Outcome.DENY);
    }

    private static Decision.Outcome decided(AwsCloud cloud) {
        Request put = new Request(
                Actor.parse(ROLE).orElseThrow(), "s3:PutObject", BUCKET_ARN + "/index.html", Context.empty());
        return cloud.reach(cloud.accounts().get(0)).evaluator().decide(put).outcome();
    }
}
