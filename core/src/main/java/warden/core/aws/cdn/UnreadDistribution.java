package warden.core.aws.cdn;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.document.JsonPart;
import warden.core.survey.Need;
import warden.core.survey.Survey;

/**
 * A distribution that exists, or may, and was not read. A list of distributions shows of each a part.
 *
 * @param arn its ARN; the account's number where the list itself was not read, which stands for all that it could name
 * @param domain its name at the CDN, in lower case; absent when no list shows it
 * @param aliases the hosts that the list shows
 * @param buckets the buckets that it fetches from; absent when no list shows its origins
 * @param need what would settle it
 */
public record UnreadDistribution(
        String arn, Optional<String> domain, List<String> aliases, Optional<Set<String>> buckets, Need need) {
    /** What would settle a question is not told better by thousands of readings than by some of them. */
    private static final int MOST_NEEDS = 5;

    private static final String LIST = "distribution-list";
    private static final String ONE = "distribution";

    public UnreadDistribution {
        aliases = List.copyOf(aliases);
        buckets = buckets.map(Set::copyOf);
    }

    /** True unless its origins are known and none of them is this bucket. */
    public boolean mayServe(String bucket) {
        return buckets.isEmpty() || buckets.get().contains(bucket);
    }

    /** Returns what would settle a question that hangs on these; of very many what some of them would. */
    public static List<Need> needs(Stream<UnreadDistribution> unread) {
        return unread.limit(MOST_NEEDS).map(UnreadDistribution::need).distinct().toList();
    }

    /**
     * Returns those of a survey: the listed ones that no line describes, those that were refused, and one that stands for all where the list
     * was refused or is cut short.
     */
    public static List<UnreadDistribution> in(Survey survey) {
        String account = survey.header().account();
        Map<String, UnreadDistribution> unread = new LinkedHashMap<>();
        survey.listing(LIST, account).found().ifPresent(list -> list.pages().forEach(page -> page.value()
                .find("DistributionList")
                .orElse(page.value())
                .list("Items")
                .forEach(item -> item.text("ARN").ifPresent(arn -> survey.missing(ONE, arn)
                        .ifPresent(need -> unread.put(arn, listed(arn, item, need)))))));
        for (String arn : survey.subjects(ONE)) {
            survey.missing(ONE, arn).ifPresent(need -> unread.putIfAbsent(arn, unlisted(arn, need)));
        }
        // Where no line asks, there may well be none: a bucket is then judged as one that no edge serves, and what was
        // found stays found.
        survey.unlisted(LIST, account)
                .filter(need -> survey.asked(LIST, account))
                .ifPresent(need -> unread.put(account, unlisted(account, need)));
        return List.copyOf(unread.values());
    }

    private static UnreadDistribution unlisted(String arn, Need need) {
        return new UnreadDistribution(arn, Optional.empty(), List.of(), Optional.empty(), need);
    }

    private static UnreadDistribution listed(String arn, JsonPart item, Need need) {
        List<String> aliases = new ArrayList<>();
        item.find("Aliases")
                .ifPresent(part -> part.texts("Items").forEach(alias -> aliases.add(alias.toLowerCase(Locale.ROOT))));
        Optional<Set<String>> buckets = item.find("Origins").map(origins -> origins.list("Items").stream()
                .flatMap(origin -> origin.text("DomainName").stream())
                .flatMap(name -> StorageEndpoint.parse(name).stream())
                .flatMap(endpoint -> endpoint.bucket().stream())
                .collect(Collectors.toCollection(LinkedHashSet::new)));
        Optional<String> domain = item.text("DomainName").map(name -> name.toLowerCase(Locale.ROOT));
        return new UnreadDistribution(arn, domain, aliases, buckets, need);
    }
}
