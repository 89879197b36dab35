package warden.core.aws.site;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.alias;
import static warden.core.fixture.SurveyBuilder.cname;
import static warden.core.fixture.SurveyBuilder.restOrigin;
import static warden.core.fixture.SurveyBuilder.websiteOrigin;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.StatedSite;
import warden.core.site.SitePattern;

class SitesTest {
    private static final String WWW = "www.heronferry.example";
    private static final String READ =
            "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";
    private static final String WEBSITE = "{'IndexDocument':{'Suffix':'index.html'}}";

    private static BucketSite only(SurveyBuilder survey) {
        return survey.cloud().sites().get(0);
    }

    @Test
    void apexAndWwwOnOneDistributionAreOneSite() {
        SurveyBuilder survey = aSurvey()
                .bucket("b")
                .distribution("E1", WWW, "index.html", restOrigin("b", "", "C1"))
                .zone(alias("heronferry.example", "e1.cloudfront.net"), alias(WWW, "e1.cloudfront.net"));
        assertThat(survey.cloud().sites()).singleElement().satisfies(site -> {
            assertThat(site.name()).isEqualTo("heronferry.example");
            assertThat(site.hosts()).containsExactly("heronferry.example", WWW);
            assertThat(site.pattern()).contains(SitePattern.SEALED_BUCKET_BEHIND_CDN);
        });
    }

    @Test
    void sitesOfTheSameNameAreToldApart() {
        SurveyBuilder survey = aSurvey()
                .bucket("b")
                .bucket(WWW, b -> b.website(WEBSITE))
                .distribution("E1", WWW, "index.html", restOrigin("b", "", "C1"))
                .zone(alias(WWW, "e1.cloudfront.net"));
        assertThat(survey.cloud().sites()).extracting(BucketSite::name).containsExactly(WWW, WWW + " (2)");
        assertThat(survey.cloud().siteOf(WWW).orElseThrow().buckets())
                .extracting(Bucket::name)
                .containsExactly("b");
    }

    @Test
    void aBucketNamedForAHostBehindAnUnreadEdgeIsThatHostsSite() {
        String list = "{'DistributionList':{'Items':[{'ARN':'" + SurveyBuilder.distributionArn("E1")
                + "','DomainName':'e1.cloudfront.net'}],'IsTruncated':false}}";
        SurveyBuilder survey = aSurvey()
                .bucket(WWW, b -> b.website(WEBSITE))
                .found("distribution-list", SurveyBuilder.ACCOUNT, list)
                .zone(alias(WWW, "e1.cloudfront.net"));
        assertThat(survey.cloud().sites()).singleElement().satisfies(site -> {
            assertThat(site.buckets()).extracting(Bucket::name).containsExactly(WWW);
            assertThat(site.pattern()).isEmpty();
        });
    }

    @Test
    void patternsAreFound() {
        assertThat(only(aSurvey()
                                .bucket("b", b -> b.policy(READ))
                                .distribution("E1", WWW, "", restOrigin("b", "E9", "")))
                        .found())
                .contains(SitePattern.OPEN_BUCKET_BEHIND_CDN);
        assertThat(only(aSurvey()
                                .bucket("b", b -> b.policy(READ).website(WEBSITE))
                                .distribution("E1", WWW, "", websiteOrigin("b")))
                        .found())
                .contains(SitePattern.OPEN_BUCKET_BEHIND_CDN);
        assertThat(only(aSurvey().bucket(WWW).zone(alias(WWW, "s3-website-us-east-1.amazonaws.com")))
                        .found())
                .contains(SitePattern.OPEN_BUCKET);
        assertThat(only(aSurvey().bucket("b", b -> b.website("{'RedirectAllRequestsTo':{'HostName':'x'}}")))
                        .found())
                .contains(SitePattern.REDIRECT_ONLY);
        assertThat(only(aSurvey()
                                .bucket("b")
                                .distribution("E1", WWW, "", restOrigin("b", "E9", ""))
                                .unread("bucket-policy", "arn:aws:s3:::b"))
                        .found())
                .isEmpty();
        assertThat(only(aSurvey()
                                .found(
                                        "managed-app-domain",
                                        "a",
                                        "{'domainAssociation':{'domainName':'heronferry.example','subDomains':[{'subDomainSetting':{'prefix':'tides'}}]}}"))
                        .found())
                .contains(SitePattern.MANAGED_FRONT);
    }

