package warden.core.aws.reach;

import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;

/** What somebody may be able to do with a bucket. Each is a few actions. */
public enum Ability {
    /** Fetch objects, current or old. */
    READ(List.of("s3:GetObject", "s3:GetObjectVersion"), List.of()),
    /** See the names of objects. */
    LIST(List.of(), List.of("s3:ListBucket", "s3:ListBucketVersions")),
    /** Put or replace objects; uploads in parts and copies into the bucket take the same action. */
    WRITE(List.of("s3:PutObject"), List.of()),
    /** Remove objects or old versions. */
    DELETE(List.of("s3:DeleteObject", "s3:DeleteObjectVersion"), List.of()),
    /** Change who may do what, or how the bucket serves and keeps its objects. */
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

    Ability(List<String> onObjects, List<String> onBucket) {
        this.onObjects = onObjects;
        this.actions = Stream.concat(onBucket.stream(), onObjects.stream()).toList();
    }

    /** Returns the name that the matrix uses, such as {@code change-rules}. */
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** Returns its actions, those on the bucket first. */
    public List<String> actions() {
        return actions;
    }

    /** True when the action is asked of an object, not of the bucket. */
    public boolean isOnObjects(String action) {
        return onObjects.contains(action);
    }
}
