package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.Audited.check;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.acl;
import static warden.core.fixture.SurveyBuilder.alias;
import static warden.core.fixture.SurveyBuilder.grant;
import static warden.core.fixture.SurveyBuilder.guard;
import static warden.core.fixture.SurveyBuilder.restOrigin;
import static warden.core.fixture.SurveyBuilder.websiteOrigin;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.fixture.SurveyBuilder;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.StatedSite;
import warden.core.site.SitePattern;

class ExposureChecksTest {
    private static final String B = "arn:aws:s3:::b";
    private static final String HOST = "www.heronferry.example";
    private static final String READ =
            "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";
    private static final String WEBSITE =
            "{'IndexDocument':{'Suffix':'index.html'},'ErrorDocument':{'Key':'404.html'}}";

    private static String allow(String action, String resource, String condition) {
        return "{'Effect':'Allow','Principal':'*','Action':'" + action + "','Resource':'" + resource + "'" + condition
                + "}";
    }

    private static SurveyBuilder bucketWith(String... statements) {
        return aSurvey().bucket("b", bucket -> bucket.policy(statements));
    }

    private static SurveyBuilder sealedSite(String... statements) {
        return bucketWith(statements)
                .distribution("E1", HOST, "index.html", restOrigin("b", "", "C1"))
                .control("C1", "always");
    }

    private static SurveyBuilder openSite(String... statements) {
        return aSurvey().bucket("b", b -> b.website(WEBSITE).policy(statements));
    }

