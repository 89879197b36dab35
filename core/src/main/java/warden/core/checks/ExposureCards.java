package warden.core.checks;

import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;

/** The catalogue entries of questions about exposure that are put to the sites of every provider. */
public final class ExposureCards {
    private ExposureCards() {}

    public static final CheckCard ANYONE_CAN_LIST = new CheckCard(
                    "anyone-can-list",
                    Area.EXPOSURE,
                    Severity.MEDIUM,
                    "anyone, or any account, can list names (high where the site is meant to be sealed)",
                    "bucket-policy, bucket-acl, bucket-ownership, bucket-public-access, account-public-access",
                    "Whoever can list finds every file that no page links to: drafts, backups, old versions.",
                    "Grant reading of objects only, not s3:ListBucket, and remove READ for everyone from the bucket's ACL.",
                    "S3 User Guide, \"Blocking public access to your Amazon S3 storage\"")
            .atWorst(Severity.HIGH);

    public static final CheckCard OPEN_WITHOUT_SITE = new CheckCard(
                    "open-without-site",
                    Area.EXPOSURE,
                    Severity.HIGH,
                    "anyone can read a bucket that serves no site (critical when it holds deployment state, logs, backups or artefacts)",
                    "bucket-policy, bucket-acl, object-acl, bucket-objects, bucket-public-access, account-public-access",
                    "What lies in a bucket that no site uses was not meant for visitors.",
                    "Remove the public grant and turn the public access block on.",
                    "S3 User Guide, \"Blocking public access to your Amazon S3 storage\"")
            .atWorst(Severity.CRITICAL);

    public static final CheckCard OPEN_AROUND_CDN = new CheckCard(
            "open-around-cdn",
            Area.EXPOSURE,
            Severity.HIGH,
            "a CDN serves the bucket through its REST endpoint and anyone can read objects directly",
            "distribution, bucket-policy, bucket-acl, object-acl, bucket-public-access, account-public-access",
            "Visitors, crawlers and attackers can go around the edge: its redirects to HTTPS, headers, limits and logs do not"
                    + " hold for them.",
            "Let only the distribution in by origin access control, remove the public grant, then turn the public access"
                    + " block on.",
            "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    public static final CheckCard OPEN_ENDPOINT_AROUND_CDN = new CheckCard(
            "open-endpoint-around-cdn",
            Area.EXPOSURE,
            Severity.MEDIUM,
            "the CDN's origin is the website endpoint and nothing keeps visitors from going there directly",
            "distribution, bucket-policy, bucket-website, bucket-public-access, account-public-access",
            "The website endpoint speaks plain HTTP only, and what the edge adds or forbids does not hold there.",
            "Have the edge send a secret header that the policy asks for, or serve the bucket through its REST endpoint with"
                    + " origin access control; if this is meant, state open-bucket-behind-cdn in the site file.",
            "CloudFront Developer Guide, \"Use various origins with CloudFront distributions\"");

    public static final CheckCard GUARD_CONTRADICTS_GRANT = new CheckCard(
            "guard-contradicts-grant",
            Area.EXPOSURE,
            Severity.HIGH,
            "the policy or ACL opens the bucket for its pattern, and a public access block takes it back: visitors get 403",
            "bucket-policy, object-acl, bucket-public-access, account-public-access",
            "Visitors get 403 Forbidden, and neither settings page alone says why.",
            "Decide which is meant: turn off RestrictPublicBuckets and BlockPublicPolicy for this bucket, or put a CDN with"
                    + " origin access control in front and remove the public grant.",
            "S3 User Guide, \"Setting permissions for website access\"");

    public static final CheckCard CORS_TOO_WIDE = new CheckCard(
            "cors-too-wide",
            Area.EXPOSURE,
            Severity.MEDIUM,
            "CORS lets any origin use methods that change things",
            "bucket-cors",
            "A page of anybody's can have a visitor's browser put or delete objects with whatever rights that browser holds.",
            "Name the origins that need it, or allow GET and HEAD only.",
            "S3 User Guide, \"Elements of a CORS configuration\"");

    public static final CheckCard OUTSIDE_ACCOUNT_ACCESS = new CheckCard(
                    "outside-account-access",
                    Area.EXPOSURE,
                    Severity.HIGH,
                    "an account, organization, canonical user or outside role that is not trusted in the site file has any ability, however it is named; critical if it can write, delete or change rules",
                    "bucket-policy, bucket-acl, object-acl, bucket-ownership, bucket-public-access, account-public-access",
                    "Whoever runs that account decides who of theirs uses the grant; you do not.",
                    "Remove the grant, or list the account or organization under trusted-accounts in the site file.",
                    "IAM User Guide, \"Cross account resource access in IAM\"")
            .atWorst(Severity.CRITICAL);

    public static final CheckCard OLD_VERSIONS_READABLE = new CheckCard(
            "old-versions-readable",
            Area.EXPOSURE,
            Severity.MEDIUM,
            "anyone can read old versions of objects",
            "bucket-policy, bucket-public-access, account-public-access",
            "What was replaced or deleted, perhaps because it should not have been public, can still be fetched.",
            "Grant s3:GetObject only, without s3:GetObjectVersion.",
            "S3 User Guide, \"Retrieving object versions from a versioning-enabled bucket\"");
}
