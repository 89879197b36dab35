package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.Origin;
import warden.core.aws.storage.Bucket;
import warden.core.checks.CdnCards;
import warden.core.survey.Need;

/** Finds behaviours that send text uncompressed. */
final class CompressionOff implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.COMPRESSION_OFF;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final Pattern TEXT = Pattern.compile(".*\\.(html?|css|m?js|json|svg|xml|txt|webmanifest|map)");

    /** Paths that all end in another way than text does. */
    private static final Pattern ENDING = Pattern.compile(".*\\.[A-Za-z0-9]+");

    private static boolean isOfOtherFiles(String pathPattern) {
        return ENDING.matcher(pathPattern).matches()
                && !TEXT.matcher(pathPattern).matches();
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Behavior behavior : subject.distribution().behaviors()) {
            Optional<Origin> origin = subject.storageOrigin(behavior);
            if (origin.isEmpty() || subject.onlyRedirects(origin.get())) {
                continue;
            }
            if (behavior.compresses()) {
                verdicts.add(subject.clean());
                continue;
            }
            Optional<Need> unlisted = behavior.pathPattern()
                            .filter(CompressionOff::isOfOtherFiles)
                            .isPresent()
                    ? Optional.empty()
                    : subject.ownBucket(origin.get()).flatMap(Bucket::unlistedObjects);
            if (!servesText(subject, behavior, origin.get())) {
                verdicts.add(
                        unlisted.map(need -> subject.unknown(List.of(need))).orElseGet(subject::clean));
                continue;
            }
            verdicts.add(new Verdict.Flagged(Finding.of(
                            CARD,
                            subject.distribution().arn(),
                            subject.site(),
                            "Text is sent uncompressed by " + behavior.called() + ".",
                            List.of(subject.distribution().cite(behavior)))
                    .at(behavior.pathPattern().orElse("*"))));
        }
        return verdicts;
    }

    private static boolean servesText(Subject subject, Behavior behavior, Origin origin) {
        if (behavior.pathPattern().isEmpty()
                || TEXT.matcher(behavior.pathPattern().get()).matches()) {
            return true;
        }
        return subject.ownBucket(origin).flatMap(bucket -> bucket.objects().found()).stream()
                .flatMap(listing -> listing.keys().stream())
                .anyMatch(key -> TEXT.matcher(key).matches() && behavior.isFor("/" + key));
    }
}
