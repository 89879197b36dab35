package warden.core.aws.survey;

import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import warden.core.document.Json;

/** Which permission reading an aspect takes. Source: the provider's Service Authorization Reference. */
public final class Permissions {
    private static final Map<String, String> BY_ASPECT = Map.ofEntries(
            Map.entry("account-public-access", "s3:GetAccountPublicAccessBlock"),
            Map.entry("account-summary", "iam:GetAccountSummary"),
            Map.entry("organization-policy", "organizations:DescribePolicy"),
            Map.entry("bucket-list", "s3:ListAllMyBuckets"),
            Map.entry("bucket-location", "s3:GetBucketLocation"),
            Map.entry("bucket-policy", "s3:GetBucketPolicy"),
            Map.entry("bucket-public-access", "s3:GetBucketPublicAccessBlock"),
            Map.entry("bucket-ownership", "s3:GetBucketOwnershipControls"),
            Map.entry("bucket-acl", "s3:GetBucketAcl"),
            Map.entry("bucket-website", "s3:GetBucketWebsite"),
            Map.entry("bucket-encryption", "s3:GetEncryptionConfiguration"),
            Map.entry("bucket-versioning", "s3:GetBucketVersioning"),
            Map.entry("bucket-lifecycle", "s3:GetLifecycleConfiguration"),
            Map.entry("bucket-logging", "s3:GetBucketLogging"),
            Map.entry("bucket-cors", "s3:GetBucketCORS"),
            Map.entry("bucket-payer", "s3:GetBucketRequestPayment"),
            Map.entry("bucket-objects", "s3:ListBucket"),
            Map.entry("object", "s3:GetObject"),
            Map.entry("object-acl", "s3:GetObjectAcl"),
            Map.entry("key-policy", "kms:GetKeyPolicy"),
            Map.entry("distribution-list", "cloudfront:ListDistributions"),
            Map.entry("distribution", "cloudfront:GetDistribution"),
            Map.entry("origin-identity", "cloudfront:GetCloudFrontOriginAccessIdentity"),
            Map.entry("origin-control", "cloudfront:GetOriginAccessControl"),
            Map.entry("cache-policy", "cloudfront:GetCachePolicy"),
            Map.entry("response-headers-policy", "cloudfront:GetResponseHeadersPolicy"),
            Map.entry("origin-request-policy", "cloudfront:GetOriginRequestPolicy"),
            Map.entry("edge-function", "cloudfront:DescribeFunction"),
            Map.entry("certificate", "acm:DescribeCertificate"),
            Map.entry("zone", "route53:GetHostedZone"),
            Map.entry("zone-records", "route53:ListResourceRecordSets"),
            Map.entry("zone-list", "route53:ListHostedZones"),
            Map.entry("domain", "route53domains:GetDomainDetail"),
            Map.entry("iam-user", "iam:GetAccountAuthorizationDetails"),
            Map.entry("iam-group", "iam:GetAccountAuthorizationDetails"),
            Map.entry("iam-role", "iam:GetAccountAuthorizationDetails"),
            Map.entry("iam-policy", "iam:GetAccountAuthorizationDetails"),
            Map.entry("iam-user-keys", "iam:ListAccessKeys"),
            Map.entry("iam-key-used", "iam:GetAccessKeyLastUsed"),
            Map.entry("iam-login", "iam:GetLoginProfile"),
            Map.entry("iam-user-mfa", "iam:ListMFADevices"),
            Map.entry("oidc-provider", "iam:GetOpenIDConnectProvider"),
            Map.entry("delivery-pipeline", "codepipeline:GetPipeline"),
            Map.entry("managed-app", "amplify:GetApp"),
            Map.entry("managed-app-domain", "amplify:GetDomainAssociation"));

    private Permissions() {}

    /** Returns the action that reading {@code aspect} takes; empty when none is known. */
    public static String toRead(String aspect) {
        return BY_ASPECT.getOrDefault(aspect, "");
    }

    /** The listings from which a survey learns what there is to ask about. */
    private static final Set<String> LISTINGS = Set.of(
            "acm:ListCertificates",
            "amplify:ListApps",
            "amplify:ListDomainAssociations",
            "cloudfront:ListCloudFrontOriginAccessIdentities",
            "cloudfront:ListOriginAccessControls",
            "codepipeline:ListPipelines",
            "iam:ListOpenIDConnectProviders",
            "organizations:ListParents",
            "organizations:ListPoliciesForTarget",
            "route53domains:ListDomains");

    /** Returns a statement of a policy that allows these actions, on one line. */
    public static String statement(Collection<String> actions) {
        return Json.text(Json.object("Effect", "Allow", "Action", actions, "Resource", "*"));
    }

    /** True for an action that a survey takes. */
    public static boolean isTaken(String action) {
        return LISTINGS.contains(action) || BY_ASPECT.containsValue(action);
    }

    /** Returns every action that a survey takes, in alphabetical order: complete, and nothing more. */
    public static List<String> all() {
        Set<String> actions = new TreeSet<>(BY_ASPECT.values());
        actions.addAll(LISTINGS);
        return List.copyOf(actions);
    }
}
