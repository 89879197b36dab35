package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.DistributionCheck;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.storage.Bucket;
import warden.core.checks.CdnCards;
import warden.core.survey.Need;

/** Finds behaviours that serve content over plain HTTP. */
final class ViewerPlainHttp implements DistributionCheck {
    private static final CheckCard CARD = CdnCards.VIEWER_PLAIN_HTTP;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Behavior behavior : subject.distribution().behaviors()) {
            boolean onlyRedirects = subject.distribution()
                    .origin(behavior.originId())
                    .filter(subject::onlyRedirects)
                    .isPresent();
            if (!behavior.viewerProtocol().equals("allow-all") || onlyRedirects) {
                verdicts.add(subject.clean());
                continue;
            }
            Finding finding = Finding.of(
                            CARD,
                            subject.distribution().arn(),
                            subject.site(),
                            upper(behavior.called()) + " serves content over plain HTTP.",
                            List.of(subject.distribution().cite(behavior)))
                    .at(behavior.pathPattern().orElse("*"));
            List<Need> unlisted = new ArrayList<>();
            if (servesPages(subject, behavior, unlisted)) {
                verdicts.add(new Verdict.Flagged(finding));
            } else if (unlisted.isEmpty()) {
                verdicts.add(new Verdict.Flagged(finding.as(Severity.MEDIUM)));
            } else {
                verdicts.addAll(Verdict.atLeast(finding.as(Severity.MEDIUM), Severity.HIGH, subject.unknown(unlisted)));
            }
        }
        return verdicts;
    }

    private static String upper(String text) {
        return text.substring(0, 1).toUpperCase(Locale.ROOT) + text.substring(1);
    }

    /** Returns whether pages are among what the behaviour is for; {@code unlisted} collects the listings that would tell. */
    private static boolean servesPages(Subject subject, Behavior behavior, List<Need> unlisted) {
        if (behavior.pathPattern().isEmpty() || behavior.pathPattern().get().matches("/?\\*")) {
            return true;
        }
        Optional<Bucket> bucket =
                subject.distribution().origin(behavior.originId()).flatMap(subject::ownBucket);
        boolean pages = bucket.flatMap(each -> each.objects().found()).stream()
                .flatMap(listing -> listing.keys().stream())
                .filter(key -> key.endsWith(".html") || key.endsWith(".htm"))
                .anyMatch(key -> behavior.isFor("/" + key));
        if (!pages) {
            bucket.flatMap(Bucket::unlistedObjects).ifPresent(unlisted::add);
        }
        return pages;
    }
}
