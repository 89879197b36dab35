package warden.core.aws.checks.exposure;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.policy.Actor;
import warden.core.aws.storage.ObjectListing;
import warden.core.checks.ExposureCards;
import warden.core.content.PublishedPath;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds buckets that anyone can read though they serve no site. */
final class OpenWithoutSite implements BucketCheck {
    private static final CheckCard CARD = ExposureCards.OPEN_WITHOUT_SITE;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        if (!subject.sites().isEmpty()) {
            return List.of();
        }
        Extent extent = subject.reach().strangersExtent(subject.bucket(), new Actor.Anyone(), Ability.READ);
        if (!extent.isSome()) {
            return List.of(
                    extent.kind() == Extent.Kind.NONE ? subject.clean() : subject.unknown(subject.needs(extent)));
        }
        Optional<Citation> delicate = subject.bucket().objects().found().flatMap(OpenWithoutSite::delicate);
        String says = "Anyone can read " + (extent.kind() == Extent.Kind.ALL ? "every object" : "objects")
                + " of a bucket that serves no site"
                + delicate.map(at -> ", " + at.quote() + " among them").orElse("") + Strangers.scope(extent) + ".";
        List<Citation> because = new ArrayList<>(extent.because());
        delicate.ifPresent(because::add);
        Finding finding = Finding.of(CARD, subject.bucket().arn(), Optional.empty(), says, because)
                .with(extent.witness());
        if (delicate.isPresent()) {
            return List.of(new Verdict.Flagged(finding.as(Severity.CRITICAL)));
        }
        Optional<Need> unlisted = subject.unlistedObjects();
        return unlisted.map(need -> Verdict.atLeast(finding, Severity.CRITICAL, subject.unknown(List.of(need))))
                .orElse(List.of(new Verdict.Flagged(finding)));
    }

    private static Optional<Citation> delicate(ObjectListing listing) {
        return listing.keys().stream()
                .filter(PublishedPath::isDelicate)
                .findFirst()
                .flatMap(listing::citation);
    }
}
