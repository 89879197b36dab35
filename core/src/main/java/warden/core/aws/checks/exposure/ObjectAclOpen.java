package warden.core.aws.checks.exposure;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.decision.AclSide;
import warden.core.aws.storage.AccessList;
import warden.core.aws.storage.AccessList.Grant;
import warden.core.aws.storage.AccessList.Permission;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds single objects that their own ACL opens to everyone. */
final class ObjectAclOpen implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
                    "object-acl-open",
                    Area.EXPOSURE,
                    Severity.MEDIUM,
                    "single objects are opened by their own ACL in a bucket meant to be sealed, or opened for writing (critical)",
                    "object-acl, bucket-ownership, bucket-public-access, account-public-access",
                    "A grant on a single object is seen on no settings page of the bucket and outlives every change of its policy.",
                    "Enforce the bucket owner's ownership, which disables ACLs, or turn IgnorePublicAcls on.",
                    "S3 User Guide, \"Access control list (ACL) overview\"")
            .atWorst(Severity.CRITICAL);

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        AclSide lists = new AclSide(subject.account());
        Truth counts = AclSide.inForce(subject.bucket())
                .and(lists.publicGrantsIgnored(subject.bucket()).not());
        List<Verdict> verdicts = new ArrayList<>();
        for (String key : subject.bucket().keysWith("object-acl")) {
            Reading<AccessList> reading = subject.bucket().objectAccessList(key).orElseThrow();
            if (counts == Truth.FALSE || reading.isAbsent()) {
                continue;
            }
            if (reading instanceof Reading.Found<AccessList> found) {
                found.value().grants().stream()
                        .filter(Grant::isPublic)
                        .findFirst()
                        .ifPresent(grant -> verdicts.add(judge(subject, key, found, grant, counts)));
            } else {
                reading.missing().ifPresent(need -> verdicts.add(subject.unknown(List.of(need))));
            }
        }
        verdicts.removeIf(verdict -> verdict instanceof Verdict.Clean);
        return verdicts.isEmpty() ? List.of(subject.clean()) : verdicts;
    }

    private static Verdict judge(
            Subject subject, String key, Reading.Found<AccessList> list, Grant grant, Truth counts) {
        boolean forWriting = list.value().grants().stream()
                .anyMatch(open ->
                        open.isPublic() && (open.includes(Permission.WRITE) || open.includes(Permission.WRITE_ACP)));
        boolean isPage = !subject.isMeantSealed();
        if (isPage && !forWriting) {
            return subject.clean();
        }
        if (counts == Truth.UNKNOWN) {
            List<Need> needs = new ArrayList<>();
            subject.bucket().ownership().missing().ifPresent(needs::add);
            subject.bucket().publicAccessBlock().missing().ifPresent(needs::add);
            subject.account().publicAccessBlock().missing().ifPresent(needs::add);
            return subject.unknown(needs);
        }
        Citation at = list.at().at(grant.at().toString(), grant.permission() + " to everyone");
        String says =
                "The object " + key + " is opened by its own ACL " + (forWriting ? "for writing." : "for reading.");
        Finding finding = Finding.of(CARD, subject.bucket().arn(), subject.site(), says, List.of(at))
                .at(key);
        return new Verdict.Flagged(forWriting ? finding.as(Severity.CRITICAL) : finding);
    }
}
