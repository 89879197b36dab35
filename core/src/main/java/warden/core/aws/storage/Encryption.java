package warden.core.aws.storage;

import java.util.Optional;
import warden.core.document.JsonPart;

/**
 * How objects are encrypted at rest.
 * Source: S3 User Guide, "Setting default server-side encryption behavior for Amazon S3 buckets".
 *
 * @param withKey true for encryption under a key of the key service, the account's or the provider's own
 * @param key the key's ARN or id; absent for the provider's managed key {@code aws/s3}
 * @param bucketKey whether one data key serves the whole bucket
 */
public record Encryption(boolean withKey, Optional<String> key, boolean bucketKey) {
    /** Encryption under keys of the storage service, which asks nobody for a permission. */
    public static final Encryption PLAIN = new Encryption(false, Optional.empty(), false);

    static Encryption ofBucket(JsonPart answer) {
        JsonPart rule = answer.list("ServerSideEncryptionConfiguration", "Rules").stream()
                .filter(part -> part.find("ApplyServerSideEncryptionByDefault").isPresent())
                .findFirst()
                .orElse(answer);
        String algorithm =
                rule.text("ApplyServerSideEncryptionByDefault", "SSEAlgorithm").orElse("");
        return of(
                algorithm,
                rule.text("ApplyServerSideEncryptionByDefault", "KMSMasterKeyID"),
                rule.flag("BucketKeyEnabled").orElse(false));
    }

    static Encryption ofObject(JsonPart answer) {
        return of(
                answer.text("ServerSideEncryption").orElse(""),
                answer.text("SSEKMSKeyId"),
                answer.flag("BucketKeyEnabled").orElse(false));
    }

    /** Returns the encryption that these words of the provider name. */
    public static Encryption of(String algorithm, Optional<String> key, boolean bucketKey) {
        if (!algorithm.startsWith("aws:kms")) {
            return PLAIN;
        }
        Optional<String> own = key.filter(id -> !id.isEmpty() && !id.endsWith("alias/aws/s3"));
        return new Encryption(true, own, bucketKey);
    }
}
