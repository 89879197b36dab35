package warden.core.aws.cdn;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.distributionArn;
import static warden.core.fixture.SurveyBuilder.restOrigin;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.fixture.SurveyBuilder;
import warden.core.survey.Reading;

class DistributionTest {
    private static Distribution with(String alias, String more) {
        return builder(alias, more).account().edges().distributions().get(0);
    }

    private static SurveyBuilder builder(String alias, String more) {
        return aSurvey().distribution("E1", alias, "index.html", restOrigin("quay", "", ""), more);
    }

    /** Source: CloudFront Developer Guide, "Use custom URLs by adding alternate domain names (CNAMEs)", "Using wildcards". */
    @ParameterizedTest
    @CsvSource({
        "www.heronferry.example, www.heronferry.example, true",
        "www.heronferry.example, a.www.heronferry.example, false",
        "*.heronferry.example, www.heronferry.example, true",
        "*.heronferry.example, a.b.heronferry.example, true",
        "*.heronferry.example, heronferry.example, false",
        "*.heronferry.example, xheronferry.example, false",
        "*.heronferry.example, *.heronferry.example, true",
        "*.heronferry.example, .heronferry.example, false",
        "*.tides.heronferry.example, www.heronferry.example, false"
    })
    void coversHostsUnderItsWildcards(String alias, String host, boolean covered) {
        assertThat(Distribution.coversHost(alias, host)).isEqualTo(covered);
        DistributionsByHost index = new DistributionsByHost(List.of(with(alias, "")));
        assertThat(index.lists(host)).isEqualTo(covered);
        assertThat(index.nearest(host).isPresent()).isEqualTo(covered);
    }

    @Test
    void isNearestByTheLongestAlias() {
        Distribution wide = with("*.heronferry.example", "");
        Distribution near = with("*.tides.heronferry.example", "");
        Distribution exact = with("a.tides.heronferry.example", "");
        String host = "a.tides.heronferry.example";
        assertThat(wide.nearness(host)).isPositive().isLessThan(near.nearness(host));
        assertThat(near.nearness(host)).isLessThan(exact.nearness(host));
        assertThat(exact.nearness("other.example")).isZero();
        assertThat(exact.nearness("e1.cloudfront.net")).isEqualTo(Integer.MAX_VALUE);
        DistributionsByHost index = new DistributionsByHost(List.of(wide, near, exact));
        assertThat(index.nearest(host)).containsSame(exact);
        assertThat(index.nearest("b.tides.heronferry.example")).containsSame(near);
        assertThat(index.nearest("c.b.tides.heronferry.example")).containsSame(near);
        assertThat(index.nearest("tides.heronferry.example")).containsSame(wide);
        assertThat(index.nearest("e1.cloudfront.net")).containsSame(wide);
        assertThat(index.lists("e1.cloudfront.net")).isFalse();
    }

    /** Source: CloudFront Developer Guide, "Cache behavior settings", section "Path pattern". */
    @ParameterizedTest
    @CsvSource({
        "/img/a.jpg, /img/*.jpg",
        "/img/deep/a.jpg, /img/*.jpg",
        "/img/a.png, ",
        "/IMG/a.jpg, ",
        "/docs/x, docs/*",
        "/docs, ",
        "/a1.css, /a?.css",
        "/a12.css, ",
        "/, "
    })
    void takesTheFirstBehaviourWhosePatternFits(String path, String pattern) {
        String more = ",'CacheBehaviors':{'Items':[{'PathPattern':'/img/*.jpg','TargetOriginId':'o'},"
                + "{'PathPattern':'docs/*','TargetOriginId':'o'},{'PathPattern':'/a?.css','TargetOriginId':'o'},"
                + "{'PathPattern':'/docs/x','TargetOriginId':'o'}]}";
        assertThat(with("", more).behaviorFor(path).orElseThrow().pathPattern())
                .isEqualTo(Optional.ofNullable(pattern));
    }

    @Test
    void takesAnErrorResponseOnlyWithAPage() {
        String more = ",'CustomErrorResponses':{'Items':[{'ErrorCode':404,'ErrorCachingMinTTL':10},"
                + "{'ErrorCode':403,'ResponsePagePath':'/404.html','ResponseCode':'404'}]}";
        assertThat(with("", more).errorResponse(403)).isPresent();
        assertThat(with("", more).errorResponse(404)).isEmpty();
        assertThat(with("", more).errorResponse(500)).isEmpty();
    }

    private static Behavior first(Distribution distribution) {
        return distribution.behaviorFor("/x/y").orElseThrow();
    }

