package warden.core.aws.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.HealthySites.APEX;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.CERTIFICATE;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.OPEN_ARN;
import static warden.core.fixture.HealthySites.ZONE;
import static warden.core.fixture.HealthySites.behindWebsite;
import static warden.core.fixture.HealthySites.open;
import static warden.core.fixture.HealthySites.sealed;

import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.fixture.Audited;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;
import warden.core.trace.Case;
import warden.core.trace.Outcome;
import warden.core.trace.Step;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;

/** Set-ups and addresses, and what visitors get. */
class TracerTest {
    private static final String OPEN_BUCKET = "notices.heronferry.example";
    private static final String READ =
            "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'" + OPEN_ARN + "/*'}";
    private static final String OPEN_SITE = "http://notices.heronferry.example";
    private static final String SITE = "https://www.heronferry.example";

    private static Trace trace(SurveyBuilder survey, String url) {
        return trace(survey, url, "GET");
    }

    private static Trace trace(SurveyBuilder survey, String url, String method) {
        WebAddress address = WebAddress.parse(url).address().orElseThrow();
        return new Tracer(survey.cloud(SiteFile.empty())).trace(new Visit(address, method, Audited.NOW));
    }

    /** Returns the outcomes in a few words, those that are not certain with a question mark behind. */
    private static String got(SurveyBuilder survey, String url) {
        return said(trace(survey, url));
    }

    private static String said(Trace trace) {
        assertThat(trace.steps()).isNotEmpty();
        assertThat(trace.steps().stream().filter(Step::decides)).hasSize(1);
        assertThat(trace.why()).endsWith(".");
        String all = trace.outcomes().stream().map(Outcome::said).collect(Collectors.joining(" | "));
        return trace.isCertain() ? all : (all + " ?").strip();
    }

    @ParameterizedTest
    @CsvSource({
        "https://www.heronferry.example/, '200, the object index.html'",
        "https://heronferry.example, '200, the object index.html'",
        "https://www.heronferry.example/fares.html, '200, the object fares.html'",
        "https://www.heronferry.example/fares.html?x=1, '200, the object fares.html'",
        "https://www.heronferry.example/FARES.html, '404, the object 404.html'",
        "https://www.heronferry.example/assets/, '404, the object 404.html'",
        "https://www.heronferry.example/no-such, '404, the object 404.html'",
        "http://www.heronferry.example/a?b=c, '301 to https://www.heronferry.example/a?b=c'",
        "https://e1.cloudfront.net/, '200, the object index.html'",
        "https://nowhere.heronferry.example/, the name is not found",
        "https://www.heronferry.example:8443/, no connection",
        "https://s3.us-east-1.amazonaws.com/heron-www/index.html, 403",
        "https://s3.amazonaws.com/heron-www/index.html, 403",
        "https://heron-www.s3.us-east-1.amazonaws.com/index.html, 403",
        "https://heron-www.s3.dualstack.us-east-1.amazonaws.com/index.html, 403",
        "http://heron-www.s3-website-us-east-1.amazonaws.com/, 404",
        "https://heron-www.s3-website-us-east-1.amazonaws.com/, no connection",
        "https://heron-gone.s3.us-east-1.amazonaws.com/, 404 ?",
        "https://heron-www.s3.eu-west-1.amazonaws.com/index.html, 301 | 307 | 400 ?",
        "https://somewhere.example/, ?",
        "http://192.0.2.7/, ?",
    })
    void aSealedSite(String url, String expected) {
        assertThat(got(sealed(), url)).isEqualTo(expected);
    }

    @ParameterizedTest
    @CsvSource({
        "http://notices.heronferry.example/, '200, the object index.html'",
        "http://notices.heronferry.example/tides/, '200, the object tides/index.html'",
        "http://notices.heronferry.example/tides, 302 to http://notices.heronferry.example/tides/",
        "http://notices.heronferry.example/no, '403, the object 404.html'",
        "http://notices.heronferry.example/no/, '403, the object 404.html'",
        "https://notices.heronferry.example/, no connection",
        "http://notices.heronferry.example.s3-website-us-east-1.amazonaws.com/, '200, the object index.html'",
        "http://notices.heronferry.example.s3-website.us-east-1.amazonaws.com/, '200, the object index.html'",
        "http://notices.heronferry.example.s3.amazonaws.com/index.html, '200, the object index.html'",
        "https://notices.heronferry.example.s3.amazonaws.com/index.html, TLS fails",
        "https://s3.us-east-1.amazonaws.com/notices.heronferry.example/index.html, '200, the object index.html'",
        "https://s3.us-east-1.amazonaws.com/notices.heronferry.example/, 403",
        "https://s3.us-east-1.amazonaws.com/notices.heronferry.example/no, 403",
    })
    void anOpenBucket(String url, String expected) {
        assertThat(got(open(), url)).isEqualTo(expected);
    }

