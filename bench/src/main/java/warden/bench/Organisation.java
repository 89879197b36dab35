package warden.bench;

import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.ObjectMapper;
import tools.jackson.databind.json.JsonMapper;

/** The audit of a generated organisation of many sites, as a process, against what the JSON library takes to read the same lines into trees. */
final class Organisation {
    private static final String ACCOUNT = "210987654321";

    private Organisation() {}

    static void run(String sites) throws Exception {
        for (int count : sites.isEmpty() ? new int[] {1_000, 10_000} : new int[] {Integer.parseInt(sites)}) {
            compare(count, "audit", 3);
        }
    }

    /** The credentials of as many sites compared with what they need. */
    static void trim() throws Exception {
        compare(1_000, "trim", 3);
    }

    /** A subscription of the second provider. */
    static void subscription(String sites) throws Exception {
        int count = sites.isEmpty() ? 1_000 : Integer.parseInt(sites);
        compare(count, "audit", 3, StampedSubscription::write);
    }

    /** Writes a survey of so many sites; returns how many lines it has. */
    private interface Writer {
        long write(Path survey, int sites) throws IOException;
    }

    private static void compare(int sites, String command, double bound) throws Exception {
        compare(sites, command, bound, (survey, count) -> write(survey, count, false));
    }

    private static void compare(int sites, String command, double bound, Writer writer) throws Exception {
        StartBench.awaitArchive();
        Path survey = Files.createTempFile("organisation", ".ndjson");
        try {
            long lines = writer.write(survey, sites);
            Bench.print("%d sites, %d readings, %.0f MB", sites, lines, Files.size(survey) / 1e6);
            Spent.compare(
                    "reading the lines into trees",
                    () -> Spent.by(java("warden.bench.Organisation$Trees", survey.toString())),
                    command,
                    () -> Spent.by(program(command, survey)),
                    1,
                    bound);
        } finally {
            Files.delete(survey);
        }
    }

    /** A thousand sites under five organization policies, each with a customer key, against the same without. */
    static void rules() throws Exception {
        Path plain = Files.createTempFile("organisation", ".ndjson");
        Path ruled = Files.createTempFile("organisation", ".ndjson");
        try {
            write(plain, 1_000, false);
            write(ruled, 1_000, true);
            Spent.compare(
                    "audit of 1000 sites",
                    () -> Spent.by(program("audit", plain)),
                    "with five organization policies and a key each",
                    () -> Spent.by(program("audit", ruled)),
                    1,
                    1.5);
        } finally {
            Files.delete(plain);
            Files.delete(ruled);
        }
    }

    /** What changed between two states of 1,000 sites, of which ten buckets got another policy, against the audit of one state. */
    static void drift() throws Exception {
        StartBench.awaitArchive();
        Path old = Files.createTempFile("organisation", ".ndjson");
        Path now = Files.createTempFile("organisation", ".ndjson");
        try {
            write(old, 1_000, false);
            int changed = 0;
            List<String> lines = new ArrayList<>();
            for (String line : Files.readAllLines(old)) {
                boolean isChanged = changed < 10 && line.contains("\"aspect\":\"bucket-policy\"");
                changed += isChanged ? 1 : 0;
                lines.add(isChanged ? line.replace("s3:GetObject", "s3:Get*") : line);
            }
            Files.write(now, lines);
            List<String> both = new ArrayList<>(program("drift", old));
            both.set(both.size() - 2, old.toString());
            both.set(both.size() - 1, now.toString());
            Spent.compare(
                    "audit of 1000 sites",
                    () -> Spent.by(program("audit", old)),
                    "drift of two such states",
                    () -> Spent.by(both),
                    1,
                    3);
        } finally {
            Files.delete(old);
            Files.delete(now);
        }
    }

    /** The program through its launcher, in a heap of 1 GB. */
    private static List<String> program(String command, Path survey) {
        List<String> all = new ArrayList<>(
                List.of("env", "JDK_JAVA_OPTIONS=-Xmx1g", "./gentle-warden", command, "-q", "--at", "2026-11-24"));
        all.addAll(List.of("--survey", survey.toString()));
        if (command.equals("audit")) {
            all.addAll(List.of("--gate", "never"));
        }
        return all;
    }

