package warden.core.aws.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;

/** Finds buckets out of which strangers can delete objects. */
final class AnyoneCanDelete implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "anyone-can-delete",
            Area.EXPOSURE,
            Severity.CRITICAL,
            "anyone, or any account, can delete objects or versions",
            "bucket-policy, bucket-acl, bucket-ownership, bucket-public-access, account-public-access",
            "A stranger can take the site down, for good where there are no versions.",
            "Take the grant back: name the credential that publishes the site, and turn the public access block on.",
            "S3 User Guide, \"Blocking public access to your Amazon S3 storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        return List.of(Strangers.judge(subject, CARD, CARD.severity(), Ability.DELETE, "delete objects of the bucket"));
    }
}
