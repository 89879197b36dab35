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
import warden.core.checks.CdnCards;

/** Finds behaviours that send text uncompressed. */
final class CompressionOff implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.COMPRESSION_OFF;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final Pattern TEXT = Pattern.compile(".*\\.(html?|css|m?js|json|svg|xml|txt|webmanifest|map)");

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Behavior behavior : subject.distribution().behaviors()) {
            Optional<Origin> origin = subject.storageOrigin(behavior);
            if (origin.isEmpty() || subject.onlyRedirects(origin.get())) {
                continue;
            }
            boolean flagged = !behavior.compresses() && servesText(subject, behavior, origin.get());
            String says = "Text is sent uncompressed by " + behavior.called() + ".";
            verdicts.add(
                    flagged
                            ? new Verdict.Flagged(Finding.of(
                                            CARD,
                                            subject.distribution().arn(),
                                            subject.site(),
                                            says,
                                            List.of(subject.distribution().cite(behavior)))
                                    .at(behavior.pathPattern().orElse("*")))
                            : subject.clean());
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
