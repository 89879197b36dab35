package warden.core.aws.checks;

import static warden.core.fixture.Audited.check;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.HOST;
import static warden.core.fixture.HealthySites.ZONE;
import static warden.core.fixture.HealthySites.behindWebsite;
import static warden.core.fixture.HealthySites.sealed;
import static warden.core.fixture.PipelineBuilder.aPipeline;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.audit.Severity;
import warden.core.fixture.SurveyBuilder;

/** Hit, near miss and unread of each check of the area cdn that SiteChecksTest does not hold. */
class CdnChecksTest {
    private static final String FUNCTION = "'FunctionAssociations':{'Items':[]}";

    private static SurveyBuilder edge(String from, String to) {
        return sealed().edit("distribution", EDGE, from, to);
    }

    private static String function(String event) {
        return "'FunctionAssociations':{'Items':[{'FunctionARN':'arn:aws:cloudfront::210987654321:function/f','EventType':'"
                + event + "'}]}";
    }

    private static String grant(String principal, String actions, String condition) {
        return "{'Effect':'Allow','Principal':" + principal + ",'Action':" + actions + ",'Resource':['" + BUCKET_ARN
                + "','" + BUCKET_ARN + "/*']" + condition + "}";
    }

    private static SurveyBuilder policy(SurveyBuilder survey, String... statements) {
        String quoted = SurveyBuilder.policyOf(statements).replace("\"", "\\\"");
        return survey.found("bucket-policy", BUCKET_ARN, "{'Policy':'@'}")
                .edit("bucket-policy", BUCKET_ARN, "@", quoted);
    }

    private static final String BY_E1 = ",'Condition':{'StringEquals':{'aws:SourceArn':'" + EDGE + "'}}";
    private static final String CDN = "{'Service':'cloudfront.amazonaws.com'}";

    @Test
    void originIdentityOtherDistribution() {
        String byOther = BY_E1.replace("/E1", "/E9");
        check(
                        "origin-identity-other-distribution",
                        policy(sealed(), grant(CDN, "'s3:GetObject'", BY_E1), grant(CDN, "'s3:GetObject'", byOther)))
                .flags(Severity.MEDIUM, BUCKET_ARN, "distribution/E9");
        String oai = "{'AWS':'arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity EOLD'}";
        check("origin-identity-other-distribution", policy(sealed(), grant(oai, "'s3:GetObject'", "")))
                .flags(Severity.MEDIUM, BUCKET_ARN, "origin access identity EOLD");
        String deny = grant(CDN, "'s3:GetObject'", byOther).replace("Allow", "Deny");
        check(
                        "origin-identity-other-distribution",
                        policy(
                                sealed(),
                                grant(CDN, "'s3:GetObject'", BY_E1),
                                grant(CDN, "'s3:GetObject'", byOther),
                                deny))
                .isSilent();
        check("origin-identity-other-distribution", sealed()).isSilent();
    }

    @Test
    void originIdentityTooStrong() {
        // What the account's own access points may do, the edge may not: it asks the bucket's own endpoint.
        String delegated = "{'Effect':'Allow','Principal':{'AWS':'*'},'Action':'*','Resource':['" + BUCKET_ARN + "','"
                + BUCKET_ARN + "/*'],'Condition':{'StringEquals':{'s3:DataAccessPointAccount':'210987654321'}}}";
        check("origin-identity-too-strong", policy(sealed(), grant(CDN, "'s3:GetObject'", BY_E1), delegated))
                .isSilent();
        check("origin-identity-too-strong", policy(sealed(), grant(CDN, "['s3:GetObject','s3:PutObject']", BY_E1)))
                .flags(Severity.MEDIUM, BUCKET_ARN, "write");
        check(
                        "origin-identity-too-strong",
                        policy(
                                edge("'Items':['GET','HEAD']", "'Items':['GET','HEAD','PUT']"),
                                grant(CDN, "'s3:*'", BY_E1)))
                .flags(Severity.HIGH, BUCKET_ARN, "it passes visitors' methods");
        check("policy-wider-than-needed", policy(sealed(), grant(CDN, "'s3:*'", BY_E1)))
                .doesNotApply();
        check("origin-identity-too-strong", policy(sealed(), grant(CDN, "['s3:GetObject','s3:ListBucket']", BY_E1)))
                .isSilent();
        check("origin-identity-too-strong", sealed().unread("bucket-policy", BUCKET_ARN))
                .isUnknownFor("bucket-policy");
    }

