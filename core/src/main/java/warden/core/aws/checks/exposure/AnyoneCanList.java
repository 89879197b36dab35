package warden.core.aws.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;

/** Finds buckets whose object names strangers can list. */
final class AnyoneCanList implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
                    "anyone-can-list",
                    Area.EXPOSURE,
                    Severity.MEDIUM,
                    "anyone, or any account, can list names (high where the site is meant to be sealed)",
                    "bucket-policy, bucket-acl, bucket-ownership, bucket-public-access, account-public-access",
                    "Whoever can list finds every file that no page links to: drafts, backups, old versions.",
                    "Grant reading of objects only, not s3:ListBucket, and remove READ for everyone from the bucket's ACL.",
                    "S3 User Guide, \"Blocking public access to your Amazon S3 storage\"")
            .atWorst(Severity.HIGH);

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        boolean sealed = !subject.sites().isEmpty() && subject.isMeantSealed();
        Severity severity = sealed ? Severity.HIGH : CARD.severity();
        return List.of(
                Strangers.judge(subject, CARD, severity, Ability.LIST, "list the names of the objects in the bucket"));
    }
}
