package warden.gather.aws.template;

import java.util.List;
import warden.core.document.Json;
import warden.core.survey.Place;

/**
 * What a bucket is where nothing else is said of it: only of one that the description makes. Source: S3 User Guide, "Blocking public access to your
 * Amazon S3 storage" and "Controlling ownership of objects" (new buckets since April 2023), "Setting default server-side encryption behavior"
 * (since January 2023), "How S3 Versioning works"; S3 API Reference, the calls that read each setting.
 */
final class BucketDefaults {
    /** Spelled once: of a large description they are most of what is written. */
    private static final Object BLOCK = spelled(block(true, true, true, true));

    private static final Object OWNERSHIP = spelled(ownership("BucketOwnerEnforced"));
    private static final Object OWNER_ONLY = spelled(ownerOnly());
    private static final Object ENCRYPTION = spelled(encryption("AES256", null, false));
    private static final Object NOTHING = spelled(Json.object());
    private static final Object PAYER = spelled(Json.object("Payer", "BucketOwner"));

    private BucketDefaults() {}

    private static Object spelled(Object document) {
        return new Json.Raw(Json.text(document));
    }

    /** Adds the default of every setting of which nothing was said. */
    static void fill(Description all, String arn, Place place) {
        if (all.isThere(arn)) {
            return;
        }
        found(all, "bucket-public-access", arn, place, BLOCK);
        found(all, "bucket-ownership", arn, place, OWNERSHIP);
        found(all, "bucket-acl", arn, place, OWNER_ONLY);
        found(all, "bucket-encryption", arn, place, ENCRYPTION);
        found(all, "bucket-versioning", arn, place, NOTHING);
        found(all, "bucket-logging", arn, place, NOTHING);
        found(all, "bucket-payer", arn, place, PAYER);
        absent(all, "bucket-policy", arn, place, "NoSuchBucketPolicy");
        absent(all, "bucket-website", arn, place, "NoSuchWebsiteConfiguration");
        absent(all, "bucket-lifecycle", arn, place, "NoSuchLifecycleConfiguration");
        absent(all, "bucket-cors", arn, place, "NoSuchCORSConfiguration");
        if (!all.has("bucket-objects", arn)) {
            all.unread("bucket-objects", arn, place, "which objects the bucket holds");
        }
    }

    private static void found(Description all, String aspect, String arn, Place place, Object document) {
        if (isLeftOut(all, aspect, arn, place)) {
            all.found(aspect, arn, place, () -> document);
        }
    }

    /** True where surely nothing was said; where something was said of a bucket that is not told, it may be this one. */
    private static boolean isLeftOut(Description all, String aspect, String arn, Place place) {
        if (all.has(aspect, arn)) {
            return false;
        }
        if (all.maySet(aspect, arn)) {
            all.unread(aspect, arn, place, "of which bucket a resource sets this");
            return false;
        }
        if (all.isGivenAway(arn.substring(arn.lastIndexOf(':') + 1))) {
            all.unread(aspect, arn, place, "what a module that was not read sets of it");
            return false;
        }
        return true;
    }

    private static void absent(Description all, String aspect, String arn, Place place, String code) {
        if (isLeftOut(all, aspect, arn, place)) {
            all.absent(aspect, arn, place, code);
        }
    }

    static Object block(boolean acls, boolean ignore, boolean policy, boolean restrict) {
        return Json.object(
                "PublicAccessBlockConfiguration",
                Json.object(
                        "BlockPublicAcls",
                        acls,
                        "IgnorePublicAcls",
                        ignore,
                        "BlockPublicPolicy",
                        policy,
                        "RestrictPublicBuckets",
                        restrict));
    }

    static Object ownership(String rule) {
        return Json.object("OwnershipControls", Json.object("Rules", List.of(Json.object("ObjectOwnership", rule))));
    }

    static Object encryption(String algorithm, String key, boolean usesBucketKey) {
        return Json.object(
                "ServerSideEncryptionConfiguration",
                Json.object(
                        "Rules",
                        List.of(Json.object(
                                "ApplyServerSideEncryptionByDefault",
                                key == null
                                        ? Json.object("SSEAlgorithm", algorithm)
                                        : Json.object("SSEAlgorithm", algorithm, "KMSMasterKeyID", key),
                                "BucketKeyEnabled",
                                usesBucketKey))));
    }

    static final String OWNER = "{CanonicalUserId}";

    static Object grant(Object grantee, String permission) {
        return Json.object("Grantee", grantee, "Permission", permission);
    }

    private static Object acl(Object... more) {
        List<Object> grants = new java.util.ArrayList<>();
        grants.add(grant(Json.object("ID", OWNER, "Type", "CanonicalUser"), "FULL_CONTROL"));
        grants.addAll(List.of(more));
        return Json.object("Owner", Json.object("ID", OWNER), "Grants", grants);
    }

    static Object ownerOnly() {
        return acl();
    }

    private static Object group(String name, String permission) {
        return grant(Json.object("Type", "Group", "URI", "http://acs.amazonaws.com/groups/" + name), permission);
    }

    /**
     * Returns the grants that a ready-made list stands for.
     *
     * @throws NotTold for a word that is not known
     */
    static Object readyMade(String word) {
        return switch (word) {
            case "Private",
                    "private",
                    "BucketOwnerRead",
                    "bucket-owner-read",
                    "BucketOwnerFullControl",
                    "bucket-owner-full-control" -> acl();
            case "PublicRead", "public-read" -> acl(group("global/AllUsers", "READ"));
            case "PublicReadWrite", "public-read-write" ->
                acl(group("global/AllUsers", "READ"), group("global/AllUsers", "WRITE"));
            case "AuthenticatedRead", "authenticated-read" -> acl(group("global/AuthenticatedUsers", "READ"));
            case "LogDeliveryWrite", "log-delivery-write" ->
                acl(group("s3/LogDelivery", "WRITE"), group("s3/LogDelivery", "READ_ACP"));
            default -> throw new NotTold("what the access list " + word + " grants");
        };
    }
}
