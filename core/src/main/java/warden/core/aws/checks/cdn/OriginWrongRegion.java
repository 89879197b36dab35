package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Origin;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.survey.Reading;

/** Finds origins whose domain names another region than the bucket's. */
final class OriginWrongRegion implements DistributionCheck {
    private static final CheckCard CARD = new CheckCard(
            "origin-wrong-region",
            Area.CDN,
            Severity.MEDIUM,
            "the origin's domain names another region than the bucket's, or the global name for a bucket elsewhere",
            "distribution, bucket-location",
            "Requests are redirected to another host or refused; with the global name that may happen for hours after a change.",
            "Use the bucket's regional name as the origin's domain.",
            "CloudFront Developer Guide, \"Use various origins with CloudFront distributions\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Origin origin : subject.distribution().origins()) {
            subject.ownBucket(origin)
                    .ifPresent(bucket -> verdicts.add(bucket.region()
                            .fold(
                                    found -> judge(subject, origin, bucket, found),
                                    absent -> subject.clean(),
                                    unread -> subject.unknown(List.of(unread.need())))));
        }
        return verdicts;
    }

    private static Verdict judge(Subject subject, Origin origin, Bucket bucket, Reading.Found<String> region) {
        Optional<String> asked = origin.storage().flatMap(StorageEndpoint::region);
        boolean fits = asked.orElse("us-east-1").equals(region.value());
        if (fits) {
            return subject.clean();
        }
        String says = "The origin's domain " + origin.domain()
                + (asked.isPresent() ? " names the region " + asked.get() : " is the global name") + ", and the bucket "
                + bucket.name() + " lies in " + region.value() + ".";
        return new Verdict.Flagged(Finding.of(
                        CARD,
                        subject.distribution().arn(),
                        subject.site(),
                        says,
                        List.of(subject.distribution().cite(origin), region.at()))
                .at(origin.id()));
    }
}