    private static List<String> java(String main, String... arguments) {
        List<String> command = new ArrayList<>(List.of(
                "java",
                "-Xmx1g",
                "-XX:+UseSerialGC",
                "-XX:TieredStopAtLevel=1",
                "-cp",
                System.getProperty("java.class.path"),
                main));
        command.addAll(List.of(arguments));
        return command;
    }

    /** Reads each line into a tree, in a process of its own. */
    static final class Trees {
        private Trees() {}

        public static void main(String[] arguments) throws IOException {
            ObjectMapper mapper = JsonMapper.builder().build();
            long nodes = 0;
            try (BufferedReader in = Files.newBufferedReader(Path.of(arguments[0]))) {
                for (String line = in.readLine(); line != null; line = in.readLine()) {
                    nodes += mapper.readTree(line).size();
                }
            }
            Bench.print("%d members at the top", nodes);
        }
    }

    private static long write(Path file, int sites, boolean withRules) throws IOException {
        long lines = 0;
        try (BufferedWriter out = Files.newBufferedWriter(file)) {
            StringBuilder buckets = new StringBuilder();
            StringBuilder edges = new StringBuilder();
            StringBuilder zones = new StringBuilder();
            out.write(Surveys.json("{'survey':1,'provider':'aws','account':'" + ACCOUNT
                    + "','takenAt':'2026-11-20T06:30:00Z','takenBy':'bench'}\n"));
            out.write(
                    Surveys.found(
                            "account-public-access",
                            ACCOUNT,
                            "{'PublicAccessBlockConfiguration':{'BlockPublicAcls':true,'IgnorePublicAcls':true,'BlockPublicPolicy':true,'RestrictPublicBuckets':true}}"));
            out.write(Surveys.found("account-summary", ACCOUNT, "{'SummaryMap':{'AccountAccessKeysPresent':0}}"));
            for (int i = 0; withRules && i < ORGANIZATION.length; i++) {
                out.write(Surveys.found(
                        "organization-policy",
                        "p-" + i,
                        "{'Policy':{'PolicySummary':{'Name':'p-" + i
                                + "'},'Content':{'Version':'2012-10-17','Statement':[" + ORGANIZATION[i] + "]}}}"));
            }
            for (int i = 0; i < sites; i++) {
                String site = site(i);
                out.write(site);
                lines += site.lines().count();
                if (withRules) {
                    out.write(key(i));
                }
                String comma = i == 0 ? "" : ",";
                buckets.append(comma).append("{'Name':'content-").append(i).append("'}");
                edges.append(comma)
                        .append("{'Id':'E")
                        .append(i)
                        .append("','ARN':'")
                        .append(edge(i))
                        .append("','DomainName':'d")
                        .append(i)
                        .append(".cloudfront.net'}");
                zones.append(comma)
                        .append("{'Id':'/hostedzone/Z")
                        .append(i)
                        .append("','Name':'site-")
                        .append(i)
                        .append(".example.','Config':{'PrivateZone':false}}");
            }
            out.write(Surveys.found("bucket-list", ACCOUNT, "{'Buckets':[" + buckets + "],'Owner':{'ID':'own'}}"));
            out.write(Surveys.found(
                    "distribution-list",
                    ACCOUNT,
                    "{'DistributionList':{'Items':[" + edges + "],'IsTruncated':false}}"));
            out.write(Surveys.found("zone-list", ACCOUNT, "{'HostedZones':[" + zones + "],'IsTruncated':false}"));
        }
        return lines + 5;
    }

    private static final String[] ORGANIZATION = {
        "{'Effect':'Allow','Action':'*','Resource':'*'}",
        "{'Effect':'Deny','Action':'organizations:LeaveOrganization','Resource':'*'}",
        "{'Effect':'Deny','Action':'s3:*','Resource':'*','Condition':{'Bool':{'aws:SecureTransport':'false'}}}",
        "{'Effect':'Deny','NotAction':['s3:*','cloudfront:*','iam:*','sts:*','kms:*','acm:*','route53:*'],'Resource':'*','Condition':{'StringNotEquals':{'aws:RequestedRegion':['eu-west-1','us-east-1']}}}",
        "{'Effect':'Deny','Action':['s3:DeleteBucket','s3:PutBucketAcl'],'Resource':'*','Condition':{'ArnNotLike':{'aws:PrincipalArn':'arn:aws:iam::*:role/platform-*'}}}"
    };

