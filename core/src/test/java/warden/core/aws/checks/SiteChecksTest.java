package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.Audited.check;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.alias;
import static warden.core.fixture.SurveyBuilder.cname;
import static warden.core.fixture.SurveyBuilder.distributionArn;
import static warden.core.fixture.SurveyBuilder.restOrigin;
import static warden.core.fixture.SurveyBuilder.websiteOrigin;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import warden.core.audit.Severity;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.Routing;
import warden.core.site.SiteFile.StatedSite;

/** The checks of the areas hosting, cdn and dns. */
class SiteChecksTest {
    private static final String B = "arn:aws:s3:::b";
    private static final String HOST = "www.heronferry.example";
    private static final String WEBSITE =
            "{'IndexDocument':{'Suffix':'index.html'},'ErrorDocument':{'Key':'404.html'}}";
    private static final String EDGE_READS =
            "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*',"
                    + "'Condition':{'StringEquals':{'aws:SourceArn':'arn:aws:cloudfront::210987654321:distribution/E1'}}}";

    private static SurveyBuilder website(String document, String... objects) {
        return aSurvey().bucket("b", b -> b.website(document).objects(objects));
    }

    private static SurveyBuilder signed(String rootObject) {
        return aSurvey()
                .bucket("b", b -> b.policy(EDGE_READS))
                .distribution("E1", HOST, rootObject, restOrigin("b", "", "C1"))
                .control("C1", "always");
    }

    @Test
    void theIndexDocumentStandsAtTheRoot() {
        check("index-missing", website(WEBSITE, "dist/index.html"))
                .flags(Severity.HIGH, B, "the nearest is dist/index.html");
        check("index-missing", website(WEBSITE, "index.html")).isSilent();
        check("index-missing", website("{'RedirectAllRequestsTo':{'HostName':'x.example'}}"))
                .doesNotApply();
        check("index-missing", website(WEBSITE, "index.html").unread("bucket-objects", B))
                .isUnknownFor("bucket-objects");
        check(
                        "index-missing",
                        website(WEBSITE).found("bucket-objects", B, "{'Contents':[{'Key':'a'}],'IsTruncated':true}"))
                .isUnknownFor("bucket-objects");
    }

    @Test
    void aMissingPageIsAnswered() {
        String without = "{'IndexDocument':{'Suffix':'index.html'}}";
        check("error-unset", website(without, "index.html")).flags(Severity.LOW, B, "no error document");
        check("error-unset", website(WEBSITE, "index.html")).isSilent();
        check("error-unset", website(without, "index.html"), singlePage()).doesNotApply();
        check("error-unset", signed("index.html")).flags(Severity.LOW, B, "no custom error response");
        String answered =
                ",'CustomErrorResponses':{'Items':[{'ErrorCode':403,'ResponsePagePath':'/404.html','ResponseCode':'404'}]}";
        check("error-unset", signed("").distribution("E1", HOST, "index.html", restOrigin("b", "", "C1"), answered))
                .isSilent();
        SurveyBuilder unread = website(without)
                .zone(alias("b", "s3-website-us-east-1.amazonaws.com"))
                .unread("bucket-website", B);
        check("error-unset", unread).isUnknownFor("bucket-website");
    }

    private static SiteFile singlePage() {
        return new SiteFile(
                List.of(new StatedSite(
                        "app",
                        List.of(),
                        Optional.empty(),
                        Optional.of(Routing.SINGLE_PAGE),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.of("b"),
                        List.of(),
                        List.of(),
                        Optional.empty())),
                List.of(),
                Optional.empty(),
                List.of());
    }

    @Test
    void theWebsiteEndpointAnswersForTheBucketsOwnName() {
        SurveyBuilder other = aSurvey().bucket("b").zone(cname(HOST, "b.s3-website-us-east-1.amazonaws.com"));
        check("bucket-host-mismatch", other)
                .flags(Severity.CRITICAL, B, HOST + " leads to the website endpoint of the bucket b");
        SurveyBuilder same = aSurvey().bucket(HOST).zone(cname(HOST, HOST + ".s3-website-us-east-1.amazonaws.com"));
        check("bucket-host-mismatch", same).isSilent();
        check("record-dangling", other.unread("zone-records", "hostedzone/Z1")).isUnknownFor("zone-records");
    }

    @Test
    void anOriginThatASealedBucketRefusesIsFound() {
        SurveyBuilder unsigned = aSurvey().bucket("b").distribution("E1", HOST, "index.html", restOrigin("b", "", ""));
        check("origin-identity-missing", unsigned).flags(Severity.HIGH, distributionArn("E1"), "visitors get 403");
        check("origin-identity-missing", signed("index.html")).doesNotApply();
        String open = "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";
        check(
                        "origin-identity-missing",
                        aSurvey()
                                .bucket("b", b -> b.policy(open))
                                .distribution("E1", HOST, "index.html", restOrigin("b", "", "")))
                .isSilent();
        check("origin-identity-missing", unsigned.unread("bucket-policy", B)).isUnknownFor("bucket-policy");
    }