    @Test
    void originIdentityNotSigning() {
        check("origin-identity-not-signing", sealed().control("C1", "never")).flags(Severity.HIGH, EDGE, "never signs");
        check(
                        "origin-identity-not-signing",
                        sealed().edit("origin-control", "origin-access-control/C1", "'s3'", "'lambda'"))
                .flags(Severity.HIGH, EDGE, "of the type lambda");
        check("origin-identity-not-signing", sealed().control("C1", "no-override"))
                .isSilent();
        check("origin-identity-not-signing", sealed().unread("origin-control", "origin-access-control/C1"))
                .isUnknownFor("origin-control");
    }

    @Test
    void originIdentityOnWebsiteEndpoint() {
        check(
                        "origin-identity-on-website-endpoint",
                        behindWebsite()
                                .edit(
                                        "distribution",
                                        EDGE,
                                        "'OriginPath':'','CustomHeaders'",
                                        "'OriginPath':'','OriginAccessControlId':'C1','CustomHeaders'"))
                .flags(Severity.HIGH, EDGE, "is a website endpoint");
        check("origin-identity-on-website-endpoint", behindWebsite()).isSilent();
        check("origin-identity-on-website-endpoint", sealed()).doesNotApply();
    }

    @Test
    void originIdentityLegacyAndUnused() {
        SurveyBuilder legacy = edge("'OriginAccessControlId':'C1'", "'OriginAccessControlId':''")
                .edit(
                        "distribution",
                        EDGE,
                        "'OriginAccessIdentity':''",
                        "'OriginAccessIdentity':'origin-access-identity/cloudfront/I1'")
                .identity("I1", "abc");
        check("origin-identity-legacy", legacy).flags(Severity.LOW, EDGE, "origin access identity I1");
        check("origin-identity-legacy", sealed()).isSilent();
        check("origin-identity-unused", legacy).flags(Severity.LOW, "origin-access-control/C1", "No distribution uses");
        check("origin-identity-unused", sealed().identity("I7", "abc"))
                .flags(Severity.LOW, "origin-access-identity/I7", "identity I7");
        check("origin-identity-unused", sealed()).isSilent();
        check(
                        "origin-identity-unused",
                        sealed().identity("I7", "abc").unread("distribution-list", SurveyBuilder.ACCOUNT))
                .isUnknownFor("distribution-list");
    }

    @Test
    void originBucketGone() {
        check("origin-bucket-gone", edge("heron-www.s3.us-east-1", "heron-gone.s3.us-east-1"))
                .flags(Severity.CRITICAL, EDGE, "heron-gone, which is not in the surveyed accounts");
        check("origin-bucket-gone", sealed()).isSilent();
        check(
                        "origin-bucket-gone",
                        edge("heron-www.s3.us-east-1", "heron-gone.s3.us-east-1")
                                .withoutBucketList())
                .isUnknownFor("bucket-list");
    }

    @Test
    void originWrongRegion() {
        check("origin-wrong-region", edge(".s3.us-east-1.", ".s3.eu-west-1."))
                .flags(Severity.MEDIUM, EDGE, "names the region eu-west-1");
        check(
                        "origin-wrong-region",
                        edge(".s3.us-east-1.", ".s3.")
                                .found("bucket-location", BUCKET_ARN, "{'LocationConstraint':'eu-west-1'}"))
                .flags(Severity.MEDIUM, EDGE, "is the global name");
        check("origin-wrong-region", edge(".s3.us-east-1.", ".s3.")).isSilent();
        check("origin-wrong-region", sealed().unread("bucket-location", BUCKET_ARN))
                .isUnknownFor("bucket-location");
    }

    @Test
    void originPathMissing() {
        check("origin-path-missing", edge("'OriginPath':''", "'OriginPath':'/dist'"))
                .flags(Severity.HIGH, EDGE, "/dist leads where");
        check("origin-path-missing", edge("'OriginPath':''", "'OriginPath':'/assets'"))
                .isSilent();
        check(
                        "origin-path-missing",
                        edge("'OriginPath':''", "'OriginPath':'/dist'").unread("bucket-objects", BUCKET_ARN))
                .isUnknownFor("bucket-objects");
    }

