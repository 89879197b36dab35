package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Origin;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.survey.AwsAspects;
import warden.core.checks.CdnCards;
import warden.core.survey.Reading;

/** Finds origin paths under which there is no object. */
final class OriginPathMissing implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.ORIGIN_PATH_MISSING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Origin origin : subject.distribution().origins()) {
            if (!origin.path().isEmpty()) {
                subject.ownBucket(origin).ifPresent(bucket -> verdicts.add(judge(subject, origin, bucket)));
            }
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, Origin origin, Bucket bucket) {
        Reading<ObjectListing> objects = bucket.objects();
        if (objects.isUnread()) {
            return subject.unknown(objects.missing().stream().toList());
        }
        String prefix = origin.key("/");
        Truth exists = objects.found().map(listing -> listing.hasUnder(prefix)).orElse(Truth.UNKNOWN);
        return switch (exists) {
            case TRUE -> subject.clean();
            case UNKNOWN -> subject.unknown(List.of(AwsAspects.cutShort("bucket-objects", bucket.arn())));
            case FALSE ->
                new Verdict.Flagged(Finding.of(
                                CARD,
                                subject.distribution().arn(),
                                subject.site(),
                                "The origin path " + origin.path() + " leads where the bucket " + bucket.name()
                                        + " has no object.",
                                List.of(
                                        subject.distribution().cite(origin),
                                        objects.citation().orElseThrow().at("", "")))
                        .at(origin.id()));
        };
    }
}
