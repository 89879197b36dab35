package warden.core.aws.checks.cdn;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.audit.CheckCard;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.CacheTimes;
import warden.core.aws.cdn.Origin;
import warden.core.aws.publishing.Deployments;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectHead;
import warden.core.checks.CdnCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds pages that the edge keeps for long though nothing invalidates them. */
final class StaleAfterDeploy implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.STALE_AFTER_DEPLOY;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final long LONG = 3_600;

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<Behavior> behavior = subject.distribution().defaultBehavior();
        Optional<Origin> origin = behavior.flatMap(subject::storageOrigin);
        Optional<Bucket> bucket = origin.flatMap(subject::ownBucket);
        if (bucket.isEmpty()
                || subject.onlyRedirects(origin.get())
                || subject.inSite().isEmpty()) {
            return List.of();
        }
        if (subject.context().deployments().invalidates(subject.inSite().get(), subject.distribution())) {
            return List.of(subject.clean());
        }
        Reading<CacheTimes> times = subject.account()
                .edges()
                .policies()
                .times(behavior.get(), subject.distribution().at());
        if (times.found().isEmpty()) {
            return List.of(
                    times.missing().isPresent()
                            ? subject.unknown(times.missing().stream().toList())
                            : subject.clean());
        }
        if (times.found().get().most() <= LONG) {
            return List.of(subject.clean());
        }
        Verdict verdict = pages(
                subject, bucket.get(), times.found().get(), times.citation().orElseThrow());
        Deployments deployments = subject.context().deployments();
        List<Need> unreadPipelines = Stream.concat(
                        deployments.unread().stream()
                                .filter(unread ->
                                        unread.site().isEmpty() || unread.site().equals(subject.inSite()))
                                .map(Deployments.UnreadPipeline::need),
                        deployments.openInvalidations().stream())
                .toList();
        boolean mayBeInvalidated = verdict instanceof Verdict.Flagged && !unreadPipelines.isEmpty();
        return List.of(mayBeInvalidated ? subject.unknown(unreadPipelines) : verdict);
    }

    private static Verdict pages(Subject subject, Bucket bucket, CacheTimes times, Citation policy) {
        List<String> pages = bucket.keysWith("object").stream()
                .filter(key -> key.endsWith(".html"))
                .toList();
        for (String page : pages) {
            Reading<ObjectHead> head = bucket.head(page).orElseThrow();
            if (head instanceof Reading.Found<ObjectHead> found
                    && times.kept(found.value().cacheControl()) > LONG) {
                String says = "The page " + page + " stays at the edge for "
                        + times.kept(found.value().cacheControl()) / LONG
                        + " hours, and no known pipeline invalidates the distribution.";
                return subject.flagged(
                        CARD,
                        says,
                        List.of(
                                found.at()
                                        .at(
                                                "/CacheControl",
                                                found.value().cacheControl().orElse("")),
                                policy));
            }
        }
        boolean unread = pages.isEmpty()
                || pages.stream()
                        .anyMatch(page -> bucket.head(page).orElseThrow().isUnread());
        return unread
                ? subject.unknown(List.of(
                        new Need("object", bucket.object("index.html"), "how long pages may be kept", "s3:GetObject")))
                : subject.clean();
    }
}