    @Test
    void originHostForwarded() {
        String policy = "'Compress':true,'OriginRequestPolicyId':'%s'";
        check(
                        "origin-host-forwarded",
                        edge("'Compress':true", policy.formatted("216adef6-5c7f-47e4-b989-5492eafa07d3")))
                .flags(Severity.HIGH, EDGE, "Host header is passed");
        check(
                        "origin-host-forwarded",
                        edge(
                                "'CachePolicyId':'658327ea-f89d-4fab-a63d-7e88639e58f6'",
                                "'MinTTL':0,'ForwardedValues':{'Headers':{'Items':['Host']}}"))
                .flags(Severity.HIGH, EDGE, "which refuses it");
        check(
                        "origin-host-forwarded",
                        edge("'Compress':true", policy.formatted("b689b0a8-53d0-40ab-baf2-68738e2966ac")))
                .isSilent();
        check("origin-host-forwarded", edge("'Compress':true", policy.formatted("own-policy")))
                .isUnknownFor("origin-request-policy");
        SurveyBuilder except = edge("'Compress':true", policy.formatted("own-policy"))
                .found(
                        "origin-request-policy",
                        "own-policy",
                        "{'OriginRequestPolicy':{'OriginRequestPolicyConfig':{'HeadersConfig':{'HeaderBehavior':'whitelist','Headers':{'Items':['host']}}}}}");
        check("origin-host-forwarded", except).flags(Severity.HIGH, EDGE, "Host header");
    }

    @Test
    void folderIndexUnserved() {
        SurveyBuilder folders = sealed().found(
                        "bucket-objects",
                        BUCKET_ARN,
                        "{'Contents':[{'Key':'index.html'},{'Key':'404.html'},{'Key':'islands/index.html'}],'IsTruncated':false}");
        check("folder-index-unserved", folders)
                .flags(Severity.MEDIUM, EDGE, "nothing at the edge turns /islands/ into it");
        check("folder-index-unserved", folders.edit("distribution", EDGE, FUNCTION, function("viewer-request")))
                .isUnknownFor("edge-function");
        check("folder-index-unserved", sealed()).isSilent();
        check("folder-index-unserved", behindWebsite()).doesNotApply();
        check("folder-index-unserved", sealed().unread("bucket-objects", BUCKET_ARN))
                .isUnknownFor("bucket-objects");
    }

    @Test
    void errorResponseMissing() {
        String responses = "'CustomErrorResponses':{'Items':[{'ErrorCode':403,";
        SurveyBuilder without = edge(responses, responses.replace("403", "500"));
        check("error-response-missing", without).flags(Severity.MEDIUM, EDGE, "raw 403");
        check("error-unset", without).isSilent();
        check("error-response-missing", policy(without, grant(CDN, "['s3:GetObject','s3:ListBucket']", BY_E1)))
                .isSilent();
        check("error-response-missing", sealed()).isSilent();
        check(
                        "error-response-missing",
                        edge(responses, responses.replace("403", "500"))
                                .edit("distribution", EDGE, FUNCTION, function("viewer-response")))
                .isUnknownFor("edge-function");
    }

    @Test
    void viewerPlainHttp() {
        check("viewer-plain-http", edge("redirect-to-https", "allow-all"))
                .flags(Severity.HIGH, EDGE, "serves content over plain HTTP");
        String assets =
                "'CacheBehaviors':{'Items':[{'PathPattern':'%s','TargetOriginId':'o','ViewerProtocolPolicy':'allow-all','Compress':true}]}";
        check("viewer-plain-http", edge("'CacheBehaviors':{'Items':[]}", assets.formatted("/assets/*")))
                .flags(Severity.MEDIUM, EDGE, "The behaviour /assets/*");
        check("viewer-plain-http", edge("'CacheBehaviors':{'Items':[]}", assets.formatted("*.html")))
                .flags(Severity.HIGH, EDGE, "The behaviour *.html");
        check("viewer-plain-http", edge("redirect-to-https", "https-only")).isSilent();
    }

    @ParameterizedTest
    @ValueSource(strings = {"TLSv1", "TLSv1_2016", "TLSv1.1_2016", "SSLv3"})
    void viewerTlsOld(String protocol) {
        check("viewer-tls-old", edge("TLSv1.2_2021", protocol)).flags(Severity.MEDIUM, EDGE, protocol);
    }

