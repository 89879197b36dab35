package warden.core.site;

import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import warden.core.account.Account;
import warden.core.cdn.Distribution;
import warden.core.storage.Bucket;

/** What the pipelines of a survey, taken as texts, say about sites. */
public final class Pipelines {
    private static final Pattern INVALIDATES =
            Pattern.compile("(?i)create-?_?invalidation|invalidate[-_ ]?cloudfront|cloudfront[-_ ]?invalidat");

    private Pipelines() {}

    /** Returns the texts of the pipelines of an account, in lower case. */
    private static List<String> texts(Account account) {
        return account.survey().subjects("pipeline-file").stream()
                .flatMap(path -> account.survey().reading("pipeline-file", path).found().stream())
                .map(answer -> answer.text("Text").orElse("").toLowerCase(Locale.ROOT))
                .toList();
    }

    /** True when a pipeline that speaks of the site, its bucket or its distribution also invalidates. */
    public static boolean invalidates(Site site, Distribution distribution) {
        return texts(site.account()).stream()
                .filter(text -> INVALIDATES.matcher(text).find())
                .anyMatch(text -> mentions(text, distribution)
                        || site.buckets().stream().map(Bucket::name).anyMatch(text::contains)
                        || site.hosts().stream().anyMatch(text::contains));
    }

    /** True when a pipeline names the distribution. */
    public static boolean mention(Account account, Distribution distribution) {
        return texts(account).stream().anyMatch(text -> mentions(text, distribution));
    }

    private static boolean mentions(String text, Distribution distribution) {
        return text.contains(distribution.id().toLowerCase(Locale.ROOT));
    }
}