    @Test
    void theBucketLetsItsOwnDistributionIn() {
        check("origin-identity-not-allowed", signed("index.html")).isSilent();
        SurveyBuilder other = aSurvey()
                .bucket("b", b -> b.policy(EDGE_READS.replace("/E1", "/E2")))
                .distribution("E1", HOST, "index.html", restOrigin("b", "", "C1"))
                .control("C1", "always");
        check("origin-identity-not-allowed", other).flags(Severity.HIGH, B, "does not let it read");
        SurveyBuilder identity = aSurvey()
                .bucket(
                        "b",
                        b -> b.policy(
                                "{'Effect':'Allow','Principal':{'CanonicalUser':'c0ffee'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}"))
                .distribution("E1", HOST, "index.html", restOrigin("b", "E9", ""));
        check("origin-identity-not-allowed", identity).isUnknownFor("bucket-policy");
        check("origin-identity-not-allowed", identity.identity("E9", "c0ffee")).isSilent();
        check("origin-identity-not-allowed", identity.identity("E9", "decaf")).flags(Severity.HIGH, B, "E1");
        check("origin-identity-not-allowed", signed("index.html").unread("origin-control", "origin-access-control/C1"))
                .isUnknownFor("origin-control");
    }

    @Test
    void aKeyThatTheEdgeCannotUseShutsItOut() {
        String key = "arn:aws:kms:us-east-1:210987654321:key/1";
        SurveyBuilder survey = aSurvey()
                .bucket("b", b -> b.policy(EDGE_READS).encryptedUnder(key))
                .keyPolicy(key, "{'Effect':'Allow','Principal':{'AWS':'210987654321'},'Action':'kms:*','Resource':'*'}")
                .distribution("E1", HOST, "index.html", restOrigin("b", "", "C1"))
                .control("C1", "always");
        check("encrypted-beyond-readers", survey).flags(Severity.HIGH, B, "the distribution cannot use");
        survey.keyPolicy(
                key,
                "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':['kms:Decrypt'],'Resource':'*',"
                        + "'Condition':{'StringEquals':{'aws:SourceArn':'arn:aws:cloudfront::210987654321:distribution/E1'}}}");
        check("origin-identity-not-allowed", survey).isSilent();
    }

    @Test
    void theFrontPageIsNamed() {
        String e1 = distributionArn("E1");
        check("root-object-missing", signed("")).flags(Severity.HIGH, e1, "no default root object");
        check("root-object-missing", signed("/index.html")).flags(Severity.HIGH, e1, "begins with a slash");
        check("root-object-missing", signed("start.html")).flags(Severity.HIGH, e1, "start.html does not exist");
        check("root-object-missing", signed("index.html")).isSilent();
        check("root-object-missing", aSurvey().bucket("b").distribution("E1", HOST, "", websiteOrigin("b")))
                .doesNotApply();
        check("root-object-missing", signed("index.html").unread("bucket-objects", B))
                .isUnknownFor("bucket-objects");
        check("root-object-missing", signed("index.html").unread("distribution", e1))
                .isUnknownFor("distribution");
    }

    @Test
    void aFunctionAtTheEdgeMayKnowTheFrontPage() {
        String function = "{'Distribution':{'DomainName':'d.cloudfront.net','DistributionConfig':{'Origins':{'Items':["
                + restOrigin("b", "", "C1")
                + "]},'DefaultCacheBehavior':{'TargetOriginId':'o','FunctionAssociations':{'Items':[{'FunctionARN':'f'}]}}}}}";
        check("root-object-missing", signed("").found("distribution", distributionArn("E1"), function))
                .isUnknownFor("edge-function");
    }

    @Test
    void recordsLeadToWhatExists() {
        SurveyBuilder gone = aSurvey().bucket("b").zone(alias(HOST, "s3-website-us-east-1.amazonaws.com"));
        check("record-dangling", gone).flags(Severity.CRITICAL, HOST, "not in the surveyed accounts");
        check("bucket-host-mismatch", gone).isSilent();
        check("record-dangling", aSurvey().bucket(HOST).zone(alias(HOST, "s3-website-us-east-1.amazonaws.com")))
                .isSilent();
        check("record-dangling", aSurvey().withoutBucketList().zone(alias(HOST, "s3-website-us-east-1.amazonaws.com")))
                .isUnknownFor("bucket-list");
    }

    @Test
    void recordsLeadToDistributionsThatAreListed() {
        String list = "{'DistributionList':{'Items':[{'DomainName':'D1.cloudfront.net'}],'IsTruncated':%s}}";
        SurveyBuilder survey =
                aSurvey().zone(alias(HOST, "d1.cloudfront.net"), alias("x.heronferry.example", "d9.cloudfront.net"));
        survey.without("distribution-list", SurveyBuilder.ACCOUNT);
        check("record-dangling", survey).isUnknownFor("distribution-list");
        survey.found("distribution-list", SurveyBuilder.ACCOUNT, String.format(list, "false"));
        check("record-dangling", survey).flags(Severity.CRITICAL, "x.heronferry.example", "d9.cloudfront.net");
        survey.found(
                "managed-app-domain",
                "app",
                "{'domainAssociation':{'domainName':'heronferry.example','subDomains':[{'subDomainSetting':{'prefix':'x'},'dnsRecord':'x CNAME d9.cloudfront.net'}]}}");
        check("record-dangling", survey).isSilent();
        survey.found("distribution-list", SurveyBuilder.ACCOUNT, String.format(list, "true"));
        check("record-dangling", survey.zone(alias(HOST, "d8.cloudfront.net"))).isUnknownFor("distribution-list");
    }

    @Test
    void chainsOfRecordsAreFollowed() {
        SurveyBuilder survey = aSurvey()
                .bucket("b")
                .zone(
                        cname(HOST, "web.heronferry.example."),
                        alias("web.heronferry.example", "s3-website-us-east-1.amazonaws.com"));
        assertThat(check("record-dangling", survey).findings())
                .extracting(finding -> finding.subject())
                .contains(HOST);
    }
}