    @Test
    void aMissingKeyIs404ToThoseWhoMayList() {
        SurveyBuilder listing = open().bucket("notices.heronferry.example", bucket -> bucket.policy(
                        "{'Effect':'Allow','Principal':'*','Action':['s3:GetObject','s3:ListBucket'],'Resource':['"
                                + OPEN_ARN + "','" + OPEN_ARN + "/*']}")
                .website("{'IndexDocument':{'Suffix':'index.html'}}")
                .objects("index.html"));
        assertThat(got(listing, OPEN_SITE + "/no")).isEqualTo("404");
        assertThat(got(listing, "https://s3.us-east-1.amazonaws.com/notices.heronferry.example/no"))
                .isEqualTo("404");
        assertThat(got(listing, "https://s3.us-east-1.amazonaws.com/notices.heronferry.example/"))
                .isEqualTo("200");
    }

    @ParameterizedTest
    @CsvSource({
        "https://www.heronferry.example/, '200, the object index.html'",
        "https://www.heronferry.example/islands/, '200, the object islands/index.html'",
        "https://www.heronferry.example/islands, 302 to https://www.heronferry.example/islands/",
        "http://heron-www.s3-website-us-east-1.amazonaws.com/, 403",
    })
    void aWebsiteEndpointBehindTheEdge(String url, String expected) {
        assertThat(got(behindWebsite(), url)).isEqualTo(expected);
    }

    private static SurveyBuilder rules(String rules) {
        return open().found(
                        "bucket-website",
                        OPEN_ARN,
                        "{'IndexDocument':{'Suffix':'index.html'},'ErrorDocument':{'Key':'404.html'},'RoutingRules':["
                                + rules + "]}");
    }

    @Test
    void routingRulesComeFirstByPrefixAndAfterAnError() {
        SurveyBuilder byPrefix =
                rules("{'Condition':{'KeyPrefixEquals':'docs/'},'Redirect':{'ReplaceKeyPrefixWith':'documents/'}}");
        assertThat(got(byPrefix, OPEN_SITE + "/docs/a b.html"))
                .isEqualTo("301 to http://notices.heronferry.example/documents/a%20b.html");
        assertThat(got(byPrefix, OPEN_SITE + "/index.html")).isEqualTo("200, the object index.html");
        SurveyBuilder byError = rules(
                "{'Condition':{'HttpErrorCodeReturnedEquals':'403'},'Redirect':{'HostName':'www.heronferry.example',"
                        + "'Protocol':'https','ReplaceKeyWith':'lost.html','HttpRedirectCode':'302'}}");
        assertThat(got(byError, OPEN_SITE + "/no")).isEqualTo("302 to https://www.heronferry.example/lost.html");
        assertThat(got(byError, OPEN_SITE + "/index.html")).isEqualTo("200, the object index.html");
        SurveyBuilder otherError =
                rules("{'Condition':{'HttpErrorCodeReturnedEquals':'404'},'Redirect':{'ReplaceKeyWith':'x'}}");
        assertThat(got(otherError, OPEN_SITE + "/no")).isEqualTo("403, the object 404.html");
        SurveyBuilder both = rules(
                "{'Condition':{'KeyPrefixEquals':'a/','HttpErrorCodeReturnedEquals':'403'},'Redirect':{'ReplaceKeyWith':'x'}},"
                        + "{'Redirect':{'HostName':'h.example'}}");
        assertThat(got(both, OPEN_SITE + "/index.html")).isEqualTo("301 to http://h.example/index.html");
    }

