package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.cli.Program.run;

import java.nio.file.Path;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;
import warden.cli.Program.Run;
import warden.standin.Faults;
import warden.standin.aws.StandIn;

/** Surveys that hold what the demo does not: settings in all their forms, names that need escaping, listings of many pages. */
@Isolated("sets the credentials of the whole process")
class RoundTripTest {
    private static final String ACCOUNT = "109876543210";

    @TempDir
    private Path folder;

    private final StringBuilder survey = new StringBuilder();

    @BeforeEach
    void begin() {
        System.setProperty("aws.region", "eu-west-1");
        System.setProperty("aws.accessKeyId", StandIn.keyOf("arn:aws:iam::" + ACCOUNT + ":root"));
        System.setProperty("aws.secretAccessKey", "any");
        survey.append("{\"survey\":1,\"provider\":\"aws\",\"account\":\"" + ACCOUNT + "\"}\n");
        absent("account-public-access", ACCOUNT, "NoSuchPublicAccessBlockConfiguration");
        found("account-summary", ACCOUNT, "{'SummaryMap':{'Users':1,'AccountMFAEnabled':0}}");
        found("zone-list", ACCOUNT, "{'HostedZones':[],'IsTruncated':false,'MaxItems':'100'}");
    }

    @AfterEach
    void forget() {
        for (String name : Set.of("aws.region", "aws.accessKeyId", "aws.secretAccessKey")) {
            System.clearProperty(name);
        }
    }

    private void found(String aspect, String of, String body) {
        survey.append(
                "{\"aspect\":\"" + aspect + "\",\"of\":\"" + of + "\",\"found\":" + body.replace('\'', '"') + "}\n");
    }

    private void absent(String aspect, String of, String code) {
        survey.append("{\"aspect\":\"" + aspect + "\",\"of\":\"" + of + "\",\"absent\":\"" + code + "\"}\n");
    }

    private void noDistributions() {
        found("distribution-list", ACCOUNT, "{'DistributionList':{'IsTruncated':false,'Items':[]}}");
    }

    private void buckets(String... names) {
        StringBuilder list = new StringBuilder();
        for (String name : names) {
            list.append(list.isEmpty() ? "" : ",")
                    .append("{'Name':'" + name + "','CreationDate':'2024-05-01T10:00:00+00:00'}");
        }
        found("bucket-list", ACCOUNT, "{'Buckets':[" + list + "],'Owner':{'ID':'0a1b2c'}}");
    }

    /** What every bucket has, with nothing set. */
    private void plain(String name) {
        String arn = "arn:aws:s3:::" + name;
        found("bucket-location", arn, "{'LocationConstraint':'eu-west-1'}");
        absent("bucket-policy", arn, "NoSuchBucketPolicy");
        absent("bucket-public-access", arn, "NoSuchPublicAccessBlockConfiguration");
        absent("bucket-ownership", arn, "OwnershipControlsNotFoundError");
        found(
                "bucket-acl",
                arn,
                "{'Owner':{'ID':'0a1b2c'},'Grants':[{'Grantee':{'ID':'0a1b2c','Type':'CanonicalUser'},"
                        + "'Permission':'FULL_CONTROL'}]}");
        absent("bucket-website", arn, "NoSuchWebsiteConfiguration");
        absent("bucket-encryption", arn, "ServerSideEncryptionConfigurationNotFoundError");
        found("bucket-versioning", arn, "{}");
        absent("bucket-lifecycle", arn, "NoSuchLifecycleConfiguration");
        found("bucket-logging", arn, "{}");
        absent("bucket-cors", arn, "NoSuchCORSConfiguration");
        found("bucket-payer", arn, "{'Payer':'BucketOwner'}");
    }

    private void assertComesBack(Faults faults, String... more) throws Exception {
        Path file = folder.resolve("survey.ndjson");
        try (StandIn standIn = Program.standIn(survey.toString(), faults)) {
            String[] fixed = {"survey", "--endpoint", standIn.endpoint(), "-o", file.toString(), "--objects", "5000"};
            String[] all = java.util.stream.Stream.concat(java.util.Arrays.stream(fixed), java.util.Arrays.stream(more))
                    .toArray(String[]::new);
            Run run = run(all);
            assertThat(run.code()).as(run.err()).isZero();
            Sameness.assertSame(Program.read(file), survey.toString());
        }
    }