    private static String behavior(String members) {
        return ",'CacheBehaviors':{'Items':[{'PathPattern':'/x/*','TargetOriginId':'o'," + members + "}]}";
    }

    @Test
    void keepsObjectsAsItsCachePolicySays() {
        SurveyBuilder own = builder("", behavior("'CachePolicyId':'p1'"))
                .found(
                        "cache-policy",
                        "p1",
                        "{'CachePolicy':{'Id':'p1','CachePolicyConfig':{'MinTTL':1,'DefaultTTL':60,'MaxTTL':600}}}");
        Distribution distribution = own.account().edges().distributions().get(0);
        assertThat(own.account()
                        .edges()
                        .policies()
                        .times(first(distribution), distribution.at())
                        .found())
                .contains(new CacheTimes(1, 60, 600));

        SurveyBuilder unread = builder("", behavior("'CachePolicyId':'p1'"));
        assertThat(unread.account()
                        .edges()
                        .policies()
                        .times(first(unread.account().edges().distributions().get(0)), distribution.at()))
                .isInstanceOf(Reading.Unread.class);

        // The provider's own policy that turns caching off; its id is in the developer guide.
        SurveyBuilder managed = builder("", behavior("'CachePolicyId':'4135ea2d-6df8-44a3-9df3-4b5a84be39ad'"));
        assertThat(managed.account()
                        .edges()
                        .policies()
                        .times(first(managed.account().edges().distributions().get(0)), distribution.at())
                        .found()
                        .orElseThrow()
                        .kept(Optional.of("max-age=600")))
                .isZero();

        SurveyBuilder legacy = builder("", behavior("'MinTTL':0,'DefaultTTL':5,'MaxTTL':50,'ForwardedValues':{}"));
        assertThat(legacy.account()
                        .edges()
                        .policies()
                        .times(first(legacy.account().edges().distributions().get(0)), distribution.at())
                        .found())
                .contains(new CacheTimes(0, 5, 50));
    }

    /** Returns what reaches the origin under an origin request policy whose headers are so configured. */
    private static Set<String> forwarded(String policy) {
        SurveyBuilder survey =
                builder("", behavior("'OriginRequestPolicyId':'q1'")).found("origin-request-policy", "q1", policy);
        Distribution distribution = survey.account().edges().distributions().get(0);
        return survey.account()
                .edges()
                .policies()
                .forwarded(first(distribution), distribution.at())
                .found()
                .orElseThrow();
    }

    @ParameterizedTest
    @CsvSource({
        "none, , ",
        "whitelist, X-Tide, x-tide",
        "allViewer, , *",
        "allViewerAndWhitelistCloudFront, CloudFront-Viewer-Country, *",
        "allExcept, X-Tide, *"
    })
    void forwardsTheHeadersThatItsPolicyNames(String mode, String named, String forwarded) {
        String items = named == null ? "" : ",'Headers':{'Items':['" + named + "']}";
        assertThat(forwarded("{'OriginRequestPolicy':{'OriginRequestPolicyConfig':{'HeadersConfig':{'HeaderBehavior':'"
                        + mode + "'" + items + "}}}}"))
                .isEqualTo(forwarded == null ? Set.of() : Set.of(forwarded));
    }

    @Test
    void neverForwardsTheHostWhereThePolicyTakesItOut() {
        assertThat(forwarded("{'OriginRequestPolicy':{'OriginRequestPolicyConfig':{'HeadersConfig':{'HeaderBehavior':"
                        + "'allExcept','Headers':{'Items':['Host']}}}}}"))
                .doesNotContain("*", "host");
    }

    @Test
    void addsTheProtectionsOfItsPolicy() {
        SurveyBuilder survey = builder("", behavior("'ResponseHeadersPolicyId':'r1'"))
                .found(
                        "response-headers-policy",
                        "r1",
                        "{'ResponseHeadersPolicy':{'ResponseHeadersPolicyConfig':{'SecurityHeadersConfig':"
                                + "{'StrictTransportSecurity':{'AccessControlMaxAgeSec':600},'FrameOptions':{}},"
                                + "'CustomHeadersConfig':{'Items':[{'Header':'Referrer-Policy','Value':'origin'},"
                                + "{'Header':'X-Tide','Value':'low'}]}}}}");
        Distribution distribution = survey.account().edges().distributions().get(0);
        assertThat(survey.account()
                        .edges()
                        .policies()
                        .securityHeaders(first(distribution), distribution.at())
                        .found()
                        .orElseThrow())
                .containsExactlyInAnyOrder("hsts", "frame-options", "referrer-policy");
        assertThat(distribution.id()).isEqualTo("E1");
        assertThat(distribution.arn()).isEqualTo(distributionArn("E1"));
    }
}
