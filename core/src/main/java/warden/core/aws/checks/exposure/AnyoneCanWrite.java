package warden.core.aws.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;

/** Finds buckets into which strangers can put objects. */
final class AnyoneCanWrite implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "anyone-can-write",
            Area.EXPOSURE,
            Severity.CRITICAL,
            "anyone, or any account, can put objects",
            "bucket-policy, bucket-acl, bucket-ownership, bucket-public-access, account-public-access",
            "A stranger can replace the site's pages and scripts, or use the bucket to serve their own.",
            "Take the write grant back: name the credential that publishes the site, and turn the public access block on.",
            "S3 User Guide, \"Blocking public access to your Amazon S3 storage\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        return List.of(Strangers.judge(subject, CARD, CARD.severity(), Ability.WRITE, "put objects into the bucket"));
    }
}
