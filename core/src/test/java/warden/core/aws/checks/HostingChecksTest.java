package warden.core.aws.checks;

import static warden.core.fixture.Audited.check;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.EDGE;
import static warden.core.fixture.HealthySites.HOST;
import static warden.core.fixture.HealthySites.OPEN_ARN;
import static warden.core.fixture.HealthySites.OPEN_HOST;
import static warden.core.fixture.HealthySites.behindWebsite;
import static warden.core.fixture.HealthySites.open;
import static warden.core.fixture.HealthySites.sealed;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import warden.core.audit.Severity;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.Routing;
import warden.core.site.SiteFile.StatedSite;

/** Hit, near miss and unread of each check of the area hosting that SiteChecksTest does not hold. */
class HostingChecksTest {
    private static final String WEBSITE =
            "{'IndexDocument':{'Suffix':'index.html'},'ErrorDocument':{'Key':'404.html'}}";
    private static final String KEY = "arn:aws:kms:us-east-1:210987654321:key/k1";

    private static SiteFile stated(Routing routing, String host) {
        StatedSite site = new StatedSite(
                "app",
                List.of(host),
                Optional.empty(),
                Optional.of(routing),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                List.of(),
                Optional.empty());
        return new SiteFile(List.of(site), List.of(), Optional.empty(), List.of());
    }

    private static SurveyBuilder website(String document) {
        return open().found("bucket-website", OPEN_ARN, document);
    }

    @Test
    void hostingOff() {
        check("hosting-off", open().absent("bucket-website", OPEN_ARN, "NoSuchWebsiteConfiguration"))
                .flags(Severity.HIGH, OPEN_ARN, "website hosting is off");
        check("hosting-off", behindWebsite().absent("bucket-website", BUCKET_ARN, "NoSuchWebsiteConfiguration"))
                .flags(Severity.HIGH, BUCKET_ARN, "website hosting is off");
        check("hosting-off", sealed()).doesNotApply();
        check("hosting-off", open().unread("bucket-website", OPEN_ARN)).isUnknownFor("bucket-website");
    }

    @Test
    void hostingUnused() {
        check("hosting-unused", sealed().found("bucket-website", BUCKET_ARN, WEBSITE))
                .flags(Severity.LOW, BUCKET_ARN, "nothing uses the website endpoint");
        check("hosting-unused", open()).doesNotApply();
        check("hosting-unused", behindWebsite()).doesNotApply();
        check("hosting-unused", sealed().unread("bucket-website", BUCKET_ARN)).isUnknownFor("bucket-website");
    }

    @Test
    void indexInvalid() {
        check("index-invalid", website("{'IndexDocument':{'Suffix':'pages/index.html'}}"))
                .flags(Severity.HIGH, OPEN_ARN, "contains a slash");
        check("index-invalid", website("{'IndexDocument':{'Suffix':''}}"))
                .flags(Severity.HIGH, OPEN_ARN, "names no index");
        check("index-invalid", website("{'RedirectAllRequestsTo':{'HostName':'x.example'}}"))
                .isSilent();
    }

    @Test
    void errorMissing() {
        check("error-missing", website("{'IndexDocument':{'Suffix':'index.html'},'ErrorDocument':{'Key':'oops.html'}}"))
                .flags(Severity.MEDIUM, OPEN_ARN, "The error document oops.html does not exist");
        String both = "'ErrorCode':403,'ResponsePagePath':'/404.html'";
        check("error-missing", sealed().edit("distribution", EDGE, both, both.replace("404.html", "gone.html")))
                .flags(Severity.MEDIUM, BUCKET_ARN, "The custom error page gone.html does not exist");
        check("error-missing", sealed()).isSilent();
        check("error-missing", sealed().unread("bucket-objects", BUCKET_ARN)).isUnknownFor("bucket-objects");
        check(
                        "error-missing",
                        sealed().found("bucket-objects", BUCKET_ARN, "{'Contents':[{'Key':'a'}],'IsTruncated':true}"))
                .isUnknownFor("bucket-objects");
    }

