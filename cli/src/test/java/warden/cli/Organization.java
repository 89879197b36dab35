package warden.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** A made-up organization: its first account manages the others, each of which has a bucket and a role for surveys. */
final class Organization {
    static final long FIRST = 100_000_000_000L;
    static final String AUDITOR = "arn:aws:iam::" + FIRST + ":user/auditor";
    private static final String OTHER_SIDE = "arn:aws:iam::" + FIRST + ":root";

    private Organization() {}

    static String number(int account) {
        return Long.toString(FIRST + account);
    }

    static String role(int account) {
        return "arn:aws:iam::" + number(account) + ":role/audit/survey";
    }

    /** Returns the accounts' surveys, by their names. */
    static List<Map.Entry<String, String>> surveys(int accounts) {
        List<Map.Entry<String, String>> surveys = new ArrayList<>();
        for (int i = 0; i < accounts; i++) {
            surveys.add(Map.entry(number(i) + ".ndjson", i == 0 ? manager() : member(i, OTHER_SIDE, "")));
        }
        return surveys;
    }

    /** Returns an account whose role somebody may work as. */
    static String member(int account, String trusted, String condition) {
        return account(
                account,
                line(
                        "iam-role",
                        role(account),
                        "{'Path':'/audit/','RoleName':'survey','RoleId':'AROA" + number(account) + "','Arn':'"
                                + role(account)
                                + "','AssumeRolePolicyDocument':{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':{'AWS':'"
                                + trusted + "'},'Action':'sts:AssumeRole'" + condition + "}]},'RolePolicyList':["
                                + policy("'*'") + "],'AttachedManagedPolicies':[]}"));
    }

    private static String manager() {
        return account(
                0,
                line(
                                "iam-user",
                                AUDITOR,
                                "{'Path':'/','UserName':'auditor','UserId':'AIDAAUDITOR','Arn':'" + AUDITOR
                                        + "','UserPolicyList':[" + policy("'*'")
                                        + "],'AttachedManagedPolicies':[],'GroupList':[]}")
                        + line("iam-user-keys", AUDITOR, "{'AccessKeyMetadata':[]}")
                        + absent("iam-login", AUDITOR, "NoSuchEntity")
                        + line("iam-user-mfa", AUDITOR, "{'MFADevices':[]}"));
    }

    private static String policy(String actions) {
        return "{'PolicyName':'p','PolicyDocument':{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Action':"
                + actions + ",'Resource':'*'}]}}";
    }

    private static String line(String aspect, String of, String found) {
        return ("{'aspect':'" + aspect + "','of':'" + of + "','call':'x','found':" + found + "}\n").replace('\'', '"');
    }

    private static String absent(String aspect, String of, String code) {
        return "{\"aspect\":\"" + aspect + "\",\"of\":\"" + of + "\",\"call\":\"x\",\"absent\":\"" + code + "\"}\n";
    }

    private static String account(int i, String more) {
        String account = number(i);
        String name = String.format(java.util.Locale.ROOT, "heron-site-%03d", i);
        String bucket = "arn:aws:s3:::" + name;
        String owner = "{'ID':'" + "0".repeat(61) + String.format(java.util.Locale.ROOT, "%03d", i) + "'}";
        StringBuilder out = new StringBuilder("{\"survey\":1,\"provider\":\"aws\",\"account\":\"" + account
                + "\",\"takenAt\":\"2026-11-24T00:00:00Z\",\"takenBy\":\"\"}\n");
        out.append(
                line(
                        "account-public-access",
                        account,
                        "{'PublicAccessBlockConfiguration':{'BlockPublicAcls':true,'IgnorePublicAcls':true,'BlockPublicPolicy':true,'RestrictPublicBuckets':true}}"));
        out.append(line("account-summary", account, "{'SummaryMap':{'AccountAccessKeysPresent':0}}"));
        out.append(line("bucket-list", account, "{'Buckets':[{'Name':'" + name + "'}],'Owner':" + owner + "}"));
        out.append(line(
                "distribution-list", account, "{'DistributionList':{'IsTruncated':false,'Quantity':0,'Items':[]}}"));
        out.append(line("zone-list", account, "{'HostedZones':[],'IsTruncated':false}"));
        out.append(line("bucket-location", bucket, "{'LocationConstraint':'eu-west-1'}"));
        for (String none : List.of(
                "bucket-policy NoSuchBucketPolicy",
                "bucket-public-access NoSuchPublicAccessBlockConfiguration",
                "bucket-website NoSuchWebsiteConfiguration",
                "bucket-lifecycle NoSuchLifecycleConfiguration",
                "bucket-cors NoSuchCORSConfiguration",
                "bucket-encryption ServerSideEncryptionConfigurationNotFoundError",
                "bucket-ownership OwnershipControlsNotFoundError")) {
            out.append(absent(none.split(" ")[0], bucket, none.split(" ")[1]));
        }
        out.append(line("bucket-versioning", bucket, "{'Status':'Enabled'}"));
        out.append(line("bucket-logging", bucket, "{}"));
        out.append(line("bucket-payer", bucket, "{'Payer':'BucketOwner'}"));
        out.append(line("bucket-acl", bucket, "{'Owner':" + owner + ",'Grants':[]}"));
        out.append(
                line(
                        "bucket-objects",
                        bucket,
                        "{'Contents':[{'Key':'index.html','Size':100,'LastModified':'2026-10-01T00:00:00+00:00'}],'IsTruncated':false}"));
        out.append(
                line(
                        "object",
                        bucket + "/index.html",
                        "{'AcceptRanges':'bytes','ContentLength':100,'ContentType':'text/html','LastModified':'2026-10-01T00:00:00+00:00','Metadata':{}}"));
        out.append(absent("object-acl", bucket + "/index.html", "NoSuchKey"));
        return out.append(more).toString();
    }
}