    @Test
    void redirectAllKeepsThePathAndDoesNotSayWhetherTheQuery() {
        SurveyBuilder all = open().found(
                        "bucket-website",
                        OPEN_ARN,
                        "{'RedirectAllRequestsTo':{'HostName':'www.heronferry.example','Protocol':'https'}}");
        assertThat(got(all, OPEN_SITE + "/a/b")).isEqualTo("301 to https://www.heronferry.example/a/b");
        assertThat(got(all, OPEN_SITE + "/a?q=1"))
                .isEqualTo("301 to https://www.heronferry.example/a?q=1 | 301 to https://www.heronferry.example/a ?");
    }

    @Test
    void anObjectMayBeStoredWithARedirect() {
        SurveyBuilder stored =
                open().found("object", OPEN_ARN + "/index.html", "{'WebsiteRedirectLocation':'/tides/'}");
        assertThat(got(stored, OPEN_SITE + "/")).isEqualTo("301 to http://notices.heronferry.example/tides/");
        assertThat(got(stored, "http://s3.amazonaws.com/notices.heronferry.example/index.html"))
                .isEqualTo("200, the object index.html");
    }

    private static SurveyBuilder edge(String from, String to) {
        return sealed().edit("distribution", EDGE, from, to);
    }

    @Test
    void theFirstBehaviourThatFitsCounts() {
        String behaviors =
                "'CacheBehaviors':{'Items':[{'PathPattern':'assets/*.js','TargetOriginId':'o','ViewerProtocolPolicy':'https-only'},"
                        + "{'PathPattern':'/assets/*','TargetOriginId':'o','ViewerProtocolPolicy':'allow-all'}]}";
        SurveyBuilder survey = edge("'CacheBehaviors':{'Items':[]}", behaviors);
        assertThat(got(survey, "http://www.heronferry.example/assets/app.js")).isEqualTo("403");
        assertThat(got(survey, "https://www.heronferry.example/assets/app.js"))
                .isEqualTo("200, the object assets/app.js");
        assertThat(got(survey, "http://www.heronferry.example/")).startsWith("301 to https");
    }

    @Test
    void aDenyOnInsecureTransportLeavesPlainHttpThroughTheEdgeOpen() {
        // Which protocol the edge speaks to the bucket for a viewer of plain HTTP is not certain.
        Trace trace = trace(edge("redirect-to-https", "allow-all"), "http://www.heronferry.example/fares.html");
        assertThat(trace.isCertain()).isFalse();
        assertThat(trace.outcomes())
                .extracting(Outcome::said)
                .contains("200, the object fares.html", "404, the object 404.html");
    }

    @Test
    void methodsAreThoseThatTheBehaviourPasses() {
        assertThat(said(trace(sealed(), SITE + "/fares.html", "PUT"))).isEqualTo("403");
        assertThat(said(trace(sealed(), SITE + "/fares.html", "HEAD"))).isEqualTo("200, the object fares.html");
        assertThat(said(trace(open(), OPEN_SITE + "/", "POST"))).isEqualTo("405");
        assertThat(said(trace(open(), "https://s3.amazonaws.com/notices.heronferry.example/x", "DELETE")))
                .isEqualTo("403");
    }

    @Test
    void theOriginPathStandsBeforeEveryKey() {
        SurveyBuilder survey = edge("'OriginPath':''", "'OriginPath':'/v2'")
                .found(
                        "bucket-objects",
                        BUCKET_ARN,
                        "{'Contents':[{'Key':'v2/index.html'},{'Key':'404.html'}],'IsTruncated':false}");
        assertThat(got(survey, SITE + "/")).isEqualTo("200, the object v2/index.html");
        // The error page is fetched under the origin path too, where it is missing.
        assertThat(got(survey, SITE + "/no")).isEqualTo("403");
    }

    @Test
    void aListedEdgeThatWasNotReadIsTheAccounts() {
        Trace trace = trace(sealed().without("distribution", EDGE), SITE + "/");
        assertThat(trace.isCertain()).isFalse();
        assertThat(trace.why()).contains("is the account's, and was not read");
        assertThat(trace.remedy()).isEmpty();
        assertThat(trace.needs()).anySatisfy(need -> assertThat(need.of()).isEqualTo(EDGE));
    }