    @Test
    void singlePageUnrouted() {
        check("single-page-unrouted", sealed(), stated(Routing.SINGLE_PAGE, HOST))
                .flags(Severity.HIGH, BUCKET_ARN, "A deep link into the application gets 404");
        String toIndex = "'ErrorCode':403,'ResponsePagePath':'/index.html','ResponseCode':'200'";
        SurveyBuilder routed = sealed().edit(
                        "distribution",
                        EDGE,
                        "'ErrorCode':403,'ResponsePagePath':'/404.html','ResponseCode':'404'",
                        toIndex);
        check("single-page-unrouted", routed, stated(Routing.SINGLE_PAGE, HOST)).isSilent();
        // The index with the error's own status counts as routed.
        SurveyBuilder indexAsError =
                website("{'IndexDocument':{'Suffix':'index.html'},'ErrorDocument':{'Key':'index.html'}}");
        check("single-page-unrouted", indexAsError, stated(Routing.SINGLE_PAGE, OPEN_HOST))
                .isSilent();
        check("single-page-unrouted", sealed(), stated(Routing.PAGES, HOST)).doesNotApply();
        check("single-page-unrouted", sealed().unread("bucket-policy", BUCKET_ARN), stated(Routing.SINGLE_PAGE, HOST))
                .isUnknownFor("bucket-policy");
    }

    /** After the first cause is mended the second is still there. */
    @Test
    void singlePageUnroutedBehindAnotherFault() {
        SurveyBuilder refused = sealed().bucket("heron-www", bucket -> bucket.guard(true));
        check("origin-identity-not-allowed", refused, stated(Routing.SINGLE_PAGE, HOST))
                .flags(Severity.HIGH, BUCKET_ARN, "does not let it read");
        String noResponses = "'CustomErrorResponses':{'Items':[]}";
        String responses =
                "'CustomErrorResponses':{'Items':[{'ErrorCode':403,'ResponsePagePath':'/404.html','ResponseCode':'404'},{'ErrorCode':404,'ResponsePagePath':'/404.html','ResponseCode':'404'}]}";
        check(
                        "single-page-unrouted",
                        refused.edit("distribution", EDGE, responses, noResponses),
                        stated(Routing.SINGLE_PAGE, HOST))
                .flags(Severity.HIGH, BUCKET_ARN, "Nothing leads a deep link to the index document");
        String routed =
                "'CustomErrorResponses':{'Items':[{'ErrorCode':403,'ResponsePagePath':'/index.html','ResponseCode':'200'}]}";
        check(
                        "single-page-unrouted",
                        refused.edit("distribution", EDGE, noResponses, routed),
                        stated(Routing.SINGLE_PAGE, HOST))
                .isSilent();
    }

    private static SurveyBuilder hosted(String... statements) {
        return SurveyBuilder.aSurvey().bucket("tides", bucket -> {
            if (statements.length > 0) {
                bucket.policy(statements);
            }
            bucket.website("{'IndexDocument':{'Suffix':'index.html'},'ErrorDocument':{'Key':'404.html'}}")
                    .objects("index.html", "404.html", "fares.html");
        });
    }

    @Test
    void pagesThatAreNotServedAreFoundWithoutAnotherCause() {
        String tides = "arn:aws:s3:::tides";
        check("page-not-served", hosted())
                .flags(Severity.HIGH, tides, "Visitors of http://tides.s3-website-us-east-1.amazonaws.com/ get 403");
        String everything = "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'" + tides + "/%s'}";
        check("page-not-served", hosted(String.format(everything, "*"))).isSilent();
        check("page-not-served", hosted(String.format(everything, "index.html")))
                .flags(Severity.HIGH, tides, "/404.html get 403");
        check("page-not-served", hosted(String.format(everything, "*")).unread("bucket-public-access", tides))
                .isUnknownFor("bucket-public-access");
        // The block that takes the grant back has a check of its own.
        check(
                        "page-not-served",
                        hosted(String.format(everything, "*")).bucket("other").accountGuard(true))
                .doesNotApply();
        check("page-not-served", sealed()).isSilent();
    }

    @Test
    void singlePageMasksErrors() {
        String to404 = "'ErrorCode':403,'ResponsePagePath':'/404.html','ResponseCode':'404'";
        String toIndex = "'ErrorCode':403,'ResponsePagePath':'/index.html','ResponseCode':'200'";
        check("single-page-masks-errors", sealed().edit("distribution", EDGE, to404, toIndex))
                .flags(Severity.LOW, BUCKET_ARN, "answers 200 with the front page");
        SurveyBuilder application = sealed().edit("distribution", EDGE, to404, toIndex)
                .found(
                        "bucket-objects",
                        BUCKET_ARN,
                        "{'Contents':[{'Key':'index.html'},{'Key':'app.js'}],'IsTruncated':false}");
        check("single-page-masks-errors", application).doesNotApply();
        SurveyBuilder cut = sealed().edit("distribution", EDGE, to404, toIndex)
                .found("bucket-objects", BUCKET_ARN, "{'Contents':[{'Key':'index.html'}],'IsTruncated':true}");
        check("single-page-masks-errors", cut).isUnknownFor("bucket-objects");
        check("single-page-masks-errors", application, stated(Routing.PAGES, HOST))
                .flags(Severity.LOW, BUCKET_ARN, "answers 200");
        check("single-page-masks-errors", sealed()).isSilent();
    }

