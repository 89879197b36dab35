package warden.core.aws.cdn;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.Audited.check;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.HOST;
import static warden.core.fixture.HealthySites.sealed;
import static warden.core.fixture.SurveyBuilder.ACCOUNT;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.aws.site.BucketSite;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;

class UnreadDistributionTest {
    private static final String LIST = "distribution-list";
    private static final String ORIGINS =
            "','Origins':{'Quantity':1,'Items':[{'Id':'o','DomainName':'heron-www.s3.us-east-1.amazonaws.com'}]}}]";

    /** A healthy site whose distribution is listed and was not read; the list may show its origins. */
    private static SurveyBuilder listedOnly(boolean withOrigins) {
        SurveyBuilder survey = sealed().without("distribution", EDGE);
        return withOrigins ? survey.edit(LIST, ACCOUNT, "'}]", ORIGINS) : survey;
    }

    private static List<UnreadDistribution> unread(SurveyBuilder survey) {
        return survey.account().edges().unreadDistributions();
    }

    @Test
    void knowsOfAListedOneWhatTheListShows() {
        assertThat(unread(sealed())).isEmpty();
        assertThat(unread(listedOnly(false))).singleElement().satisfies(edge -> {
            assertThat(edge.arn()).isEqualTo(EDGE);
            assertThat(edge.domain()).contains("e1.cloudfront.net");
            assertThat(edge.need().why()).isEqualTo("never asked");
            assertThat(edge.mayServe("heron-www")).isTrue();
            assertThat(edge.mayServe("anything")).isTrue();
        });
        assertThat(unread(listedOnly(true))).singleElement().satisfies(edge -> {
            assertThat(edge.buckets()).isEqualTo(Optional.of(Set.of("heron-www")));
            assertThat(edge.mayServe("anything")).isFalse();
        });
    }

    @Test
    void standsForAllThatAListWhichWasNotReadCouldName() {
        assertThat(unread(sealed().unread(LIST, ACCOUNT)))
                .extracting(UnreadDistribution::arn)
                .containsExactly(ACCOUNT);
        assertThat(unread(sealed().edit(LIST, ACCOUNT, "'IsTruncated':false", "'IsTruncated':true")))
                .extracting(edge -> edge.need().why())
                .containsExactly("the listing is cut short");
        // What was found of buckets stays found; the checks of distributions leave the account open.
        assertThat(unread(sealed().without(LIST, ACCOUNT))).isEmpty();
        assertThat(unread(sealed().unread("distribution", EDGE)))
                .extracting(edge -> edge.need().aspect())
                .containsExactly("distribution");
    }

    @Test
    void makesASiteWithoutAPattern() {
        BucketSite site = listedOnly(true).cloud(SiteFile.empty()).siteOf(HOST).orElseThrow();
        assertThat(site.pattern()).isEmpty();
        assertThat(site.unreadDistributions()).hasSize(1);
        assertThat(site.buckets()).extracting(bucket -> bucket.arn()).containsExactly(BUCKET_ARN);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {"viewer-plain-http", "origin-identity-other-distribution", "error-unset", "ipv6-record-missing"})
    void leavesOpenWhatRestsOnIt(String check) {
        check(check, listedOnly(true)).isUnknownFor("distribution");
        check(check, sealed()).isSilent();
    }

    @Test
    void leavesOtherBucketsAlone() {
        SurveyBuilder other = listedOnly(true).bucket("heron-archive", bucket -> bucket.guard(false));
        assertThat(check("guard-off", other.accountGuard(false)).findings())
                .extracting(finding -> finding.subject())
                .containsExactly("arn:aws:s3:::heron-archive");
    }
}
