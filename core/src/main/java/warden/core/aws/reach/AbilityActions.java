package warden.core.aws.reach;

import java.util.List;
import java.util.stream.Stream;
import warden.core.access.Ability;

/**
 * The actions that each ability stands for with a bucket.
 *
 * <p>Source: Service Authorization Reference, "Actions, resources, and condition keys for Amazon S3".
 */
public enum AbilityActions {
    READ(List.of("s3:GetObject", "s3:GetObjectVersion"), List.of()),
    LIST(List.of(), List.of("s3:ListBucket", "s3:ListBucketVersions")),
    WRITE(List.of("s3:PutObject"), List.of()),
    DELETE(List.of("s3:DeleteObject", "s3:DeleteObjectVersion"), List.of()),
    CHANGE_RULES(
            List.of("s3:PutObjectAcl", "s3:PutObjectVersionAcl"),
            List.of(
                    "s3:PutBucketPolicy",
                    "s3:DeleteBucketPolicy",
                    "s3:PutBucketAcl",
                    "s3:PutBucketPublicAccessBlock",
                    "s3:PutBucketOwnershipControls",
                    "s3:PutBucketWebsite",
                    "s3:DeleteBucketWebsite",
                    "s3:PutLifecycleConfiguration",
                    "s3:PutBucketVersioning",
                    "s3:PutBucketCORS",
                    "s3:PutBucketLogging",
                    "s3:PutReplicationConfiguration",
                    "s3:PutEncryptionConfiguration",
                    "s3:DeleteBucket"));

    private final List<String> onObjects;
    private final List<String> actions;

    AbilityActions(List<String> onObjects, List<String> onBucket) {
        this.onObjects = onObjects;
        this.actions = Stream.concat(onBucket.stream(), onObjects.stream()).toList();
    }

    /** Returns the actions of an ability. */
    public static AbilityActions of(Ability ability) {
        return valueOf(ability.name());
    }

    /** Returns the actions, those on the bucket first. */
    public List<String> all() {
        return actions;
    }

    /** True when the action is asked of an object, not of the bucket. */
    public boolean isOnObjects(String action) {
        return onObjects.contains(action);
    }
}