    private static SurveyBuilder redirecting(String target, String protocol) {
        String redirect = "{'RedirectAllRequestsTo':{'HostName':'" + target + "'" + protocol + "}}";
        String record =
                ",{'Name':'old.heronferry.example.','Type':'A','AliasTarget':{'DNSName':'s3-website-us-east-1.amazonaws.com.'}}";
        return sealed().bucket(
                        "old.heronferry.example",
                        bucket -> bucket.website(redirect).objects().guard(true))
                .edit("zone-records", "hostedzone/Z1", "],'IsTruncated':false", record + "],'IsTruncated':false");
    }

    @Test
    void redirectBroken() {
        String old = "arn:aws:s3:::old.heronferry.example";
        String https = ",'Protocol':'https'";
        check("redirect-broken", redirecting("nowhere.heronferry.example", https))
                .flags(Severity.HIGH, old, "the name is not found");
        check("redirect-broken", redirecting("old.heronferry.example", ""))
                .flags(Severity.HIGH, old, "round in a circle");
        check("redirect-broken", redirecting("old.heronferry.example", https))
                .flags(Severity.HIGH, old, "no connection");
        check("redirect-broken", redirecting(HOST, https)).isSilent();
        check("redirect-broken", redirecting("shop.elsewhere.example", https)).isUnknownFor("zone-records");
    }

    @Test
    void redirectToPlainHttp() {
        String old = "arn:aws:s3:::old.heronferry.example";
        check("redirect-to-plain-http", redirecting(HOST, ",'Protocol':'http'"))
                .flags(Severity.MEDIUM, old, "leads visitors to http://" + HOST);
        check("redirect-to-plain-http", redirecting(HOST, "")).flags(Severity.MEDIUM, old, "serves HTTPS too");
        check("redirect-to-plain-http", redirecting(HOST, ",'Protocol':'https'"))
                .doesNotApply();
        String toOpen = "{'RedirectAllRequestsTo':{'HostName':'" + OPEN_HOST + "','Protocol':'http'}}";
        check("redirect-to-plain-http", open().bucket("old", bucket -> bucket.website(toOpen)))
                .isSilent();
        check("redirect-to-plain-http", redirecting("shop.elsewhere.example", ""))
                .isUnknownFor("zone-records");
    }

    private static SurveyBuilder underKey(String... statements) {
        return sealed().found(
                        "bucket-encryption",
                        BUCKET_ARN,
                        "{'ServerSideEncryptionConfiguration':{'Rules':[{'ApplyServerSideEncryptionByDefault':{'SSEAlgorithm':'aws:kms','KMSMasterKeyID':'"
                                + KEY + "'}}]}}")
                .found(
                        "object",
                        BUCKET_ARN + "/index.html",
                        "{'ServerSideEncryption':'aws:kms','SSEKMSKeyId':'" + KEY + "','CacheControl':'no-cache'}")
                .keyPolicy(KEY, statements);
    }

    @Test
    void encryptedBeyondReaders() {
        String root =
                "{'Effect':'Allow','Principal':{'AWS':'arn:aws:iam::210987654321:root'},'Action':'kms:*','Resource':'*'}";
        String edge =
                "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'kms:Decrypt','Resource':'*',"
                        + "'Condition':{'StringEquals':{'aws:SourceArn':'" + EDGE + "'}}}";
        check("encrypted-beyond-readers", underKey(root))
                .flags(Severity.HIGH, BUCKET_ARN, "the distribution cannot use");
        check("origin-identity-not-allowed", underKey(root)).isSilent();
        check("encrypted-beyond-readers", underKey(root, edge)).isSilent();
        check("encrypted-beyond-readers", underKey(root).unread("key-policy", KEY))
                .isUnknownFor("key-policy");
    }

    @Test
    void requesterPays() {
        check("requester-pays", open().found("bucket-payer", OPEN_ARN, "{'Payer':'Requester'}"))
                .flags(Severity.HIGH, OPEN_ARN, "anonymous visitors get 403");
        check("requester-pays", sealed().found("bucket-payer", BUCKET_ARN, "{'Payer':'Requester'}"))
                .doesNotApply();
        check("requester-pays", open().unread("bucket-payer", OPEN_ARN)).isUnknownFor("bucket-payer");
    }

