package warden.core.aws.storage;

import java.util.function.Predicate;
import warden.core.access.Truth;
import warden.core.document.JsonPart;
import warden.core.survey.Reading;

/**
 * The four flags of a public access block. A flag that the answer does not show is off.
 * Source: S3 User Guide, "Blocking public access to your Amazon S3 storage".
 *
 * @param blockPublicAcls refuses new public ACLs
 * @param ignorePublicAcls takes away what ACLs grant to everyone
 * @param blockPublicPolicy refuses new public policies
 * @param restrictPublicBuckets limits a bucket with a public policy to its own account and the provider's services
 */
public record PublicAccessBlock(
        boolean blockPublicAcls, boolean ignorePublicAcls, boolean blockPublicPolicy, boolean restrictPublicBuckets) {

    /** Reads the answer of the account's or a bucket's get-public-access-block. */
    public static PublicAccessBlock parse(JsonPart answer) {
        JsonPart flags = answer.find("PublicAccessBlockConfiguration").orElse(answer);
        return new PublicAccessBlock(
                flags.flag("BlockPublicAcls").orElse(false),
                flags.flag("IgnorePublicAcls").orElse(false),
                flags.flag("BlockPublicPolicy").orElse(false),
                flags.flag("RestrictPublicBuckets").orElse(false));
    }

    /** Returns whether a flag of a block is on. A block that was never set has none on. */
    public static Truth isOn(Reading<PublicAccessBlock> block, Predicate<PublicAccessBlock> flag) {
        return block.fold(found -> Truth.of(flag.test(found.value())), absent -> Truth.FALSE, unread -> Truth.UNKNOWN);
    }

    /** True when all four flags are on. */
    public boolean isComplete() {
        return blockPublicAcls && ignorePublicAcls && blockPublicPolicy && restrictPublicBuckets;
    }
}