    @Test
    void theTrueCauseIsNamed() {
        assertThat(trace(edge("'DefaultRootObject':'index.html'", "'DefaultRootObject':''"), SITE + "/")
                        .why())
                .contains("No object is named");
        assertThat(trace(sealed().control("C1", "never"), SITE + "/").why()).contains("does not let everyone read");
        assertThat(got(edge("'www.heronferry.example'", "'x.heronferry.example'"), SITE + "/"))
                .isEqualTo("TLS fails");
        assertThat(got(edge("'www.heronferry.example'", "'x.heronferry.example'"), "http://www.heronferry.example/"))
                .isEqualTo("403");
        assertThat(trace(edge("heron-www.s3.us-east-1", "heron-gone.s3.us-east-1"), SITE + "/")
                        .why())
                .contains("is not in the surveyed account");
        assertThat(trace(
                                sealed().edit(
                                                "certificate",
                                                CERTIFICATE,
                                                "'*.heronferry.example'],'Domain",
                                                "'x.example'],'Domain"),
                                SITE + "/")
                        .why())
                .contains("not for www.heronferry.example");
        assertThat(got(sealed().edit("certificate", CERTIFICATE, "2027-03-11", "2026-03-11"), SITE + "/"))
                .isEqualTo("TLS fails");
        assertThat(got(behindWebsite().edit("distribution", EDGE, "http-only", "https-only"), SITE + "/"))
                .isEqualTo("502 | 504 ?");
        assertThat(got(behindWebsite().absent("bucket-website", BUCKET_ARN, "none"), SITE + "/"))
                .isEqualTo("404");
        assertThat(trace(edge("},'Enabled':true,", "},'Enabled':false,"), SITE + "/")
                        .why())
                .contains("is disabled");
        assertThat(got(
                        sealed().found(
                                        "bucket-objects",
                                        BUCKET_ARN,
                                        "{'Contents':[{'Key':'404.html'}],'IsTruncated':false}")
                                .without("object", BUCKET_ARN + "/index.html"),
                        SITE + "/"))
                .isEqualTo("404, the object 404.html");
        assertThat(got(
                        sealed().found("object", BUCKET_ARN + "/index.html", "{'StorageClass':'DEEP_ARCHIVE'}"),
                        SITE + "/"))
                .isEqualTo("404, the object 404.html");
    }

    @Test
    void whatIsNotKnownStaysOpen() {
        String function = "'FunctionAssociations':{'Items':[{'FunctionARN':'arn:f','EventType':'viewer-request'}]}";
        Trace byFunction = trace(edge("'FunctionAssociations':{'Items':[]}", function), SITE + "/");
        assertThat(byFunction.open()).isTrue();
        assertThat(byFunction.needs()).anyMatch(need -> need.aspect().equals("edge-function"));
        assertThat(trace(sealed().unread("bucket-policy", BUCKET_ARN), SITE + "/")
                        .needs())
                .anyMatch(need -> need.aspect().equals("bucket-policy"));
        assertThat(got(sealed().unread("zone-records", ZONE), SITE + "/")).isEqualTo("200, the object index.html ?");
        assertThat(got(edge("'WebACLId':''", "'WebACLId':'arn:acl'"), SITE + "/"))
                .isEqualTo("200, the object index.html | 403 ?");
        assertThat(trace(edge("'RestrictionType':'none'", "'RestrictionType':'whitelist'"), SITE + "/")
                        .isCertain())
                .isFalse();
        assertThat(trace(edge("'Deployed'", "'InProgress'"), SITE + "/").isCertain())
                .isFalse();
        SurveyBuilder cut = open().without("object", OPEN_ARN + "/index.html")
                .without("object", OPEN_ARN + "/404.html")
                .found("bucket-objects", OPEN_ARN, "{'Contents':[{'Key':'a'}],'IsTruncated':true}");
        assertThat(trace(cut, OPEN_SITE + "/").outcomes())
                .extracting(Outcome::said)
                .contains("200, the object index.html", "403");
    }

    @Test
    void theHostHeaderOfTheViewerMissesTheBucket() {
        String all = "'Compress':true,'OriginRequestPolicyId':'216adef6-5c7f-47e4-b989-5492eafa07d3'";
        assertThat(trace(edge("'Compress':true", all), SITE + "/").why()).contains("Host header is passed");
        assertThat(got(behindWebsite().edit("distribution", EDGE, "'Compress':true", all), SITE + "/"))
                .isEqualTo("404");
    }

