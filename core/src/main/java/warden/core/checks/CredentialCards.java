package warden.core.checks;

import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;

/** The catalogue entries of questions about credential that are put to the sites of every provider. */
public final class CredentialCards {
    private CredentialCards() {}

    public static final CheckCard PUBLISHER_IS_ADMIN = new CheckCard(
            "publisher-is-admin",
            Area.CREDENTIAL,
            Severity.CRITICAL,
            "it can do everything",
            "iam-user, iam-group, iam-role, iam-policy, organization-policy",
            "Whoever gets hold of the pipeline, or of its key, owns the account.",
            "Replace its policies by one that lists, puts and deletes in the site's bucket and invalidates its distribution.",
            "IAM User Guide, \"Security best practices in IAM\"");

    public static final CheckCard PUBLISHER_CAN_ESCALATE = new CheckCard(
            "publisher-can-escalate",
            Area.CREDENTIAL,
            Severity.CRITICAL,
            "it can give itself more (each known path named, with the actions and resources that make it)",
            "iam-user, iam-group, iam-role, iam-policy, organization-policy",
            "Whoever gets hold of the pipeline, or of its key, can own the account in a few calls.",
            "Take these actions out of its policies; publishing needs none of them.",
            "IAM User Guide, \"Security best practices in IAM\"; \"Permissions boundaries for IAM entities\"");

    public static final CheckCard PUBLISHER_CAN_CHANGE_RULES = new CheckCard(
            "publisher-can-change-rules",
            Area.CREDENTIAL,
            Severity.HIGH,
            "it can change exposure, hosting or encryption of the bucket, or delete it",
            "iam-user, iam-group, iam-role, iam-policy, bucket-policy",
            "A pipeline that goes wrong, or a key that leaks, opens the bucket or takes the site down.",
            "Allow it the objects of the bucket only: s3:PutObject and s3:DeleteObject, not s3:*.",
            "S3 User Guide, \"Identity and Access Management for Amazon S3\"");

    public static final CheckCard PUBLISHER_EXCESS_SERVICES = new CheckCard(
            "publisher-excess-services",
            Area.CREDENTIAL,
            Severity.MEDIUM,
            "actions in services that publishing never needs",
            "iam-user, iam-group, iam-role, iam-policy",
            "A pipeline that goes wrong, or a key that leaks, reaches far beyond the site.",
            "Take these services out of its policies; \"gentle-warden trim\" writes the policy that is left.",
            "IAM User Guide, \"Security best practices in IAM\"");

    public static final CheckCard PUBLISHER_EXCESS_ACTIONS = new CheckCard(
            "publisher-excess-actions",
            Area.CREDENTIAL,
            Severity.LOW,
            "more than needed within the needed services",
            "iam-user, iam-group, iam-role, iam-policy, pipeline-file",
            "Each action that is not needed is one more that a mistake can take.",
            "Allow what the deployment needs only; \"gentle-warden trim\" writes that policy.",
            "IAM User Guide, \"Security best practices in IAM\"");

    public static final CheckCard PUBLISHER_CANNOT_PUBLISH = new CheckCard(
            "publisher-cannot-publish",
            Area.CREDENTIAL,
            Severity.HIGH,
            "something the deployment needs is not allowed (each one named)",
            "iam-user, iam-group, iam-role, iam-policy, bucket-policy, key-policy, pipeline-file",
            "The next deployment stops half-way, or the new version is not what visitors get.",
            "Allow what is named, on the site's own bucket and distribution.",
            "AWS CLI User Guide, \"Using high-level (s3) commands\"; CloudFront Developer Guide, \"Invalidate files to remove content\"");

    public static final CheckCard PUBLISHER_CAN_LOSE_VERSIONS = new CheckCard(
            "publisher-can-lose-versions",
            Area.CREDENTIAL,
            Severity.MEDIUM,
            "it can delete versions, suspend versioning or change the lifecycle",
            "iam-user, iam-group, iam-role, iam-policy, bucket-policy",
            "What a bad deployment, or an attacker, deletes cannot be brought back.",
            "Leave s3:DeleteObjectVersion, s3:PutBucketVersioning and s3:PutLifecycleConfiguration out of its policies.",
            "S3 User Guide, \"Deleting object versions from a versioning-enabled bucket\"");

    public static final CheckCard PUBLISHER_LONG_LIVED_KEY = new CheckCard(
            "publisher-long-lived-key",
            Area.CREDENTIAL,
            Severity.MEDIUM,
            "a pipeline uses a user's access key where it could assume a role",
            "iam-user-keys, pipeline-file",
            "A key works from anywhere until somebody deletes it, and it lies in every place that it was copied to.",
            "Let the pipeline assume a role by its own token, then delete the key.",
            "IAM User Guide, \"Security best practices in IAM\", section \"Require workloads to use temporary credentials with IAM roles\"");

    public static final CheckCard KEY_OLD = new CheckCard(
                    "key-old",
                    Area.CREDENTIAL,
                    Severity.MEDIUM,
                    "an active key is older than 90 days (high: a year)",
                    "iam-user-keys",
                    "The longer a key lives, the more copies of it lie about, and the less anybody knows where.",
                    "Create a new key, put it in use, then delete this one; better, let the pipeline assume a role.",
                    "IAM User Guide, \"Update access keys\"")
            .atWorst(Severity.HIGH);

    public static final CheckCard TRUST_TOO_WIDE = new CheckCard(
            "trust-too-wide",
            Area.CREDENTIAL,
            Severity.CRITICAL,
            "a role that a pipeline assumes by token does not pin repository and audience, or pins them by a pattern that others can match",
            "iam-role",
            "Anyone with a repository on the same host can publish the site, and do whatever else the role may.",
            "Let the subject be one repository and one branch, and the audience the one that the pipeline asks for: StringEquals on both.",
            "IAM User Guide, \"Create a role for OpenID Connect federation\"");

    public static final CheckCard TRUST_PULL_REQUESTS = new CheckCard(
            "trust-pull-requests",
            Area.CREDENTIAL,
            Severity.HIGH,
            "the trust's subject admits pull requests or any branch",
            "iam-role",
            "Code that nobody has looked at can publish the site.",
            "Let the subject end with the one branch that publishes, such as :ref:refs/heads/main, or with an environment that asks for approval.",
            "GitHub Docs, \"OpenID Connect reference\"; IAM User Guide, \"Create a role for OpenID Connect federation\"");

    public static final CheckCard PUBLISHER_SHARED = new CheckCard(
            "publisher-shared",
            Area.CREDENTIAL,
            Severity.LOW,
            "one credential publishes several sites",
            "iam-user, iam-role, iam-policy, pipeline-file",
            "A mistake in the pipeline of one site can change the others.",
            "Give each site a credential of its own.",
            "IAM User Guide, \"Security best practices in IAM\"");

    public static final CheckCard PUBLISHER_BEYOND_ITS_SITES = new CheckCard(
            "publisher-beyond-its-sites",
            Area.CREDENTIAL,
            Severity.HIGH,
            "it can write or delete in buckets that are not its sites'",
            "iam-user, iam-group, iam-role, iam-policy, bucket-policy, bucket-list",
            "A mistake in one pipeline, or a key that leaks, changes other sites and other data.",
            "Limit the resources of its policy to its own site's bucket.",
            "IAM User Guide, \"Security best practices in IAM\"");
}