    private static SurveyBuilder rule(String body) {
        return sealed().found("bucket-lifecycle", BUCKET_ARN, "{'Rules':[{'Status':'Enabled'," + body + "}]}");
    }

    @Test
    void expiresLiveContent() {
        check("expires-live-content", rule("'Filter':{'Prefix':''},'Expiration':{'Days':30}"))
                .flags(Severity.HIGH, BUCKET_ARN, "deletes current objects");
        check(
                        "expires-live-content",
                        rule("'Prefix':'assets/','Transitions':[{'Days':1,'StorageClass':'DEEP_ARCHIVE'}]"))
                .flags(Severity.HIGH, BUCKET_ARN, "archives current objects of the site under assets/");
        check("expires-live-content", rule("'Filter':{'Prefix':'tmp/'},'Expiration':{'Days':30}"))
                .isSilent();
        check("expires-live-content", rule("'Filter':{},'Transitions':[{'Days':1,'StorageClass':'STANDARD_IA'}]"))
                .isSilent();
        check("expires-live-content", rule("'Filter':{},'Expiration':{'ExpiredObjectDeleteMarker':true}"))
                .isSilent();
        check("expires-live-content", rule("'Filter':{'Tag':{'Key':'a','Value':'b'}},'Expiration':{'Days':3}"))
                .isUnknownFor("object");
        String large = "'Filter':{'ObjectSizeGreaterThan':1000000},'Expiration':{'Days':3}";
        String small = "'Filter':{'And':{'Prefix':'','ObjectSizeLessThan':5000}},'Expiration':{'Days':3}";
        String listing = "{'Contents':[{'Key':'index.html','Size':900}],'IsTruncated':%s}";
        check("expires-live-content", rule(large).found("bucket-objects", BUCKET_ARN, String.format(listing, "false")))
                .isSilent();
        check("expires-live-content", rule(small).found("bucket-objects", BUCKET_ARN, String.format(listing, "true")))
                .flags(Severity.HIGH, BUCKET_ARN, "deletes current objects");
        check("expires-live-content", rule(large).found("bucket-objects", BUCKET_ARN, String.format(listing, "true")))
                .isUnknownFor("bucket-objects");
        check("expires-live-content", sealed().unread("bucket-lifecycle", BUCKET_ARN))
                .isUnknownFor("bucket-lifecycle");
    }

    @Test
    void versioningOff() {
        check("versioning-off", sealed().found("bucket-versioning", BUCKET_ARN, "{}"))
                .flags(Severity.MEDIUM, BUCKET_ARN, "Versioning is off");
        check("versioning-off", sealed().found("bucket-versioning", BUCKET_ARN, "{'Status':'Suspended'}"))
                .flags(Severity.MEDIUM, BUCKET_ARN, "Versioning is suspended");
        check(
                        "versioning-off",
                        redirecting(HOST, "").found("bucket-versioning", "arn:aws:s3:::old.heronferry.example", "{}"))
                .isSilent();
        check("versioning-off", sealed().unread("bucket-versioning", BUCKET_ARN))
                .isUnknownFor("bucket-versioning");
    }

    @Test
    void versionsKeptForever() {
        check("versions-kept-forever", sealed().absent("bucket-lifecycle", BUCKET_ARN, "NoSuchLifecycleConfiguration"))
                .flags(Severity.LOW, BUCKET_ARN, "unfinished uploads are kept");
        check(
                        "versions-kept-forever",
                        rule(
                                "'Filter':{},'NoncurrentVersionTransitions':[{'NoncurrentDays':30,'StorageClass':'GLACIER'}]"))
                .isSilent();
        check(
                        "versions-kept-forever",
                        rule("'Filter':{},'NoncurrentVersionExpiration':{'NoncurrentDays':30}")
                                .edit("bucket-lifecycle", BUCKET_ARN, "Enabled", "Disabled"))
                .flags(Severity.LOW, BUCKET_ARN, "Old versions never expire");
        check("versions-kept-forever", sealed().unread("bucket-lifecycle", BUCKET_ARN))
                .isUnknownFor("bucket-lifecycle");
    }

    @Test
    void storageLoggingOff() {
        check("storage-logging-off", open().found("bucket-logging", OPEN_ARN, "{}"))
                .flags(Severity.LOW, OPEN_ARN, "no access log");
        check("storage-logging-off", sealed().found("bucket-logging", BUCKET_ARN, "{}"))
                .doesNotApply();
        check("storage-logging-off", open().unread("bucket-logging", OPEN_ARN)).isUnknownFor("bucket-logging");
    }
}
