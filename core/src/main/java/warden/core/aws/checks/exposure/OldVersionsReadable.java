package warden.core.aws.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.policy.Actor;
import warden.core.checks.ExposureCards;

/** Finds buckets whose old versions anyone can read. */
final class OldVersionsReadable implements BucketCheck {
    private static final CheckCard CARD = ExposureCards.OLD_VERSIONS_READABLE;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Extent extent = subject.reach()
                .strangersExtent(subject.bucket(), new Actor.Anyone(), Ability.READ, List.of("s3:GetObjectVersion"));
        if (extent.isSome()) {
            String says = "Anyone can read old versions of objects" + Strangers.scope(extent) + ".";
            return List.of(
                    new Verdict.Flagged(Finding.of(CARD, subject.bucket().arn(), subject.site(), says, extent.because())
                            .with(extent.witness())));
        }
        boolean hasNone =
                subject.bucket().versioning().found().filter(String::isEmpty).isPresent();
        return List.of(
                extent.kind() == Extent.Kind.NONE || hasNone
                        ? subject.clean()
                        : subject.unknown(subject.needs(extent)));
    }
}