    @Test
    void wildcardsSpeakOnlyForNamesThatDoNotExist() {
        SurveyBuilder wild = sealed().edit(
                        "zone-records", ZONE, "'Name':'www.heronferry.example.'", "'Name':'*.heronferry.example.'")
                .edit(
                        "zone-records",
                        ZONE,
                        "],'IsTruncated'",
                        ",{'Name':'mail.heronferry.example.','Type':'TXT'}],'IsTruncated'")
                .edit("distribution", EDGE, "'www.heronferry.example'", "'*.heronferry.example'");
        assertThat(got(wild, SITE + "/")).isEqualTo("200, the object index.html");
        assertThat(got(wild, "https://mail.heronferry.example/")).isEqualTo("the name is not found");
        assertThat(got(wild, "https://a.b.heronferry.example/")).isEqualTo("TLS fails");
    }

    @Test
    void tellsHowLongTheEdgeKeepsAPage() {
        SurveyBuilder kept = sealed().found("object", BUCKET_ARN + "/index.html", "{'CacheControl':'max-age=7200'}");
        assertThat(trace(kept, SITE + "/").steps())
                .extracting(Step::says)
                .anyMatch(says -> says.contains("keeps it for 2 hours"));
    }

    @Test
    void casesShowThePagesAndTheWaysAround() {
        Tracer tracer = new Tracer(open().cloud(SiteFile.empty()));
        List<Case> cases = tracer.cases("notices.heronferry.example");
        assertThat(cases)
                .extracting(Case::what)
                .contains(
                        "front page",
                        "folder",
                        "missing page",
                        "deep link",
                        "over HTTPS",
                        "bucket directly",
                        "website endpoint");
        assertThat(new Tracer(sealed().cloud(SiteFile.empty())).cases(APEX))
                .extracting(Case::what)
                .contains("CDN's own name");
    }

    /** What a zone says to which nobody is led has no effect. */
    @Test
    void aZoneThatIsNotDelegatedAnswersNobody() {
        SurveyBuilder elsewhere = sealed().edit(
                        "domain",
                        "heronferry.example",
                        "'Nameservers':[{'Name':'NS-2.example.org'},{'Name':'ns-1.example.net'}]",
                        "'Nameservers':[{'Name':'ns-9.elsewhere.example'}]");
        Trace trace = trace(elsewhere, SITE + "/");
        assertThat(trace.open()).isTrue();
        assertThat(trace.why()).contains("is delegated to ns-9.elsewhere.example");
        String below =
                "{'HostedZone':{'Id':'/hostedzone/Z2','Name':'tides.heronferry.example.'},'DelegationSet':{'NameServers':['ns-5.example.net']}}";
        String records =
                "{'ResourceRecordSets':[{'Name':'tides.heronferry.example.','Type':'A','AliasTarget':{'HostedZoneId':'Z2FDTNDATAQYW2','DNSName':'e1.cloudfront.net.'}}],'IsTruncated':false}";
        SurveyBuilder child =
                sealed().found("zone", "hostedzone/Z2", below).found("zone-records", "hostedzone/Z2", records);
        assertThat(got(child, "http://tides.heronferry.example/")).isEqualTo("the name is not found");
        SurveyBuilder delegated = child.edit(
                "zone-records",
                ZONE,
                "'ResourceRecordSets':[",
                "'ResourceRecordSets':[{'Name':'tides.heronferry.example.','Type':'NS','TTL':1,'ResourceRecords':[{'Value':'ns-5.example.net.'}]},");
        assertThat(got(delegated, "http://tides.heronferry.example/")).doesNotContain("not found");
    }

    @Test
    void withoutDnsABucketThatBearsTheHostsNameIsFollowed() {
        SurveyBuilder noDns =
                open().without("zone", ZONE).without("zone-records", ZONE).without("zone-list", SurveyBuilder.ACCOUNT);
        Trace trace = trace(noDns, OPEN_SITE + "/");
        assertThat(trace.open()).isTrue();
        assertThat(trace.outcomes()).extracting(Outcome::said).contains("200, the object index.html");
        assertThat(trace(noDns, "http://other.heronferry.example/").outcomes()).isEmpty();
    }