    @Test
    void settingsInAllTheirForms() throws Exception {
        noDistributions();
        buckets("quay");
        String arn = "arn:aws:s3:::quay";
        found("bucket-location", arn, "{'LocationConstraint':'eu-west-1'}");
        found(
                "bucket-policy",
                arn,
                "{'Policy':{'Version':'2012-10-17','Statement':[{'Sid':'A','Effect':'Allow','Principal':{'AWS':['"
                        + ACCOUNT + "']},'Action':'s3:*','Resource':['arn:aws:s3:::quay','arn:aws:s3:::quay/*']}]}}");
        found(
                "bucket-public-access",
                arn,
                "{'PublicAccessBlockConfiguration':{'BlockPublicAcls':true,'IgnorePublicAcls':false,"
                        + "'BlockPublicPolicy':true,'RestrictPublicBuckets':false}}");
        found("bucket-ownership", arn, "{'OwnershipControls':{'Rules':[{'ObjectOwnership':'ObjectWriter'}]}}");
        found(
                "bucket-acl",
                arn,
                "{'Owner':{'ID':'0a1b2c'},'Grants':[{'Grantee':{'ID':'0a1b2c','Type':'CanonicalUser'},"
                        + "'Permission':'FULL_CONTROL'},{'Grantee':{'Type':'Group','URI':"
                        + "'http://acs.amazonaws.com/groups/s3/LogDelivery'},'Permission':'READ_ACP'},"
                        + "{'Grantee':{'ID':'9f8e7d','Type':'CanonicalUser'},'Permission':'READ'}]}");
        found(
                "bucket-website",
                arn,
                "{'IndexDocument':{'Suffix':'index.html'},'ErrorDocument':{'Key':'errors/404.html'},'RoutingRules':["
                        + "{'Condition':{'KeyPrefixEquals':'docs/'},'Redirect':{'ReplaceKeyPrefixWith':'documents/'}},"
                        + "{'Condition':{'HttpErrorCodeReturnedEquals':'404'},'Redirect':{'HostName':'old.heronferry.example',"
                        + "'HttpRedirectCode':'302','Protocol':'https','ReplaceKeyWith':'lost & found.html'}}]}");
        found(
                "bucket-encryption",
                arn,
                "{'ServerSideEncryptionConfiguration':{'Rules':[{'ApplyServerSideEncryptionByDefault':{'SSEAlgorithm':"
                        + "'AES256'},'BucketKeyEnabled':true}]}}");
        found("bucket-versioning", arn, "{'Status':'Suspended','MFADelete':'Disabled'}");
        found(
                "bucket-lifecycle",
                arn,
                "{'Rules':[{'ID':'old','Filter':{'And':{'Prefix':'logs/','Tags':[{'Key':'a','Value':'b'}]}},'Status':'Enabled',"
                        + "'Expiration':{'Days':30},'NoncurrentVersionExpiration':{'NoncurrentDays':7},"
                        + "'AbortIncompleteMultipartUpload':{'DaysAfterInitiation':3}},{'ID':'cold','Filter':{'Prefix':''},"
                        + "'Status':'Disabled','Transitions':[{'Days':90,'StorageClass':'GLACIER'}]}]}");
        found("bucket-logging", arn, "{'LoggingEnabled':{'TargetBucket':'quay','TargetPrefix':'logs/'}}");
        found(
                "bucket-cors",
                arn,
                "{'CORSRules':[{'ID':'one','AllowedHeaders':['*'],'AllowedMethods':['GET','PUT'],'AllowedOrigins':"
                        + "['https://a.example','https://b.example'],'ExposeHeaders':['ETag'],'MaxAgeSeconds':600}]}");
        found("bucket-payer", arn, "{'Payer':'Requester'}");
        found("bucket-objects", arn, "{'IsTruncated':false}");
        assertComesBack(Faults.none());
    }

    @Test
    void namesThatNeedEscaping() throws Exception {
        noDistributions();
        buckets("quay.isles.example");
        plain("quay.isles.example");
        StringBuilder contents = new StringBuilder();
        // In the order of their UTF-8 bytes, as the provider lists them.
        for (String key : new String[] {
            " leading", "#hash", "%41", "&amp;", "+plus", "a b/c  d", "a//b", "a?b=c", "dot/../up", "ø/Skerry", "島.html"
        }) {
            contents.append(contents.isEmpty() ? "" : ",")
                    .append("{'Key':'" + key
                            + "','LastModified':'2026-11-01T00:00:00+00:00','ETag':'\\'0f\\'','Size':1,"
                            + "'StorageClass':'STANDARD'}");
        }
        survey.append(
                "{\"aspect\":\"bucket-objects\",\"of\":\"arn:aws:s3:::quay.isles.example\",\"found\":{\"Contents\":["
                        + contents.toString().replace("\\'", "\\\"").replace('\'', '"')
                        + "],\"IsTruncated\":false}}\n");
        Path file = folder.resolve("survey.ndjson");
        try (StandIn standIn = Program.standIn(survey.toString(), Faults.none())) {
            Run run = run("survey", "--endpoint", standIn.endpoint(), "-o", file.toString());
            assertThat(run.code()).as(run.err()).isZero();
            assertThat(Sameness.of(Program.read(file))).containsAllEntriesOf(Sameness.of(survey.toString()));
        }
    }

