package warden.core.aws.publishing;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.HealthySites.BUCKET;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.HOST;
import static warden.core.fixture.HealthySites.sealed;
import static warden.core.fixture.PipelineBuilder.aPipeline;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.PublisherFinder;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.fixture.PipelineBuilder;
import warden.core.fixture.SurveyBuilder;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineValue;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.StatedSite;

class DeploymentsTest {
    private static final String ROLE = "arn:aws:iam::210987654321:role/heron-www-publisher";
    private static final String USER = "arn:aws:iam::210987654321:user/heron-www-deploy";
    private static final String PUT = "{'Effect':'Allow','Action':'s3:PutObject','Resource':'" + BUCKET_ARN + "/*'}";

    private static SurveyBuilder both() {
        return sealed().role(
                        "heron-www-publisher",
                        "{'Effect':'Allow','Principal':{'Service':'codebuild.amazonaws.com'},'Action':'sts:AssumeRole'}",
                        "",
                        PUT)
                .user("heron-www-deploy", PUT)
                .found(
                        "iam-user-keys",
                        USER,
                        "{'AccessKeyMetadata':[{'AccessKeyId':'AKIA1111HERON1111TST','Status':'Active','CreateDate':'2026-11-01T00:00:00+00:00'}]}");
    }

    private static Deployments deployments(SurveyBuilder survey, SiteFile file, Pipeline... pipelines) {
        AwsCloud cloud = survey.cloud(file);
        return new Deployments(cloud, new PublisherFinder(cloud).find(), List.of(pipelines));
    }

    private static Optional<String> publisher(PipelineBuilder pipeline) {
        Pipeline built = pipeline.sync("dist", BUCKET, true).build();
        Deployments deployments = deployments(both(), SiteFile.empty(), built);
        return deployments.publisherOf(built, built.steps().get(0)).map(PublishingPrincipal::arn);
    }

    @Test
    void findsTheRoleByArnOrName() {
        assertThat(publisher(aPipeline().asRole(ROLE))).contains(ROLE);
        assertThat(publisher(aPipeline().asRole("heron-www-publisher"))).contains(ROLE);
        assertThat(publisher(aPipeline().asRole("arn:aws:iam::109876543210:role/heron-www-publisher")))
                .isEmpty();
    }

    @Test
    void findsTheUserByItsKeyAndTheOnlyOneOfItsKind() {
        assertThat(publisher(aPipeline().withKey("AKIA1111HERON1111TST", "eu-west-1")))
                .contains(USER);
        assertThat(publisher(aPipeline().withKey("$secrets.KEY", "eu-west-1"))).contains(USER);
        assertThat(publisher(aPipeline().asRole("$secrets.ROLE"))).contains(ROLE);
        // Two credentials publish the site, and nothing tells which one this is.
        assertThat(publisher(aPipeline())).isEmpty();
    }

    @Test
    void findsTheSiteByBucketEdgeRoleOrText() {
        assertThat(sites(
                        SiteFile.empty(), aPipeline().sync("dist", BUCKET, true).build()))
                .hasSize(1);
        assertThat(sites(SiteFile.empty(), aPipeline().invalidate("E1").build()))
                .hasSize(1);
        assertThat(sites(
                        SiteFile.empty(),
                        aPipeline().asRole(ROLE).sync("dist", "$B", true).build()))
                .hasSize(1);
        assertThat(sites(
                        SiteFile.empty(),
                        aPipeline().text("echo https://" + HOST + "/").build()))
                .hasSize(1);
        assertThat(sites(SiteFile.empty(), aPipeline().text("echo not-" + HOST).build()))
                .isEmpty();
    }

    @Test
    void findsTheSiteThatTheSiteFileNames() {
        assertThat(sites(naming("publish.yml"), aPipeline().text("nothing").build()))
                .containsExactly("www");
    }

    private static SiteFile naming(String pipeline) {
        StatedSite stated = new StatedSite(
                "www",
                List.of(HOST),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                List.of(pipeline),
                Optional.empty());
        return new SiteFile(List.of(stated), List.of(), Optional.empty(), List.of());
    }

    private static List<String> sites(SiteFile file, Pipeline pipeline) {
        return deployments(both(), file, pipeline).sitesOf(pipeline).stream()
                .map(site -> site.name())
                .toList();
    }

    @Test
    void takesTheBucketOfTheSiteForWhichTheSiteFileNamesThePipelineAndGuessesNone() {
        Pipeline open = aPipeline()
                .asRole(ROLE)
                .sync("dist", "$B", true)
                .invalidate("$EDGE")
                .build();
        Deployments deployments = deployments(both(), SiteFile.empty(), open);
        assertThat(deployments.bucketOf(open, PipelineValue.open("$B", "B"))).isEmpty();
        assertThat(deployments.openTargets(open))
                .extracting(need -> need.why())
                .containsExactly(
                        "the bucket of line 10 is the variable $B; --set B=VALUE tells it",
                        "the distribution of line 11 is the variable $EDGE; --set EDGE=VALUE tells it");
        Deployments stated = deployments(both(), naming("publish.yml"), open);
        assertThat(stated.bucketOf(open, PipelineValue.open("$B", "B"))
                        .orElseThrow()
                        .name())
                .isEqualTo(BUCKET);
        assertThat(stated.openTargets(open)).isEmpty();
        assertThat(deployments.bucketOf(open, PipelineValue.of("nowhere"))).isEmpty();
        assertThat(deployments.stepsOf(deployments.publisher(ROLE).orElseThrow()))
                .hasSize(2);
        assertThat(deployments.stepsOf(deployments.publisher(USER).orElseThrow()))
                .isEmpty();
    }
}