    @Test
    void aWordInTheQueryAsksTheStorageServiceForSomethingElse() {
        String direct = "http://" + "s3.us-east-1.amazonaws.com/notices.heronferry.example/index.html";
        assertThat(got(open(), direct)).isEqualTo("200, the object index.html");
        assertThat(got(open(), direct + "?acl")).isEqualTo("403");
        assertThat(got(open(), direct + "?versionId=3")).isEqualTo("403");
        assertThat(got(open(), direct + "?utm_source=acl")).isEqualTo("200, the object index.html");
        assertThat(got(open().unread("bucket-policy", OPEN_ARN), direct + "?acl"))
                .isEqualTo("200 | 403 ?");
    }

    /** The remedy is what gives this very page on a copy: nothing is to be granted that stands there already. */
    @Test
    void theRemedyIsTheSmallestChangeThatGivesThePage() {
        SurveyBuilder blocked = open().bucket(OPEN_BUCKET, bucket -> bucket.policy(READ)
                .website("{'IndexDocument':{'Suffix':'index.html'}}")
                .guard(true));
        assertThat(trace(blocked, OPEN_SITE + "/").remedy())
                .isEqualTo(
                        "Turn off RestrictPublicBuckets in the bucket's public access block, which takes the grant back.");
        assertThat(trace(blocked.accountGuard(true), OPEN_SITE + "/").remedy())
                .startsWith("Turn off RestrictPublicBuckets in the account's public access block")
                .contains("and turn off RestrictPublicBuckets in the bucket's");
        SurveyBuilder ungranted = open().absent("bucket-policy", OPEN_ARN, "NoSuchBucketPolicy");
        assertThat(trace(ungranted, OPEN_SITE + "/").remedy())
                .isEqualTo("If visitors are meant to read the bucket: grant everyone s3:GetObject on " + OPEN_ARN
                        + "/* in the bucket policy; if not, serve it through a distribution that signs.");
        SurveyBuilder payer = open().found("bucket-payer", OPEN_ARN, "{'Payer':'Requester'}");
        assertThat(trace(payer, OPEN_SITE + "/").remedy()).startsWith("Let the bucket's owner pay");
    }

    /** Each remedy was made on a copy and gave the page there; what is told is what was made. */
    @Test
    void aRemedyIsToldWithAllThatThePageStillNeeds() {
        SurveyBuilder disabled =
                sealed().edit("distribution", EDGE, "'Enabled':true,'ViewerC", "'Enabled':false,'ViewerC");
        assertThat(trace(disabled, SITE + "/").remedy())
                .isEqualTo("Enable the distribution, or lead the host elsewhere.");
        disabled.edit("distribution", EDGE, "'DefaultRootObject':'index.html'", "'DefaultRootObject':''");
        assertThat(trace(disabled, SITE + "/").remedy())
                .isEqualTo(
                        "Enable the distribution, or lead the host elsewhere. Then: Set the distribution's default root"
                                + " object to index.html.");
        SurveyBuilder ungranted = sealed().absent("bucket-policy", BUCKET_ARN, "NoSuchBucketPolicy");
        assertThat(trace(ungranted, SITE + "/fares.html").remedy())
                .isEqualTo("Grant the service cloudfront.amazonaws.com for " + EDGE + " s3:GetObject on " + BUCKET_ARN
                        + "/* in the bucket policy.");
        SurveyBuilder denied = sealed().bucket(
                        "heron-www",
                        bucket -> bucket.policy(
                                "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'s3:GetObject','Resource':'"
                                        + BUCKET_ARN + "/*'}",
                                "{'Sid':'Shut','Effect':'Deny','Principal':'*','Action':'s3:GetObject','Resource':'"
                                        + BUCKET_ARN + "/*'}"));
        assertThat(trace(denied, SITE + "/fares.html").remedy())
                .startsWith("Except the service cloudfront.amazonaws.com for " + EDGE)
                .contains("statement \"Shut\", which denies it");
        SurveyBuilder unlisted = sealed().edit(
                        "distribution", EDGE, "'heronferry.example','www.heronferry.example'", "'heronferry.example'");
        assertThat(trace(unlisted, SITE + "/").remedy())
                .isEqualTo("Add www.heronferry.example to the distribution's alternate domain names, with a certificate"
                        + " that covers it.");
        SurveyBuilder expired = sealed().edit("certificate", CERTIFICATE, "2027-03-11", "2026-03-11");
        assertThat(trace(expired, SITE + "/").remedy()).isEqualTo("Renew the certificate.");
        SurveyBuilder unhosted = open().absent("bucket-website", OPEN_ARN, "NoSuchWebsiteConfiguration");
        assertThat(trace(unhosted, OPEN_SITE + "/").remedy())
                .startsWith("Turn website hosting on")
                .doesNotContain("Then");
        assertThat(trace(open(), OPEN_SITE + "/no-such.html").remedy()).startsWith("Upload the object");
        SurveyBuilder both = open().absent("bucket-website", OPEN_ARN, "NoSuchWebsiteConfiguration")
                .absent("bucket-policy", OPEN_ARN, "NoSuchBucketPolicy");
        assertThat(trace(both, OPEN_SITE + "/").remedy())
                .contains("Then: If visitors are meant to read the bucket: grant everyone s3:GetObject");
    }

