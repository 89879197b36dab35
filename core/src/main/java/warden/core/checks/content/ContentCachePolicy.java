package warden.core.checks.content;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.cloud.ObjectStore;
import warden.core.document.LatePattern;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds objects that browsers keep too long, or not long enough. */
final class ContentCachePolicy implements ContentCheck {
    private static final CheckCard CARD = new CheckCard(
            "content-cache-policy",
            Area.CONTENT,
            Severity.LOW,
            "hashed assets without a long cache life, or pages with a long one",
            "object",
            "Visitors load again what never changes, or keep an old page that no invalidation can reach.",
            "Store hashed files with max-age=31536000, immutable, and pages with no-cache or a few minutes.",
            "MDN Web Docs, \"HTTP caching\"; CloudFront Developer Guide, \"Manage how long content stays in the cache (expiration)\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final Pattern HASHED =
            Pattern.compile(".*[._-](?:[0-9a-f]{8,}|(?=[A-Za-z0-9_]*[0-9])[A-Za-z0-9_]{8,12})\\.(?:js|css|mjs|woff2?)");
    private static final Pattern MAX_AGE = Pattern.compile("(?i)max-age\\s*=\\s*\"?([0-9]{1,12})");
    private static final LatePattern NOT_KEPT = LatePattern.of("(?i).*(no-cache|no-store).*");
    private static final long WEEK = 7L * 24 * 3_600;
    private static final long HOUR = 3_600;

    @Override
    public List<Verdict> inStore(Stored stored) {
        List<Verdict> verdicts = new ArrayList<>();
        for (String key : stored.store().asked()) {
            if (stored.store().stored(key).orElseThrow() instanceof Reading.Found<? extends ObjectStore.Stored> found) {
                Optional<String> says = judge(key, found.value().cacheControl());
                says.ifPresent(sentence -> verdicts.add(new Verdict.Flagged(stored.finding(
                        CARD,
                        key,
                        found.at()
                                .at(
                                        found.value().cacheControlAt(),
                                        found.value().cacheControl().orElse("")),
                        sentence))));
            }
        }
        List<Need> unread = stored.unreadHeads(key -> HASHED.matcher(key).matches() || isPage(key));
        return !verdicts.isEmpty() ? verdicts : List.of(unread.isEmpty() ? stored.clean() : stored.unknown(unread));
    }

    private static boolean isPage(String key) {
        return key.endsWith(".html") || key.endsWith(".htm");
    }

    private static Optional<String> judge(String key, Optional<String> cacheControl) {
        Optional<Long> age = cacheControl.flatMap(ContentCachePolicy::maxAge);
        if (HASHED.matcher(key).matches() && cacheControl.isPresent() && age.orElse(0L) < WEEK) {
            return Optional.of(
                    key + " carries a hash in its name, and browsers keep it for " + age.orElse(0L) + " seconds only.");
        }
        boolean page = isPage(key);
        boolean asksAgain =
                cacheControl.filter(text -> NOT_KEPT.matcher(text).matches()).isPresent();
        if (page && !asksAgain && age.orElse(0L) > HOUR) {
            return Optional.of(
                    "Browsers keep the page " + key + " for " + age.get() / HOUR + " hours, whatever is deployed.");
        }
        return Optional.empty();
    }

    private static Optional<Long> maxAge(String cacheControl) {
        Matcher matcher = MAX_AGE.matcher(cacheControl);
        return matcher.find() ? Optional.of(Long.parseLong(matcher.group(1))) : Optional.empty();
    }
}