    @Test
    void viewerTlsOldNearMisses() {
        for (String protocol : new String[] {"TLSv1.2_2018", "TLSv1.2_2019", "TLSv1.3_2025"}) {
            check("viewer-tls-old", edge("TLSv1.2_2021", protocol)).isSilent();
        }
        String own = "'CloudFrontDefaultCertificate':true,'MinimumProtocolVersion':'TLSv1'}";
        String custom =
                "'ACMCertificateArn':'arn:aws:acm:us-east-1:210987654321:certificate/c1','SSLSupportMethod':'sni-only','MinimumProtocolVersion':'TLSv1.2_2021'}";
        check("viewer-tls-old", edge(custom, own)).doesNotApply();
    }

    @Test
    void viewerMethodsTooWide() {
        check("viewer-methods-too-wide", edge("'Items':['GET','HEAD']", "'Items':['GET','HEAD','DELETE','OPTIONS']"))
                .flags(Severity.MEDIUM, EDGE, "passes DELETE");
        check("viewer-methods-too-wide", edge("'Items':['GET','HEAD']", "'Items':['GET','HEAD','OPTIONS']"))
                .isSilent();
    }

    @Test
    void hostNotOnDistribution() {
        check("host-not-on-distribution", edge("'heronferry.example','www.heronferry.example'", "'heronferry.example'"))
                .flags(Severity.HIGH, EDGE, HOST + " leads to the distribution E1, which does not list it");
        check("host-not-on-distribution", edge("'www.heronferry.example'", "'*.heronferry.example'"))
                .isSilent();
        check("host-not-on-distribution", sealed()).isSilent();
    }

    @Test
    void hostOnNoRecord() {
        SurveyBuilder elsewhere = sealed().edit(
                        "zone-records",
                        ZONE,
                        "{'Name':'www.heronferry.example.','Type':'A','AliasTarget':{'HostedZoneId':'Z2FDTNDATAQYW2','DNSName':'e1.cloudfront.net.'}}",
                        "{'Name':'www.heronferry.example.','Type':'A','ResourceRecords':[{'Value':'192.0.2.1'}]}")
                .edit(
                        "zone-records",
                        ZONE,
                        "{'Name':'www.heronferry.example.','Type':'AAAA'",
                        "{'Name':'x.heronferry.example.','Type':'AAAA'");
        check("host-on-no-record", elsewhere).flags(Severity.MEDIUM, EDGE, "DNS leads that host elsewhere");
        SurveyBuilder nothing = sealed().edit(
                        "zone-records", ZONE, "'Name':'www.heronferry.example.'", "'Name':'x.heronferry.example.'");
        check("host-on-no-record", nothing).isSilent();
        check("host-on-no-record", sealed().unread("zone-records", ZONE)).isUnknownFor("zone-records");
    }

    @Test
    void securityHeadersMissing() {
        String policy = ",'ResponseHeadersPolicyId':'67f7725c-6f97-4210-82d7-5512b31e9d03'";
        check("security-headers-missing", edge(policy, ""))
                .flags(Severity.MEDIUM, EDGE, "without HSTS and without any other");
        SurveyBuilder own = edge("67f7725c-6f97-4210-82d7-5512b31e9d03", "own")
                .found(
                        "response-headers-policy",
                        "own",
                        "{'ResponseHeadersPolicy':{'ResponseHeadersPolicyConfig':{'SecurityHeadersConfig':{'ContentTypeOptions':{'Override':true}}}}}");
        check("security-headers-missing", own).flags(Severity.MEDIUM, EDGE, "without HSTS.");
        SurveyBuilder custom = edge("67f7725c-6f97-4210-82d7-5512b31e9d03", "own")
                .found(
                        "response-headers-policy",
                        "own",
                        "{'ResponseHeadersPolicy':{'ResponseHeadersPolicyConfig':{'CustomHeadersConfig':{'Items':[{'Header':'Strict-Transport-Security'},{'Header':'X-Frame-Options'}]}}}}");
        check("security-headers-missing", custom).isSilent();
        // A maximum age of nought tells browsers to forget what they were told before. Source: RFC 6797, section 6.1.1.
        SurveyBuilder forgotten = edge("67f7725c-6f97-4210-82d7-5512b31e9d03", "own")
                .found(
                        "response-headers-policy",
                        "own",
                        "{'ResponseHeadersPolicy':{'ResponseHeadersPolicyConfig':{'SecurityHeadersConfig':{'StrictTransportSecurity':{'AccessControlMaxAgeSec':0},'ContentTypeOptions':{'Override':true}}}}}");
        check("security-headers-missing", forgotten).flags(Severity.MEDIUM, EDGE, "without HSTS.");
        check("security-headers-missing", edge("67f7725c-6f97-4210-82d7-5512b31e9d03", "own"))
                .isUnknownFor("response-headers-policy");
        check(
                        "security-headers-missing",
                        edge(policy, "").edit("distribution", EDGE, FUNCTION, function("viewer-response")))
                .isUnknownFor("edge-function");
    }

