package warden.core.aws.checks.exposure;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.storage.PublicAccessBlock;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds buckets that need no public access and do not have the whole public access block. */
final class GuardOff implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "guard-off",
            Area.EXPOSURE,
            Severity.MEDIUM,
            "a bucket that needs no public access does not have all four public access block flags (own or account)",
            "bucket-public-access, account-public-access",
            "One wrong policy or ACL opens the bucket, and nothing stops it.",
            "Turn on all four flags of the bucket's public access block.",
            "S3 User Guide, \"Blocking public access to your Amazon S3 storage\"");

    /** One flag, by the provider's name. */
    private record Flag(String name, Predicate<PublicAccessBlock> isOn) {}

    private static final List<Flag> FLAGS = List.of(
            new Flag("BlockPublicAcls", PublicAccessBlock::blockPublicAcls),
            new Flag("IgnorePublicAcls", PublicAccessBlock::ignorePublicAcls),
            new Flag("BlockPublicPolicy", PublicAccessBlock::blockPublicPolicy),
            new Flag("RestrictPublicBuckets", PublicAccessBlock::restrictPublicBuckets));

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        if (subject.needsPublicAccess()) {
            return List.of();
        }
        Reading<PublicAccessBlock> own = subject.bucket().publicAccessBlock();
        Reading<PublicAccessBlock> account = subject.account().publicAccessBlock();
        List<String> off = new ArrayList<>();
        boolean open = false;
        for (Flag flag : FLAGS) {
            Truth on = isOn(own, flag).or(isOn(account, flag));
            if (on == Truth.FALSE) {
                off.add(flag.name());
            }
            open |= on == Truth.UNKNOWN;
        }
        List<Need> unreadEdges = subject.unreadEdges();
        if (!off.isEmpty() && !subject.isStated() && !unreadEdges.isEmpty()) {
            // An edge that does not sign would need it off.
            return List.of(subject.unknown(unreadEdges));
        }
        if (!off.isEmpty()) {
            List<Citation> because = new ArrayList<>();
            own.citation().ifPresent(because::add);
            account.citation().ifPresent(because::add);
            String says = off.size() == FLAGS.size()
                    ? "The bucket needs no public access, and neither its own public access block nor the account's is on."
                    : "The bucket needs no public access, and its public access block lacks " + String.join(", ", off)
                            + ".";
            return List.of(
                    new Verdict.Flagged(Finding.of(CARD, subject.bucket().arn(), subject.site(), says, because)));
        }
        if (open) {
            List<Need> needs = new ArrayList<>();
            own.missing().ifPresent(needs::add);
            account.missing().ifPresent(needs::add);
            return List.of(subject.unknown(needs));
        }
        return List.of(subject.clean());
    }

    private static Truth isOn(Reading<PublicAccessBlock> block, Flag flag) {
        return block.fold(
                found -> Truth.of(flag.isOn().test(found.value())), absent -> Truth.FALSE, unread -> Truth.UNKNOWN);
    }
}