    /** A key of a site's own, which encrypts its bucket and which its edge may use. */
    private static String key(int i) {
        String key = "arn:aws:kms:eu-west-1:" + ACCOUNT + ":key/k-" + i;
        return Surveys.found(
                        "bucket-encryption",
                        "arn:aws:s3:::content-" + i,
                        "{'ServerSideEncryptionConfiguration':{'Rules':[{'ApplyServerSideEncryptionByDefault':{'SSEAlgorithm':'aws:kms','KMSMasterKeyID':'"
                                + key + "'}}]}}")
                + Surveys.found(
                        "key-policy",
                        key,
                        "{'Policy':{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':{'AWS':'arn:aws:iam::"
                                + ACCOUNT
                                + ":root'},'Action':'kms:*','Resource':'*'},{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':['kms:Decrypt','kms:GenerateDataKey'],'Resource':'*','Condition':{'StringEquals':{'aws:SourceArn':'"
                                + edge(i) + "'}}}]}}");
    }

    private static String edge(int i) {
        return "arn:aws:cloudfront::" + ACCOUNT + ":distribution/E" + i;
    }

    /** One site of some 25 readings: sealed bucket, edge, certificate, zone, registration, publishing role. */
    private static String site(int i) {
        String host = "www.site-" + i + ".example";
        String bucket = "content-" + i;
        String arn = "arn:aws:s3:::" + bucket;
        String certificate = "arn:aws:acm:us-east-1:" + ACCOUNT + ":certificate/c-" + i;
        String policy = Surveys.json(
                "{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'s3:GetObject','Resource':'"
                        + arn + "/*','Condition':{'StringEquals':{'aws:SourceArn':'" + edge(i)
                        + "'}}},{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':['" + arn + "','" + arn
                        + "/*'],'Condition':{'Bool':{'aws:SecureTransport':'false'}}}]}");
        return Surveys.bucket(bucket, policy)
                + Surveys.found("bucket-versioning", arn, "{'Status':'Enabled'}")
                + Surveys.found(
                        "bucket-lifecycle",
                        arn,
                        "{'Rules':[{'ID':'old','Status':'Enabled','Filter':{'Prefix':''},'NoncurrentVersionExpiration':{'NoncurrentDays':90},'AbortIncompleteMultipartUpload':{'DaysAfterInitiation':7}}]}")
                + Surveys.found("bucket-logging", arn, "{}")
                + Surveys.json("{'aspect':'bucket-website','of':'" + arn + "','absent':'NoSuchWebsiteConfiguration'}\n")
                + Surveys.json("{'aspect':'bucket-cors','of':'" + arn + "','absent':'NoSuchCORSConfiguration'}\n")
                + Surveys.found("bucket-payer", arn, "{'Payer':'BucketOwner'}")
                + Surveys.found(
                        "bucket-objects",
                        arn,
                        "{'Contents':[{'Key':'index.html','Size':900},{'Key':'404.html','Size':300},{'Key':'app.js','Size':3000}],'IsTruncated':false}")
                + Surveys.found("object", arn + "/index.html", "{'ContentType':'text/html','CacheControl':'no-cache'}")
                + Surveys.found("object", arn + "/404.html", "{'ContentType':'text/html','CacheControl':'no-cache'}")
                + Surveys.found(
                        "distribution",
                        edge(i),
                        "{'ETag':'x','Distribution':{'Id':'E" + i + "','ARN':'" + edge(i)
                                + "','Status':'Deployed','DomainName':'d" + i
                                + ".cloudfront.net','DistributionConfig':{'Aliases':{'Quantity':1,'Items':['" + host
                                + "']},'DefaultRootObject':'index.html','Enabled':true,'IsIPV6Enabled':true,'HttpVersion':'http2','PriceClass':'PriceClass_100','Logging':{'Enabled':true,'Bucket':'logs.s3.amazonaws.com'},"
                                + "'Origins':{'Items':[{'Id':'o','DomainName':'" + bucket
                                + ".s3.eu-west-1.amazonaws.com','OriginPath':'','S3OriginConfig':{'OriginAccessIdentity':''},'OriginAccessControlId':'C"
                                + i + "'}]},"
                                + "'DefaultCacheBehavior':{'TargetOriginId':'o','ViewerProtocolPolicy':'redirect-to-https','Compress':true,'CachePolicyId':'658327ea-f89d-4fab-a63d-7e88639e58f6','ResponseHeadersPolicyId':'67f7725c-6f97-4210-82d7-5512b31e9d03','AllowedMethods':{'Items':['GET','HEAD']}},"
                                + "'CacheBehaviors':{'Quantity':0,'Items':[]},'CustomErrorResponses':{'Quantity':2,'Items':[{'ErrorCode':403,'ResponsePagePath':'/404.html','ResponseCode':'404'},{'ErrorCode':404,'ResponsePagePath':'/404.html','ResponseCode':'404'}]},"
                                + "'ViewerCertificate':{'ACMCertificateArn':'" + certificate
                                + "','SSLSupportMethod':'sni-only','MinimumProtocolVersion':'TLSv1.2_2021'}}}}")
                + Surveys.found(
                        "origin-control",
                        "origin-access-control/C" + i,
                        "{'OriginAccessControl':{'Id':'C" + i
                                + "','OriginAccessControlConfig':{'SigningBehavior':'always','SigningProtocol':'sigv4','OriginAccessControlOriginType':'s3'}}}")
                + Surveys.found(
                        "certificate",
                        certificate,
                        "{'Certificate':{'CertificateArn':'" + certificate + "','DomainName':'" + host
                                + "','SubjectAlternativeNames':['" + host
                                + "'],'Status':'ISSUED','NotAfter':'2027-06-01T00:00:00+00:00','RenewalEligibility':'ELIGIBLE','Type':'AMAZON_ISSUED','KeyAlgorithm':'RSA-2048','SignatureAlgorithm':'SHA256WITHRSA','InUseBy':['"
                                + edge(i) + "']}}")
                + Surveys.found(
                        "zone",
                        "hostedzone/Z" + i,
                        "{'HostedZone':{'Id':'/hostedzone/Z" + i + "','Name':'site-" + i
                                + ".example.','Config':{'PrivateZone':false}},'DelegationSet':{'NameServers':['ns-1.example.net','ns-2.example.org']}}")
                + Surveys.found(
                        "zone-records",
                        "hostedzone/Z" + i,
                        "{'ResourceRecordSets':[{'Name':'site-" + i
                                + ".example.','Type':'NS','TTL':3600,'ResourceRecords':[{'Value':'ns-1.example.net'}]},{'Name':'"
                                + host + ".','Type':'A','AliasTarget':{'HostedZoneId':'Z2FDTNDATAQYW2','DNSName':'d" + i
                                + ".cloudfront.net.'}},{'Name':'" + host
                                + ".','Type':'AAAA','AliasTarget':{'HostedZoneId':'Z2FDTNDATAQYW2','DNSName':'d" + i
                                + ".cloudfront.net.'}}],'IsTruncated':false}")
                + Surveys.found(
                        "domain",
                        "site-" + i + ".example",
                        "{'DomainName':'site-" + i
                                + ".example','AutoRenew':true,'ExpirationDate':'2027-06-01T00:00:00+00:00','StatusList':['clientTransferProhibited'],'Nameservers':[{'Name':'ns-1.example.net'},{'Name':'ns-2.example.org'}]}")
                + Surveys.found(
                        "iam-role",
                        "arn:aws:iam::" + ACCOUNT + ":role/publisher-" + i,
                        "{'RoleName':'publisher-" + i + "','RoleId':'AROA" + i + "','Arn':'arn:aws:iam::" + ACCOUNT
                                + ":role/publisher-" + i
                                + "','AssumeRolePolicyDocument':{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':{'Federated':'arn:aws:iam::"
                                + ACCOUNT
                                + ":oidc-provider/token.actions.githubusercontent.com'},'Action':'sts:AssumeRoleWithWebIdentity','Condition':{'StringEquals':{'token.actions.githubusercontent.com:aud':'sts.amazonaws.com','token.actions.githubusercontent.com:sub':'repo:heron/site-"
                                + i
                                + ":ref:refs/heads/main'}}}]},'RolePolicyList':[{'PolicyName':'publish','PolicyDocument':{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Action':'s3:ListBucket','Resource':'"
                                + arn
                                + "'},{'Effect':'Allow','Action':['s3:PutObject','s3:DeleteObject'],'Resource':'" + arn
                                + "/*'},{'Effect':'Allow','Action':'cloudfront:CreateInvalidation','Resource':'"
                                + edge(i) + "'}]}}],'AttachedManagedPolicies':[],'Tags':[]}");
    }
}