    /** The endpoint's name is written with a dash in older regions, and with a dot in others. */
    @Test
    void aRecordLeadsToTheEndpointsOwnName() {
        SurveyBuilder nameless = open().zone(
                        "{'Name':'other.heronferry.example.','Type':'A','TTL':1,'ResourceRecords':[{'Value':'192.0.2.1'}]}");
        assertThat(trace(nameless, OPEN_SITE + "/").remedy())
                .isEqualTo("Add an alias record for the host that leads to s3-website-us-east-1.amazonaws.com.");
    }

    @Test
    void whatARemedyDoesNotSettleIsSaid() {
        SurveyBuilder unread = sealed().edit(
                        "distribution", EDGE, "'Enabled':true,'ViewerC", "'Enabled':false,'ViewerC")
                .unread("bucket-policy", BUCKET_ARN);
        assertThat(trace(unread, SITE + "/fares.html").remedy())
                .startsWith(
                        "Enable the distribution, or lead the host elsewhere. That alone does not surely give the page:")
                .contains("is not known");
    }

    @Test
    void overAnUnreadCertificateNothingIsCertain() {
        Trace trace = trace(sealed().unread("certificate", CERTIFICATE), SITE + "/");
        assertThat(trace.isCertain()).isFalse();
        assertThat(trace.needs()).anyMatch(need -> need.aspect().equals("certificate"));
        assertThat(got(sealed().unread("certificate", CERTIFICATE), "http://www.heronferry.example/a"))
                .isEqualTo("301 to https://www.heronferry.example/a");
    }

    /** A bucket as a custom origin is asked over what that origin's policy says, not over what the viewer speaks. */
    @Test
    void aCustomOriginIsAskedByItsOwnProtocol() {
        String bucketOrigin = "'S3OriginConfig':{'OriginAccessIdentity':''},'OriginAccessControlId':'C1'";
        String custom = "'CustomOriginConfig':{'OriginProtocolPolicy':'%s'}";
        String tlsOnly =
                "{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':'%1$s/*','Condition':{'Bool':{'aws:SecureTransport':'false'}}}";
        SurveyBuilder survey = sealed().accountGuard(false).bucket("heron-www", bucket -> bucket.policy(
                        "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'" + BUCKET_ARN + "/*'}",
                        String.format(tlsOnly, BUCKET_ARN))
                .objects("index.html"));
        assertThat(got(survey.edit("distribution", EDGE, bucketOrigin, String.format(custom, "http-only")), SITE + "/"))
                .startsWith("403");
        assertThat(got(survey.edit("distribution", EDGE, "http-only", "https-only"), SITE + "/"))
                .isEqualTo("200, the object index.html");
    }

    @Test
    void theAnswerSaysAsWhatItIsSent() {
        SurveyBuilder untyped =
                open().found("object", OPEN_ARN + "/index.html", "{'ContentType':'application/octet-stream'}");
        assertThat(answer(untyped)).contains("index.html, as application/octet-stream: a browser downloads it.");
        assertThat(answer(open())).endsWith("The visitor gets 200, the object index.html.");
    }

    private static String answer(SurveyBuilder survey) {
        List<Step> steps = trace(survey, OPEN_SITE + "/").steps();
        return steps.get(steps.size() - 1).says();
    }
}
