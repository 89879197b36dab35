package warden.core.aws.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;

/** Finds buckets whose settings strangers can change. */
final class AnyoneCanChangeRules implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "anyone-can-change-rules",
            Area.EXPOSURE,
            Severity.CRITICAL,
            "anyone, or any account, can change policy, ACLs, hosting or other settings of the bucket",
            "bucket-policy, bucket-acl, bucket-ownership, bucket-public-access, account-public-access",
            "A stranger can open the bucket further, redirect the site, or destroy it.",
            "Take the grant back: name the principals that administer the bucket, and turn the public access block on.",
            "S3 User Guide, \"Blocking public access to your Amazon S3 storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        return List.of(Strangers.judge(
                subject, CARD, CARD.severity(), Ability.CHANGE_RULES, "change the rules of the bucket"));
    }
}
