package warden.core.aws.site;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.alias;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;

class PublisherFinderTest {
    private static final String PIPELINE = "{'Effect':'Allow','Principal':{'Federated':"
            + "'arn:aws:iam::210987654321:oidc-provider/token.actions.githubusercontent.com'},"
            + "'Action':'sts:AssumeRoleWithWebIdentity'}";
    private static final String MACHINES =
            "{'Effect':'Allow','Principal':{'Service':'lambda.amazonaws.com'}," + "'Action':'sts:AssumeRole'}";

    private static SurveyBuilder twoSites() {
        return aSurvey()
                .bucket("heronferry.example", bucket -> bucket.website("{'IndexDocument':{'Suffix':'index.html'}}"))
                .bucket(
                        "timetables.heronferry.example",
                        bucket -> bucket.website("{'IndexDocument':{'Suffix':'index.html'}}"))
                .zone(
                        alias("heronferry.example", "s3-website-us-east-1.amazonaws.com"),
                        alias("timetables.heronferry.example", "s3-website-us-east-1.amazonaws.com"));
    }

    /** Returns the sites of each publisher, by the publisher's name. */
    private static Map<String, List<String>> find(SurveyBuilder survey) {
        Map<String, List<String>> all = new TreeMap<>();
        new PublisherFinder(new AwsCloud(List.of(survey.account()), SiteFile.empty()))
                .find()
                .forEach(publisher -> all.put(
                        publisher.principal().name(),
                        publisher.sites().stream().map(BucketSite::name).toList()));
        return all;
    }

    private static String write(String bucket) {
        return "{'Effect':'Allow','Action':'s3:PutObject','Resource':'arn:aws:s3:::" + bucket + "/*'}";
    }

    @Test
    void takesTheWholeHostForWhatIsMeant() {
        assertThat(find(twoSites().role("timetables-publisher", PIPELINE, "", write("timetables.heronferry.example"))))
                .containsExactly(Map.entry("timetables-publisher", List.of("timetables.heronferry.example")));
        assertThat(find(twoSites().role("deploy-timetables.heronferry.example", MACHINES, "", write("somewhere-else"))))
                .containsExactly(
                        Map.entry("deploy-timetables.heronferry.example", List.of("timetables.heronferry.example")));
    }

    @Test
    void neverTakesAParentDomainInsideALongerHost() {
        // The site that is named is not in the survey; its parent must not be taken instead.
        SurveyBuilder survey = aSurvey()
                .bucket("heronferry.example", bucket -> bucket.website("{'IndexDocument':{'Suffix':'index.html'}}"))
                .zone(alias("heronferry.example", "s3-website-us-east-1.amazonaws.com"))
                .role("publish-tides.heronferry.example", MACHINES, "", write("tides.heronferry.example"));
        assertThat(find(survey)).isEmpty();
    }

    @Test
    void takesRolesOfPipelinesByWhatTheyMayWrite() {
        assertThat(find(twoSites().role("ci", PIPELINE, "", write("heronferry.example"))))
                .containsExactly(Map.entry("ci", List.of("heronferry.example")));
        assertThat(find(twoSites().role("reports", MACHINES, "", write("heronferry.example"))))
                .isEmpty();
        assertThat(find(twoSites().role("ci", PIPELINE, "", write("some-other-bucket"))))
                .isEmpty();
    }
}