    static SiteFile stating(SitePattern pattern) {
        return new SiteFile(
                List.of(new StatedSite(
                        "site",
                        List.of(HOST),
                        Optional.of(pattern),
                        Optional.empty(),
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

    @ParameterizedTest
    @CsvSource({
        "anyone-can-write, s3:PutObject, arn:aws:s3:::b/*, put objects into the bucket.",
        "anyone-can-delete, s3:DeleteObject*, arn:aws:s3:::b/*, delete objects of the bucket.",
        "anyone-can-change-rules, s3:PutBucket*, arn:aws:s3:::b, change the rules of the bucket"
    })
    void strangersWithAbilitiesAreCritical(String id, String action, String resource, String says) {
        Finding finding =
                check(id, bucketWith(allow(action, resource, ""))).flags(Severity.CRITICAL, B, "Anyone can " + says);
        assertThat(finding.witness()).isPresent();
        check(id, bucketWith(READ)).isSilent();
        check(id, aSurvey().bucket("b", b -> b.unread("bucket-policy"))).isUnknownFor("bucket-policy");
    }

    @Test
    void strangersAreThoseWhoComeFromNowhereInParticular() {
        String office = ",'Condition':{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}}";
        check("anyone-can-write", bucketWith(allow("s3:PutObject", B + "/*", office)))
                .isSilent();
        String wide = ",'Condition':{'IpAddress':{'aws:SourceIp':'0.0.0.0/1'}}";
        check("anyone-can-write", bucketWith(allow("s3:PutObject", B + "/*", wide)))
                .flags(Severity.CRITICAL, B, "Anyone can put objects");
        String header = ",'Condition':{'StringEquals':{'aws:Referer':'us'}}";
        check("anyone-can-write", bucketWith(allow("s3:PutObject", B + "/*", header)))
                .flags(Severity.CRITICAL, B, "aws:Referer is us");
    }

    @Test
    void aDenyThatSparesOnlyTheOfficeKeepsStrangersOut() {
        String deny = "{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':'arn:aws:s3:::b/*',"
                + "'Condition':{'NotIpAddress':{'aws:SourceIp':'203.0.113.0/24'}}}";
        check("anyone-can-write", bucketWith(allow("s3:PutObject", B + "/*", ""), deny))
                .isSilent();
        String partly = deny.replace("arn:aws:s3:::b/*", "arn:aws:s3:::b/private/*");
        check("anyone-can-write", bucketWith(allow("s3:PutObject", B + "/*", ""), partly))
                .flags(Severity.CRITICAL, B, "except private/*");
    }

    @Test
    void twoHalvesAddUp() {
        String upTo = ",'Condition':{'StringLike':{'aws:UserAgent':'a*'}}";
        String rest = ",'Condition':{'StringNotLike':{'aws:UserAgent':'a*'}}";
        check(
                        "anyone-can-write",
                        bucketWith(allow("s3:PutObject", B + "/*", upTo), allow("s3:PutObject", B + "/*", rest)))
                .flags(Severity.CRITICAL, B, "Anyone can put objects into the bucket.");
    }

    @Test
    void anyAccountIsAStrangerToo() {
        SurveyBuilder survey =
                aSurvey().bucket("b", b -> b.aclsInForce().acl(acl(grant("WRITE", "AuthenticatedUsers"))));
        check("anyone-can-write", survey).flags(Severity.CRITICAL, B, "Anybody with credentials of any account");
    }

    @Test
    void listingIsWorseWhereTheSiteIsMeantToBeSealed() {
        String list = allow("s3:ListBucket", B, "");
        check("anyone-can-list", bucketWith(list)).flags(Severity.MEDIUM, B, "list the names");
        check("anyone-can-list", sealedSite(list)).flags(Severity.HIGH, B, "list the names");
        check("anyone-can-list", bucketWith(READ)).isSilent();
        check("anyone-can-list", aSurvey().bucket("b", b -> b.aclsInForce().unread("bucket-acl")))
                .isUnknownFor("bucket-acl");
    }

    @Test
    void aBucketBehindTheEdgeIsNotToBeReadDirectly() {
        check("open-around-cdn", sealedSite(READ)).flags(Severity.HIGH, B, "Anyone can read every object");
        check("open-around-cdn", sealedSite(READ), stating(SitePattern.OPEN_BUCKET_BEHIND_CDN))
                .doesNotApply();
        check("open-around-cdn", sealedSite(READ).accountGuard(true)).isSilent();
        check("open-around-cdn", sealedSite(READ).unread("account-public-access", SurveyBuilder.ACCOUNT))
                .isUnknownFor("account-public-access");
    }

    @Test
    void aWebsiteEndpointBehindTheEdgeNeedsASecret() {
        SurveyBuilder open = openSite(READ).distribution("E1", HOST, "", websiteOrigin("b"));
        check("open-endpoint-around-cdn", open).flags(Severity.MEDIUM, B, "directly, around the CDN");
        check("open-endpoint-around-cdn", open, stating(SitePattern.OPEN_BUCKET_BEHIND_CDN))
                .doesNotApply();
        String secret = allow("s3:GetObject", B + "/*", ",'Condition':{'StringEquals':{'aws:Referer':'tide-4711'}}");
        check(
                        "open-endpoint-around-cdn",
                        openSite(secret).distribution("E1", HOST, "", websiteOrigin("b", "Referer: tide-4711")))
                .isSilent();
        check(
                        "open-endpoint-around-cdn",
                        openSite(secret).distribution("E1", HOST, "", websiteOrigin("b", "Referer: other")))
                .flags(Severity.MEDIUM, B, "tide-4711");
        check("open-endpoint-around-cdn", open.unread("bucket-policy", B)).isUnknownFor("bucket-policy");
    }

    @Test
    void anOpenBucketWithoutASiteIsWorseWithState() {
        check("open-without-site", bucketWith(READ)).flags(Severity.HIGH, B, "serves no site");
        SurveyBuilder state = aSurvey().bucket("b", b -> b.policy(READ).objects("x.css", "net/terraform.tfstate"));
        check("open-without-site", state).flags(Severity.CRITICAL, B, "net/terraform.tfstate");
        check("open-without-site", openSite(READ)).doesNotApply();
        check("open-without-site", aSurvey().bucket("b", b -> b.policy(READ).unread("bucket-public-access")))
                .isUnknownFor("bucket-public-access");
    }

    @Test
    void oldVersionsAreNotForVisitors() {
        check("old-versions-readable", openSite(allow("s3:GetObject*", B + "/*", "")))
                .flags(Severity.MEDIUM, B, "old versions");
        check("old-versions-readable", openSite(READ)).isSilent();
        check("old-versions-readable", aSurvey().bucket("b", b -> b.unread("bucket-policy")))
                .isUnknownFor("bucket-policy");
    }

    @Test
    void objectsAreNotOpenedOneByOne() {
        SurveyBuilder read =
                aSurvey().bucket("b", b -> b.aclsInForce().objectAcl("x.pdf", acl(grant("READ", "AllUsers"))));
        check("object-acl-open", read).flags(Severity.MEDIUM, B, "x.pdf is opened by its own ACL for reading");
        SurveyBuilder write = aSurvey().bucket("b", b -> b.aclsInForce()
                .website(WEBSITE)
                .objectAcl("x.pdf", acl(grant("FULL_CONTROL", "AllUsers"))));
        check("object-acl-open", write).flags(Severity.CRITICAL, B, "for writing");
        check("object-acl-open", aSurvey().bucket("b", b -> b.objectAcl("x.pdf", acl(grant("READ", "AllUsers")))))
                .isSilent();
        check("object-acl-open", read.unread("object-acl", B + "/x.pdf")).isUnknownFor("object-acl");
    }

    @Test
    void anAccountKnownByItsCanonicalIdIsAnOutsiderToo() {
        String stranger = "5".repeat(64);
        String id = "outside-account-access";
        SurveyBuilder writes =
                aSurvey().bucket("b", b -> b.aclsInForce().acl(SurveyBuilder.acl(grant("WRITE", stranger))));
        check(id, writes).flags(Severity.CRITICAL, "arn:aws:s3:::b", stranger + ", which is not trusted");
        check(id, aSurvey().bucket("b", b -> b.acl(SurveyBuilder.acl(grant("WRITE", stranger)))))
                .isSilent();
        String everyoneElse =
                "{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':['arn:aws:s3:::b','arn:aws:s3:::b/*'],"
                        + "'Condition':{'StringNotEquals':{'aws:PrincipalAccount':'210987654321'}}}";
        check(id, aSurvey().bucket("b", b -> b.aclsInForce()
                        .policy(everyoneElse)
                        .acl(SurveyBuilder.acl(grant("FULL_CONTROL", stranger)))))
                .isSilent();
        String logs = "c4c1ede66af53448b93c283ce9448c4ba468c9432aa01d700d3878632f77d2d0";
        check(id, aSurvey().bucket("b", b -> b.aclsInForce().acl(SurveyBuilder.acl(grant("FULL_CONTROL", logs)))))
                .isSilent();
        String reads = "{'Effect':'Allow','Principal':{'CanonicalUser':'" + stranger
                + "'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'%s}";
        check(id, aSurvey().bucket("b", b -> b.policy(String.format(reads, ""))))
                .flags(Severity.HIGH, "arn:aws:s3:::b", "can use the bucket: read");
        String condition = ",'Condition':{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}}";
        check(id, aSurvey().bucket("b", b -> b.policy(String.format(reads, condition))))
                .flags(Severity.HIGH, "arn:aws:s3:::b", "can use the bucket: read");
        SiteFile trusting = new SiteFile(List.of(), List.of("109876543210"), Optional.empty(), List.of());
        check(id, writes, trusting).isUnknownFor("bucket-list");
        check(id, aSurvey().bucket("b", b -> b.aclsInForce().unread("bucket-acl")))
                .isUnknownFor("bucket-acl");
        check(id, aSurvey().bucket("b", b -> b.unread("bucket-policy"))).isUnknownFor("bucket-policy");
    }

    @Test
    void accountsThatAreNotTrustedAreNamed() {
        String other =
                "{'Effect':'Allow','Principal':{'AWS':'109876543210'},'Action':'%s','Resource':['arn:aws:s3:::b','arn:aws:s3:::b/*']}";
        check("outside-account-access", bucketWith(String.format(other, "s3:ListBucket")))
                .flags(Severity.HIGH, B, "The account 109876543210");
        check("outside-account-access", bucketWith(String.format(other, "s3:Put*")))
                .flags(Severity.CRITICAL, B, "write");
        SiteFile trusting = new SiteFile(List.of(), List.of("109876543210"), Optional.empty(), List.of());
        check("outside-account-access", bucketWith(String.format(other, "s3:Put*")), trusting)
                .isSilent();
        check(
                        "outside-account-access",
                        bucketWith(String.format(other, "s3:GetObject")).unread("bucket-encryption", B))
                .isUnknownFor("bucket-encryption");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "{'StringEquals':{'aws:SourceAccount':'210987654321'}}",
                "{'ArnLike':{'aws:SourceArn':'arn:aws:amplify:*:210987654321:apps/*'}}",
                "{'StringEquals':{'aws:SourceOrgID':'o-1'}}"
            })
    void servicesMustSayForWhom(String condition) {
        String service =
                "{'Effect':'Allow','Principal':{'Service':'amplify.amazonaws.com'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'%s}";
        check("service-without-source", bucketWith(String.format(service, "")))
                .flags(Severity.HIGH, B, "amplify.amazonaws.com");
        check("service-without-source", bucketWith(String.format(service, ",'Condition':" + condition)))
                .isSilent();
    }

    @Test
    void theEdgesServiceHasACheckOfItsOwn() {
        String edge =
                "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'%s}";
        check("origin-identity-any-distribution", bucketWith(String.format(edge, "")))
                .flags(Severity.HIGH, B, "for any distribution of anybody");
        check("service-without-source", bucketWith(String.format(edge, ""))).isSilent();
        String ours =
                ",'Condition':{'StringEquals':{'aws:SourceArn':'arn:aws:cloudfront::210987654321:distribution/E1'}}";
        check("origin-identity-any-distribution", bucketWith(String.format(edge, ours)))
                .isSilent();
        check("origin-identity-any-distribution", bucketWith(READ).unread("bucket-policy", B))
                .isUnknownFor("bucket-policy");
    }

    @Test
    void aBucketThatNeedsNoPublicAccessIsGuarded() {
        check("guard-off", bucketWith()).flags(Severity.MEDIUM, B, "neither its own");
        check("guard-off", aSurvey().bucket("b", b -> b.guard(guard(true, true, false, true))))
                .flags(Severity.MEDIUM, B, "BlockPublicPolicy");
        check("guard-off", bucketWith().accountGuard(true)).isSilent();
        check("guard-off", openSite(READ)).doesNotApply();
        check(
                        "guard-off",
                        bucketWith()
                                .unread("account-public-access", SurveyBuilder.ACCOUNT)
                                .unread("bucket-public-access", B))
                .isUnknownFor("account-public-access");
    }

    @Test
    void theAccountIsGuardedUnlessABucketMustBeOpen() {
        check("account-guard-off", bucketWith()).flags(Severity.LOW, SurveyBuilder.ACCOUNT, "public access block");
        check("account-guard-off", bucketWith().accountGuard(true)).isSilent();
        check("account-guard-off", openSite(READ)).doesNotApply();
        check("account-guard-off", bucketWith().withoutBucketList()).isUnknownFor("bucket-list");
        SurveyBuilder refused = aSurvey().withoutBucketList().unread("bucket-list", SurveyBuilder.ACCOUNT);
        check("anyone-can-write", refused).isUnknownFor("bucket-list");
        check("account-guard-off", bucketWith().without("account-public-access", SurveyBuilder.ACCOUNT))
                .isUnknownFor("account-public-access");
    }

    @Test
    void theGuardMustNotContradictTheGrant() {
        SurveyBuilder blocked =
                aSurvey().bucket("b", b -> b.website(WEBSITE).policy(READ).guard(true));
        check("guard-contradicts-grant", blocked).flags(Severity.HIGH, B, "they get 403");
        SurveyBuilder ignored = aSurvey().bucket("b", b -> b.website(WEBSITE)
                .aclsInForce()
                .guard(true)
                .objectAcl("index.html", acl(grant("READ", "AllUsers"))));
        check("guard-contradicts-grant", ignored).flags(Severity.HIGH, B, "ACLs open objects");
        check("guard-contradicts-grant", openSite(READ)).isSilent();
        check("guard-contradicts-grant", sealedSite(READ).accountGuard(true)).doesNotApply();
        check("guard-contradicts-grant", openSite(READ).unread("bucket-public-access", B))
                .isUnknownFor("bucket-public-access");
    }

    @Test
    void listsThatNothingNeedsAreDisabled() {
        check("ownership-lets-acls", aSurvey().bucket("b", b -> b.aclsInForce()))
                .flags(Severity.LOW, B, "ACLs are in force");
        check("ownership-lets-acls", bucketWith()).isSilent();
        check("ownership-lets-acls", aSurvey().bucket("b", b -> b.aclsInForce().acl(acl(grant("READ", "AllUsers")))))
                .isSilent();
        check("ownership-lets-acls", bucketWith().unread("bucket-ownership", B)).isUnknownFor("bucket-ownership");
    }

    @Test
    void aSealedBucketAsksForTls() {
        String tls =
                "{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':['arn:aws:s3:::b','arn:aws:s3:::b/*'],"
                        + "'Condition':{'Bool':{'aws:SecureTransport':'false'}}}";
        check("plain-http-to-storage", sealedSite()).flags(Severity.LOW, B, "plain HTTP");
        check("plain-http-to-storage", sealedSite(tls.replace("'arn:aws:s3:::b',", "")))
                .flags(Severity.LOW, B, "plain HTTP");
        check("plain-http-to-storage", sealedSite(tls)).isSilent();
        check("plain-http-to-storage", openSite(READ)).doesNotApply();
        check("plain-http-to-storage", sealedSite().unread("bucket-policy", B)).isUnknownFor("bucket-policy");
    }

    @Test
    void pagesOfOthersChangeNothing() {
        String rules = "{'CORSRules':[{'AllowedMethods':['GET','%s'],'AllowedOrigins':['%s']}]}";
        check("cors-too-wide", aSurvey().bucket("b", b -> b.cors(String.format(rules, "PUT", "*"))))
                .flags(Severity.MEDIUM, B, "PUT");
        check("cors-too-wide", aSurvey().bucket("b", b -> b.cors(String.format(rules, "HEAD", "*"))))
                .isSilent();
        check("cors-too-wide", aSurvey().bucket("b", b -> b.cors(String.format(rules, "PUT", "https://a.example"))))
                .isSilent();
        check("cors-too-wide", bucketWith().unread("bucket-cors", B)).isUnknownFor("bucket-cors");
    }

    @Test
    void sitesAreFoundByTheirRecordsToo() {
        SurveyBuilder survey = aSurvey()
                .bucket(HOST, b -> b.policy(READ.replace("b/*", HOST + "/*")).website(WEBSITE))
                .zone(alias(HOST, "s3-website-us-east-1.amazonaws.com"));
        check("open-without-site", survey).doesNotApply();
    }
}
