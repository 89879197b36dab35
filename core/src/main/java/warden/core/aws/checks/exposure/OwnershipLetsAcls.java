package warden.core.aws.checks.exposure;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.decision.AclSide;
import warden.core.aws.storage.AccessList;
import warden.core.aws.storage.AccessList.Grantee;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds buckets in which ACLs are in force though no ACL grants anything to anybody but the owner. */
final class OwnershipLetsAcls implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "ownership-lets-acls",
            Area.EXPOSURE,
            Severity.LOW,
            "ACLs are still in force though nothing needs them",
            "bucket-ownership, bucket-acl, object-acl",
            "A single upload with a public ACL opens an object, and objects may belong to other accounts.",
            "Set the bucket's object ownership to BucketOwnerEnforced.",
            "S3 User Guide, \"Controlling ownership of objects and disabling ACLs for your bucket\"");

    private static final int MOST_NEEDS = 5;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Truth inForce = AclSide.inForce(subject.bucket());
        if (inForce == Truth.FALSE) {
            return List.of(subject.clean());
        }
        Reading<AccessList> list = subject.bucket().accessList();
        if (inForce == Truth.UNKNOWN) {
            return List.of(subject.unknown(
                    subject.bucket().ownership().missing().stream().toList()));
        }
        if (list.isUnread()) {
            return List.of(subject.unknown(list.missing().stream().toList()));
        }
        if (somebodyNeedsThem(subject, list)) {
            return List.of(subject.clean());
        }
        List<Need> unreadObjects = subject.bucket().keysWith("object-acl").stream()
                .flatMap(key -> subject.bucket().objectAccessList(key).stream())
                .flatMap(acl -> acl.missing().stream())
                .limit(MOST_NEEDS)
                .toList();
        if (!unreadObjects.isEmpty()) {
            return List.of(subject.unknown(unreadObjects));
        }
        Citation because = subject.bucket().ownership().citation().orElseThrow();
        String says = "ACLs are in force in the bucket, and no ACL grants anything to anybody but its owner.";
        return List.of(
                new Verdict.Flagged(Finding.of(CARD, subject.bucket().arn(), subject.site(), says, List.of(because))));
    }

    private static boolean somebodyNeedsThem(Subject subject, Reading<AccessList> list) {
        Stream<Optional<AccessList>> objects = subject.bucket().keysWith("object-acl").stream()
                .map(key -> subject.bucket().objectAccessList(key).flatMap(Reading::found));
        return Stream.concat(Stream.of(list.found()), objects)
                .flatMap(Optional::stream)
                .anyMatch(acl -> acl.grants().stream().anyMatch(grant -> !isOwner(acl, grant.grantee())));
    }

    private static boolean isOwner(AccessList list, Grantee grantee) {
        return grantee instanceof Grantee.Canonical canonical
                && list.ownerId().filter(canonical.id()::equals).isPresent();
    }
}
