package warden.core.aws.checks.exposure;

import java.util.List;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.cdn.Origin;
import warden.core.aws.policy.Actor;
import warden.core.aws.site.BucketSite;
import warden.core.checks.ExposureCards;
import warden.core.survey.Need;

/** Finds buckets behind the REST endpoint of an edge that anyone can also read directly. */
final class OpenAroundCdn implements BucketCheck {
    private static final CheckCard CARD = ExposureCards.OPEN_AROUND_CDN;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<BucketSite> behindRest = subject.sites().stream()
                .filter(site -> site.originsAt(subject.bucket()).stream().anyMatch(Origin::isRest))
                .toList();
        boolean stated =
                (behindRest.isEmpty() ? subject.sites() : behindRest).stream().anyMatch(BucketSite::isStatedOpen);
        List<Need> unreadEdges = behindRest.isEmpty() ? subject.unreadEdges() : List.of();
        if (stated || (behindRest.isEmpty() && unreadEdges.isEmpty())) {
            return List.of();
        }
        Extent extent = subject.reach().strangersExtent(subject.bucket(), new Actor.Anyone(), Ability.READ);
        if (!extent.isSome()) {
            return List.of(
                    extent.kind() == Extent.Kind.NONE ? subject.clean() : subject.unknown(subject.needs(extent)));
        }
        if (behindRest.isEmpty()) {
            return List.of(subject.unknown(unreadEdges));
        }
        String what = extent.kind() == Extent.Kind.ALL ? "every object" : "objects";
        String says =
                "Anyone can read " + what + " straight from the bucket, around the CDN" + Strangers.scope(extent) + ".";
        return List.of(
                new Verdict.Flagged(Finding.of(CARD, subject.bucket().arn(), subject.site(), says, extent.because())
                        .with(extent.witness())));
    }
}