    @Test
    void staleAfterDeploy() {
        String page = BUCKET_ARN + "/index.html";
        SurveyBuilder stale = sealed().found("object", page, "{'ContentType':'text/html'}");
        check("stale-after-deploy", stale).flags(Severity.MEDIUM, EDGE, "stays at the edge for 24 hours");
        check(
                        "stale-after-deploy",
                        sealed().found("object", page, "{'CacheControl':'public, s-maxage=7200, max-age=0'}"))
                .flags(Severity.MEDIUM, EDGE, "2 hours");
        check("stale-after-deploy", sealed().found("object", page, "{'CacheControl':'max-age=3600'}"))
                .isSilent();
        check(
                        "stale-after-deploy",
                        sealed().found("object", page, "{}")
                                .edit(
                                        "distribution",
                                        EDGE,
                                        "658327ea-f89d-4fab-a63d-7e88639e58f6",
                                        "4135ea2d-6df8-44a3-9df3-4b5a84be39ad"))
                .isSilent();
        check(
                        "stale-after-deploy",
                        sealed().found("object", page, "{}"),
                        aPipeline()
                                .sync("dist", "heron-www", false)
                                .invalidate("E1")
                                .build())
                .isSilent();
        // Whether that is this distribution, only the running pipeline knows.
        check(
                        "stale-after-deploy",
                        sealed().found("object", page, "{}"),
                        aPipeline()
                                .sync("dist", "heron-www", false)
                                .invalidate("$DISTRIBUTION")
                                .build())
                .isUnknownFor("pipeline-file");
        check(
                        "stale-after-deploy",
                        sealed().without("object", page)
                                .without("object", BUCKET_ARN + "/fares.html")
                                .without("object", BUCKET_ARN + "/404.html"))
                .isUnknownFor("object");
        check("stale-after-deploy", edge("658327ea-f89d-4fab-a63d-7e88639e58f6", "own"))
                .isUnknownFor("cache-policy");
    }

    @Test
    void compressionDedicatedAddressesAndLogs() {
        check("compression-off", edge("'Compress':true", "'Compress':false"))
                .flags(Severity.LOW, EDGE, "sent uncompressed");
        String images =
                "'CacheBehaviors':{'Items':[{'PathPattern':'*.jpg','TargetOriginId':'o','ViewerProtocolPolicy':'https-only','Compress':false}]}";
        check("compression-off", edge("'CacheBehaviors':{'Items':[]}", images)).isSilent();
        // Whether text lies in a folder is told by its listing only.
        SurveyBuilder below = edge("'CacheBehaviors':{'Items':[]}", images.replace("*.jpg", "assets/*"));
        check("compression-off", below).flags(Severity.LOW, EDGE, "sent uncompressed");
        check("compression-off", below.unread("bucket-objects", BUCKET_ARN)).isUnknownFor("bucket-objects");
        check("compression-off", edge("'CacheBehaviors':{'Items':[]}", images).unread("bucket-objects", BUCKET_ARN))
                .isSilent();
        check("dedicated-ip-tls", edge("sni-only", "vip")).flags(Severity.MEDIUM, EDGE, "dedicated IP addresses");
        check("dedicated-ip-tls", sealed()).isSilent();
        check("cdn-logging-off", edge("'Logging':{'Enabled':true", "'Logging':{'Enabled':false"))
                .flags(Severity.LOW, EDGE, "no access log");
        check("cdn-logging-off", sealed()).isSilent();
    }

    @Test
    void distributionOff() {
        check("distribution-off", edge("},'Enabled':true,", "},'Enabled':false,"))
                .flags(Severity.HIGH, EDGE, "is disabled");
        check("distribution-off", edge("'Deployed'", "'InProgress'")).flags(Severity.HIGH, EDGE, "still rolling out");
        check("distribution-off", sealed()).isSilent();
        check("distribution-off", sealed().unread("distribution", EDGE)).isUnknownFor("distribution");
    }
}