    @Test
    void listingsOfManyPages() throws Exception {
        noDistributions();
        buckets("quay");
        plain("quay");
        StringBuilder contents = new StringBuilder();
        for (int i = 0; i < 2_350; i++) {
            contents.append(i == 0 ? "" : ",")
                    .append(String.format(
                            "{'Key':'t/%05d','LastModified':'2026-11-01T00:00:00+00:00','ETag':'0','Size':%d,"
                                    + "'StorageClass':'STANDARD'}",
                            i, i));
        }
        found("bucket-objects", "arn:aws:s3:::quay", "{'Contents':[" + contents + "],'IsTruncated':false}");
        Path file = folder.resolve("survey.ndjson");
        try (StandIn standIn = Program.standIn(survey.toString(), Faults.none())) {
            Run run = run("survey", "--endpoint", standIn.endpoint(), "-o", file.toString(), "--objects", "5000");
            assertThat(run.code()).as(run.err()).isZero();
            String key = "bucket-objects arn:aws:s3:::quay";
            assertThat(Sameness.of(Program.read(file)).get(key))
                    .isEqualTo(Sameness.of(survey.toString()).get(key));
            // Fewer are listed when fewer are asked for, and the survey says that more follow.
            Run few = run(
                    "survey", "--endpoint", standIn.endpoint(), "-o", file.toString(), "--force", "--objects", "1000");
            assertThat(few.code()).isZero();
            assertThat(Program.read(file))
                    .contains("t/00999", "\"IsTruncated\":true")
                    .doesNotContain("t/01000");
        }
    }

    @Test
    void distributionsWithAllThatTheyRefuseAndRewrite() throws Exception {
        buckets();
        String arn = "arn:aws:cloudfront::" + ACCOUNT + ":distribution/E9";
        found(
                "distribution-list",
                ACCOUNT,
                "{'DistributionList':{'IsTruncated':false,'Items':[{'Id':'E9','ARN':'" + arn
                        + "','Status':'Deployed','DomainName':'d9.cloudfront.net','Enabled':true}]}}");
        found(
                "distribution",
                arn,
                "{'ETag':'E1ABC','Distribution':{'Id':'E9','ARN':'" + arn
                        + "','Status':'Deployed','DomainName':'d9.cloudfront.net','DistributionConfig':{'CallerReference':'r',"
                        + "'Aliases':{'Quantity':1,'Items':['a.heronferry.example']},'DefaultRootObject':'index.html',"
                        + "'Origins':{'Quantity':1,'Items':[{'Id':'o','DomainName':'quay.s3.eu-west-1.amazonaws.com',"
                        + "'OriginPath':'/live','CustomHeaders':{'Quantity':1,'Items':[{'HeaderName':'Referer',"
                        + "'HeaderValue':'tide'}]},'S3OriginConfig':{'OriginAccessIdentity':''}}]},"
                        + "'DefaultCacheBehavior':{'TargetOriginId':'o','ViewerProtocolPolicy':'https-only',"
                        + "'AllowedMethods':{'Quantity':2,'Items':['HEAD','GET'],'CachedMethods':{'Quantity':2,"
                        + "'Items':['HEAD','GET']}},'Compress':true,'ForwardedValues':{'QueryString':false,"
                        + "'Cookies':{'Forward':'none'}},'MinTTL':0,'DefaultTTL':60,'MaxTTL':600},"
                        + "'CacheBehaviors':{'Quantity':1,'Items':[{'PathPattern':'/img/*.jpg','TargetOriginId':'o',"
                        + "'ViewerProtocolPolicy':'allow-all'}]},'CustomErrorResponses':{'Quantity':1,'Items':"
                        + "[{'ErrorCode':403,'ResponsePagePath':'/404.html','ResponseCode':'404','ErrorCachingMinTTL':10}]},"
                        + "'Comment':'a < b & c','Enabled':true,'ViewerCertificate':{'CloudFrontDefaultCertificate':true,"
                        + "'MinimumProtocolVersion':'TLSv1'},'Restrictions':{'GeoRestriction':{'RestrictionType':'none',"
                        + "'Quantity':0}},'HttpVersion':'http2','IsIPV6Enabled':false}}}");
        assertComesBack(Faults.none());
    }

    @Test
    void answersThatEndInTheirMiddle() throws Exception {
        noDistributions();
        buckets("quay");
        plain("quay");
        found("bucket-objects", "arn:aws:s3:::quay", "{'IsTruncated':false}");
        assertComesBack(new Faults(0, 10, 10, 20, Set.of()));
    }
}
