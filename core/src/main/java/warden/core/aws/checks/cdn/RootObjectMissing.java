package warden.core.aws.checks.cdn;

import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.survey.AwsAspects;
import warden.core.checks.CdnCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds distributions in front of a REST origin that do not say, or say wrongly, what the front page is. */
final class RootObjectMissing implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.ROOT_OBJECT_MISSING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Distribution distribution = subject.distribution();
        Optional<Origin> origin = distribution.defaultOrigin().filter(Origin::isRest);
        if (origin.isEmpty()) {
            return List.of();
        }
        String root = distribution.rootObject();
        if (root.isEmpty()) {
            Optional<String> function = distribution.defaultBehavior().map(Behavior::edgeFunctions).stream()
                    .flatMap(List::stream)
                    .filter(Behavior.EdgeFunction::mayRewrite)
                    .map(Behavior.EdgeFunction::arn)
                    .findFirst();
            // A function at the edge may turn / into the index document; what it does is not modelled.
            return List.of(
                    function.isPresent()
                            ? subject.unknown(List.of(new Need(
                                    "edge-function", function.get(), "what an edge function does is not known", "")))
                            : flagged(
                                    subject,
                                    "The distribution has no default root object, so / fails.",
                                    distribution
                                            .at()
                                            .at(
                                                    distribution
                                                            .config()
                                                            .at()
                                                            .member("DefaultRootObject")
                                                            .toString(),
                                                    "")));
        }
        if (root.startsWith("/")) {
            return List.of(flagged(
                    subject,
                    "The distribution's default root object " + root + " begins with a slash, so / fails.",
                    distribution.at()));
        }
        return subject.ownBucket(origin.get()).stream()
                .map(bucket -> exists(subject, origin.get(), bucket, root))
                .toList();
    }

    private static Verdict exists(Subject subject, Origin origin, Bucket bucket, String root) {
        String key = (origin.path().isEmpty() ? "" : origin.path().substring(1) + "/") + root;
        Reading<ObjectListing> objects = bucket.objects();
        return objects.fold(
                found -> {
                    Truth exists = found.value().has(key);
                    if (exists == Truth.FALSE) {
                        return flagged(
                                subject,
                                "The distribution's default root object " + key + " does not exist in the bucket "
                                        + bucket.name() + ".",
                                subject.distribution().at());
                    }
                    return exists == Truth.TRUE
                            ? subject.clean()
                            : subject.unknown(List.of(AwsAspects.cutShort("bucket-objects", bucket.arn())));
                },
                absent -> subject.clean(),
                unread -> subject.unknown(List.of(unread.need())));
    }

    private static Verdict flagged(Subject subject, String says, Citation because) {
        return new Verdict.Flagged(
                Finding.of(CARD, subject.distribution().arn(), subject.site(), says, List.of(because)));
    }
}
