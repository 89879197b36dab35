package warden.core.aws.publishing;

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
import org.junit.jupiter.api.Test;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.PublisherFinder;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.fixture.SurveyBuilder;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.core.site.SiteFile;

class NeededPermissionsTest {
    private static final String ROLE = "arn:aws:iam::210987654321:role/heron-www-publisher";

    private static SurveyBuilder survey() {
        return sealed().role(
                        "heron-www-publisher",
                        "{'Effect':'Allow','Principal':{'Service':'codebuild.amazonaws.com'},'Action':'sts:AssumeRole'}",
                        "",
                        "{'Effect':'Allow','Action':'s3:PutObject','Resource':'" + BUCKET_ARN + "/*'}");
    }

    private static NeededPermissions of(SurveyBuilder survey, Operation... steps) {
        var pipeline = aPipeline().asRole(ROLE);
        for (Operation step : steps) {
            pipeline.step(step);
        }
        AwsCloud cloud = survey.cloud(SiteFile.empty());
        List<PublishingPrincipal> publishers = new PublisherFinder(cloud).find();
        return NeededPermissions.of(publishers.get(0), new Deployments(cloud, publishers, List.of(pipeline.build())));
    }

    private static List<String> needs(Operation... steps) {
        return of(survey(), steps).needed().stream()
                .map(each -> each.action() + " " + each.on().replace(BUCKET_ARN, "B"))
                .toList();
    }

    private static Operation remove(String prefix, boolean many) {
        return new Operation.Remove(new Target(term(BUCKET), term(prefix)), many);
    }

    private static final Operation PUBLISHES = upload("dist", BUCKET, "", true, false, Optional.empty());

    @Test
    void uploads() {
        assertThat(needs(PUBLISHES)).containsExactly("s3:ListBucket B", "s3:PutObject B/*");
        assertThat(needs(upload("dist", BUCKET, "site/", true, true, Optional.of("bucket-owner-full-control"))))
                .containsExactly(
                        "s3:ListBucket B",
                        "s3:PutObject B/site/*",
                        "s3:DeleteObject B/site/*",
                        "s3:PutObjectAcl B/site/*");
        // The bucket takes no such ACL, so that the step fails with any permission.
        assertThat(needs(upload("dist", BUCKET, "site/", true, true, Optional.of("public-read"))))
                .doesNotContain("s3:PutObjectAcl B/site/*");
        assertThat(needs(upload("a.html", BUCKET, "b.html", false, false, Optional.empty())))
                .containsExactly("s3:PutObject B/b.html");
        assertThat(needs(upload("a.html", BUCKET, "folder/", false, false, Optional.empty())))
                .containsExactly("s3:PutObject B/folder/*");
        assertThat(needs(upload("dist", BUCKET, "$VERSION", true, false, Optional.empty())))
                .contains("s3:PutObject B/*");
    }

    @Test
    void removalsAndCopies() {
        assertThat(needs(PUBLISHES, remove("old", true))).contains("s3:DeleteObject B/old/*");
        assertThat(needs(PUBLISHES, remove("old.html", false))).contains("s3:DeleteObject B/old.html");
        Target from = new Target(term(BUCKET), term("a"));
        Target to = new Target(term(BUCKET), term("b"));
        assertThat(needs(PUBLISHES, new Operation.Fetch(from, Optional.of(to), false, true)))
                .contains("s3:GetObject B/a", "s3:DeleteObject B/a", "s3:PutObject B/b");
        assertThat(needs(PUBLISHES, new Operation.Fetch(from, Optional.empty(), true, false)))
                .contains("s3:GetObject B/a/*");
    }

    @Test
    void invalidations() {
        assertThat(needs(PUBLISHES, new Operation.Invalidate(term("E1"), false)))
                .contains("cloudfront:CreateInvalidation " + EDGE);
        assertThat(of(survey(), PUBLISHES, new Operation.Invalidate(term("$EDGE"), false))
                        .open())
                .extracting(NeededPermissions.Open::why)
                .containsExactly(
                        "which distribution is meant is known only to the running pipeline (EDGE); --set tells it");
        assertThat(needs(PUBLISHES, new Operation.Invalidate(term("E9"), false)))
                .contains("cloudfront:CreateInvalidation arn:aws:cloudfront::210987654321:distribution/E9");
    }

    @Test
    void otherCalls() {
        assertThat(needs(
                        PUBLISHES,
                        new Operation.Call("cloudfront:GetInvalidation", term("distribution/E1"), Optional.empty())))
                .contains("cloudfront:GetInvalidation " + EDGE);
        assertThat(needs(PUBLISHES, new Operation.Call("s3:PutBucketWebsite", term(BUCKET_ARN), Optional.empty())))
                .contains("s3:PutBucketWebsite B");
        assertThat(of(
                                survey(),
                                PUBLISHES,
                                new Operation.Call(
                                        "s3:PutObjectAcl",
                                        PipelineValue.open("arn:aws:s3:::$BUCKET/a", "BUCKET"),
                                        Optional.empty()))
                        .isComplete())
                .isFalse();
        assertThat(needs(PUBLISHES, new Operation.Call("sts:GetSessionToken", term("*"), Optional.empty())))
                .contains("sts:GetSessionToken *");
    }

    @Test
    void stateAndOtherAccountsBuckets() {
        assertThat(needs(PUBLISHES, new Operation.KeepState(new Target(term("heron-state"), term("site.tfstate")))))
                .contains(
                        "s3:ListBucket arn:aws:s3:::heron-state",
                        "s3:GetObject arn:aws:s3:::heron-state/site.tfstate",
                        "s3:PutObject arn:aws:s3:::heron-state/site.tfstate");
        assertThat(needs(PUBLISHES, upload("x", "someone-elses", "", true, false, Optional.empty())))
                .contains("s3:PutObject arn:aws:s3:::someone-elses/*");
    }

    @Test
    void whatIsNotToldIsLeftOpen() {
        SurveyBuilder two = survey().bucket("second")
                .distribution("E2", "b.example", "index.html", SurveyBuilder.restOrigin("second", "", "C1"));
        NeededPermissions needed = of(
                two,
                PUBLISHES,
                upload("dist", "second", "", true, false, Optional.empty()),
                upload("dist", "$TARGET", "", true, false, Optional.empty()),
                new Operation.NotUnderstood("what deploy.py does is not in this file"));
        assertThat(needed.isComplete()).isFalse();
        assertThat(needed.open())
                .extracting(NeededPermissions.Open::why)
                .containsExactly(
                        "which bucket is meant is known only to the running pipeline (TARGET); --set tells it",
                        "what deploy.py does is not in this file");
    }

    @Test
    void withoutAPipelineTheSitesPatternTells() {
        AwsCloud cloud = survey().cloud(SiteFile.empty());
        List<PublishingPrincipal> publishers = new PublisherFinder(cloud).find();
        NeededPermissions needed =
                NeededPermissions.of(publishers.get(0), new Deployments(cloud, publishers, List.of()));
        assertThat(needed.isComplete()).isTrue();
        assertThat(needed.needed())
                .extracting(each -> each.action() + " " + each.evidence().word())
                .containsExactly(
                        "s3:ListBucket pattern",
                        "s3:PutObject pattern",
                        "s3:DeleteObject pattern",
                        "cloudfront:CreateInvalidation pattern");
    }
}
