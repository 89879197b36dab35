package warden.core.aws.checks.exposure;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.decision.AclSide;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PublicPolicy;
import warden.core.aws.storage.AccessList;
import warden.core.aws.storage.AccessList.Grant;
import warden.core.checks.ExposureCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds buckets whose grant to everyone, which their site needs, a public access block takes back. */
final class GuardContradictsGrant implements BucketCheck {
    private static final CheckCard CARD = ExposureCards.GUARD_CONTRADICTS_GRANT;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        boolean openByPattern = subject.sites().stream()
                .anyMatch(site -> site.pattern()
                                .filter(pattern -> pattern.needsOpenBucket())
                                .isPresent()
                        && site.needsPublicAccess(subject.bucket())
                        && site.originsAt(subject.bucket()).stream().allMatch(origin -> origin.isWebsite()));
        if (!openByPattern) {
            return List.of();
        }
        Truth contradicted =
                subject.bucket().hasPublicPolicy().and(subject.account().restrictsPublicBuckets(subject.bucket()));
        if (contradicted == Truth.TRUE) {
            return List.of(flagged(subject, grants(subject), "The bucket policy opens the bucket"));
        }
        List<Citation> ignored = ignoredGrants(subject);
        if (!ignored.isEmpty()) {
            return List.of(flagged(subject, ignored, "ACLs open objects of the bucket"));
        }
        if (contradicted == Truth.UNKNOWN) {
            List<Need> needs = new ArrayList<>();
            subject.bucket().policy().missing().ifPresent(needs::add);
            subject.bucket().publicAccessBlock().missing().ifPresent(needs::add);
            subject.account().publicAccessBlock().missing().ifPresent(needs::add);
            if (needs.isEmpty()) {
                needs.add(new Need(
                        "bucket-policy", subject.bucket().arn(), "the policy is not one the provider accepts", ""));
            }
            return List.of(subject.unknown(needs));
        }
        return List.of(subject.clean());
    }

    private static Verdict flagged(Subject subject, List<Citation> grants, String what) {
        List<Citation> because = new ArrayList<>(grants);
        subject.bucket().publicAccessBlock().citation().ifPresent(because::add);
        subject.account().publicAccessBlock().citation().ifPresent(because::add);
        String says = what + " to visitors, and a public access block takes it back: they get 403.";
        return new Verdict.Flagged(Finding.of(CARD, subject.bucket().arn(), subject.site(), says, because));
    }

    private static List<Citation> grants(Subject subject) {
        return subject.bucket()
                .policy()
                .fold(
                        found -> {
                            PolicyDocument policy = found.value();
                            return policy.statements().stream()
                                    .filter(statement -> PublicPolicy.isPublic(statement) == Truth.TRUE)
                                    .map(statement ->
                                            found.at().at(statement.at().toString(), statement.text()))
                                    .toList();
                        },
                        absent -> List.<Citation>of(),
                        unread -> List.<Citation>of());
    }

    private static List<Citation> ignoredGrants(Subject subject) {
        AclSide lists = new AclSide(subject.account());
        boolean ignored = AclSide.inForce(subject.bucket()) == Truth.TRUE
                && lists.publicGrantsIgnored(subject.bucket()) == Truth.TRUE;
        List<Citation> citations = new ArrayList<>();
        for (String key : ignored ? subject.bucket().keysWith("object-acl") : List.<String>of()) {
            subject.bucket().objectAccessList(key).ifPresent(reading -> {
                if (reading instanceof Reading.Found<AccessList> found) {
                    found.value().grants().stream()
                            .filter(Grant::isPublic)
                            .findFirst()
                            .ifPresent(grant -> citations.add(
                                    found.at().at(grant.at().toString(), grant.permission() + " to everyone")));
                }
            });
        }
        return citations.stream().limit(3).toList();
    }
}
