package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import warden.core.access.Truth;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.storage.LifecycleRule;
import warden.core.aws.storage.ObjectListing;
import warden.core.checks.HostingCards;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds lifecycle rules that take the site's current objects away. */
final class ExpiresLiveContent implements SiteBucketCheck {
    private static final CheckCard CARD = HostingCards.EXPIRES_LIVE_CONTENT;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        if (!subject.servesContent()) {
            return List.of();
        }
        return subject.bucket()
                .lifecycle()
                .fold(
                        found -> judge(subject, found),
                        absent -> List.of(subject.clean()),
                        unread -> List.of(subject.unknown(List.of(unread.need()))));
    }

    private static List<Verdict> judge(Subject subject, Reading.Found<List<LifecycleRule>> rules) {
        List<Verdict> verdicts = new ArrayList<>();
        for (LifecycleRule rule : rules.value()) {
            if (!rule.enabled() || !(rule.expires() || rule.archives())) {
                continue;
            }
            Truth touches = touches(subject, rule);
            if (touches == Truth.FALSE) {
                continue;
            }
            if (touches == Truth.UNKNOWN || rule.tagged()) {
                verdicts.add(subject.unknown(List.of(new Need(
                        touches == Truth.UNKNOWN ? "bucket-objects" : "object",
                        subject.bucket().arn(),
                        touches == Truth.UNKNOWN ? "which objects the rule is for" : "the rule is limited by tags",
                        "s3:ListBucket"))));
                continue;
            }
            String says =
                    "A lifecycle rule " + (rule.expires() ? "deletes" : "archives") + " current objects of the site"
                            + (rule.prefix().isEmpty() ? "." : " under " + rule.prefix() + ".");
            verdicts.add(new Verdict.Flagged(Finding.of(
                            CARD,
                            subject.bucket().arn(),
                            subject.site(),
                            says,
                            List.of(rules.at().at(rule.at().toString(), "")))
                    .at(rule.prefix())));
        }
        return verdicts.isEmpty() ? List.of(subject.clean()) : verdicts;
    }

    /** Returns whether the rule is for any object, tags aside; the sizes in a listing tell of one that is limited by size. */
    private static Truth touches(Subject subject, LifecycleRule rule) {
        if (!rule.isSized()) {
            return rule.prefix().isEmpty() ? Truth.TRUE : under(subject, rule.prefix());
        }
        Optional<ObjectListing> listing = subject.bucket().objects().found();
        if (listing.isEmpty()) {
            return Truth.UNKNOWN;
        }
        Truth touches = Truth.of(!listing.get().isWhole()).and(Truth.UNKNOWN);
        for (String key : listing.get().keys()) {
            if (key.startsWith(rule.prefix())) {
                OptionalLong size = listing.get().entry(key).orElseThrow().size();
                touches = touches.or(size.isPresent() ? Truth.of(rule.covers(size.getAsLong())) : Truth.UNKNOWN);
            }
        }
        return touches;
    }

    private static Truth under(Subject subject, String prefix) {
        return subject.bucket()
                .objects()
                .found()
                .map(listing -> listing.hasUnder(prefix))
                .orElse(Truth.UNKNOWN);
    }
}