    @Test
    void whatTheOwnerStatesGoesFirstAndJoinsParts() {
        StatedSite stated = new StatedSite(
                "ferries",
                List.of(WWW, "old.heronferry.example"),
                Optional.of(SitePattern.OPEN_BUCKET_BEHIND_CDN),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                List.of(),
                Optional.empty());
        SiteFile file = new SiteFile(List.of(stated), List.of(), Optional.empty(), List.of());
        AwsCloud cloud = aSurvey()
                .bucket("b")
                .bucket("old.heronferry.example", b -> b.website(WEBSITE))
                .distribution("E1", WWW, "index.html", restOrigin("b", "", "C1"))
                .zone(alias("old.heronferry.example", "s3-website-us-east-1.amazonaws.com"))
                .cloud(file);
        assertThat(cloud.sites()).singleElement().satisfies(site -> {
            assertThat(site.name()).isEqualTo("ferries");
            assertThat(site.meant()).contains(SitePattern.OPEN_BUCKET_BEHIND_CDN);
            assertThat(site.buckets()).hasSize(2);
            assertThat(site.isMeantSealed()).isFalse();
        });
    }

    @Test
    void wildcardRecordsSpeakForHostsWithoutTheirOwn() {
        AwsCloud cloud = aSurvey()
                .zone(alias("\\\\052.heronferry.example", "d1.cloudfront.net"))
                .cloud();
        assertThat(cloud.hosts().leads("any.heronferry.example"))
                .singleElement()
                .matches(Leads::isDistribution);
    }

    @Test
    void recordsInACircleEnd() {
        AwsCloud cloud = aSurvey()
                .zone(
                        cname("a.heronferry.example", "b.heronferry.example"),
                        cname("b.heronferry.example", "a.heronferry.example"))
                .cloud();
        assertThat(cloud.hosts().leads("a.heronferry.example")).hasSize(1);
    }

    @ParameterizedTest
    @CsvSource({
        "b.s3.amazonaws.com, b, , false",
        "b.s3.eu-west-1.amazonaws.com, b, eu-west-1, false",
        "b.s3-eu-west-1.amazonaws.com, b, eu-west-1, false",
        "b.s3.dualstack.eu-west-1.amazonaws.com, b, eu-west-1, false",
        "www.heron.example.s3.us-gov-west-1.amazonaws.com., www.heron.example, us-gov-west-1, false",
        "b.s3-website-eu-west-1.amazonaws.com, b, eu-west-1, true",
        "b.s3-website.eu-central-1.amazonaws.com, b, eu-central-1, true",
        "S3-Website-us-east-1.amazonaws.com., , us-east-1, true",
        "s3.eu-west-1.amazonaws.com, , eu-west-1, false"
    })
    void storageEndpointsAreRecognised(String host, String bucket, String region, boolean website) {
        assertThat(StorageEndpoint.parse(host))
                .contains(new StorageEndpoint(Optional.ofNullable(bucket), Optional.ofNullable(region), website));
    }

    @ParameterizedTest
    @CsvSource({
        "d1.cloudfront.net",
        "s3.example.com",
        "b.s3.amazonaws.com.evil.example",
        "amazonaws.com",
        "b.s4.amazonaws.com"
    })
    void otherHostsAreNot(String host) {
        assertThat(StorageEndpoint.parse(host)).isEmpty();
    }

    @Test
    void publishersAreFoundByWhatPublishes() {
        String trust = "{'Effect':'Allow','Principal':{'Service':'codebuild.amazonaws.com'},'Action':'sts:AssumeRole'}";
        String people = "{'Effect':'Allow','Principal':{'AWS':'210987654321'},'Action':'sts:AssumeRole'}";
        String writes = "{'Effect':'Allow','Action':'s3:PutObject','Resource':'arn:aws:s3:::b/*'}";
        SurveyBuilder survey = aSurvey()
                .bucket("b", b -> b.website(WEBSITE))
                .role("builder", trust, "", writes)
                .role("reader", trust, "", "{'Effect':'Allow','Action':'s3:GetObject','Resource':'*'}")
                .role("editors", people, "", writes);
        List<PublishingPrincipal> publishers = new PublisherFinder(survey.cloud()).find();
        assertThat(publishers).singleElement().satisfies(publisher -> {
            assertThat(publisher.arn()).endsWith("role/builder");
            assertThat(publisher.sites()).singleElement().matches(site -> site.name()
                    .equals("b"));
        });
    }
}
