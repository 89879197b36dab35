package warden.core.aws.rehearse;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.Website;
import warden.core.document.JsonPart;
import warden.core.rehearse.StorageChanges;
import warden.core.rehearse.StorageChanges.Kind;
import warden.core.rehearse.StorageChanges.Stored;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** What the buckets of an account hold, and which of it edges may keep serving as it was. */
public final class BucketContents {
    private BucketContents() {}

    /** Returns the ARN of the bucket that an object is in, by the object's ARN; absent for what is no object. */
    public static Optional<String> bucketOf(String resource) {
        return Bucket.keyIn(resource).flatMap(key -> Bucket.nameIn(resource)).map(Bucket::arnOf);
    }

    /** Returns what is known of each object, by bucket ARN and key; buckets that were not listed are left out. */
    public static Map<String, Map<String, Stored>> of(Account account) {
        Survey survey = account.survey();
        Map<String, Map<String, Stored>> all = new TreeMap<>();
        for (String arn : survey.subjects("bucket-objects")) {
            survey.listing("bucket-objects", arn).found().ifPresent(listing -> {
                Map<String, Stored> objects = all.computeIfAbsent(arn, bucket -> new TreeMap<>());
                for (Reading.Found<JsonPart> page : listing.pages()) {
                    page.value().list("Contents").forEach(entry -> entry.text("Key")
                            .ifPresent(key -> objects.put(key, stored(survey, arn, key, entry))));
                }
            });
        }
        return all;
    }

    private static Stored stored(Survey survey, String arn, String key, JsonPart entry) {
        // Written anew with the same content, an object is as it was but for its time.
        String tag =
                entry.text("ETag").orElse("") + " " + entry.text("LastModified").orElse("");
        Optional<String> type =
                survey.reading("object", arn + "/" + key).found().flatMap(head -> head.text("ContentType"));
        return new Stored(tag, type);
    }

    /** Returns the name of each website bucket's index document, by bucket ARN. */
    public static Map<String, String> indexes(AwsCloud cloud) {
        Map<String, String> indexes = new TreeMap<>();
        for (Account account : cloud.accounts()) {
            for (Bucket bucket : account.buckets()) {
                bucket.website().found().flatMap(Website::index).ifPresent(name -> indexes.put(bucket.arn(), name));
            }
        }
        return indexes;
    }

    /**
     * Returns the changed and deleted objects that a distribution in front of their bucket was not told to forget, as paths behind its ARN and a blank.
     * What was new before cannot be kept by an edge, save as an error.
     *
     * <p>Source: CloudFront Developer Guide, "Invalidate files to remove content", section "Specify the files to invalidate": an asterisk stands at the
     * end only, and in a path for itself elsewhere.
     *
     * @param invalidated paths behind the distribution's ARN and a blank
     */
    public static List<String> stale(AwsCloud cloud, StorageChanges changes, List<String> invalidated) {
        List<String> stale = new ArrayList<>();
        for (BucketSite site : cloud.sites()) {
            for (Bucket bucket : site.buckets()) {
                Map<String, Kind> changed = changes.of(bucket.arn());
                for (Distribution distribution : site.distributions()) {
                    for (Origin origin : distribution.origins()) {
                        if (origin.bucket().filter(bucket.name()::equals).isPresent()) {
                            add(stale, distribution, origin, bucket, changed, invalidated);
                        }
                    }
                }
            }
        }
        return stale.stream().distinct().toList();
    }

    private static void add(
            List<String> stale,
            Distribution distribution,
            Origin origin,
            Bucket bucket,
            Map<String, Kind> changed,
            List<String> invalidated) {
        List<String> forgotten = invalidated.stream()
                .filter(each -> each.startsWith(distribution.arn() + " "))
                .map(each -> each.substring(distribution.arn().length() + 1))
                .toList();
        String front = origin.key("/");
        for (Map.Entry<String, Kind> change : changed.entrySet()) {
            if (change.getValue() != Kind.UPLOADED && change.getKey().startsWith(front)) {
                paths(distribution, origin, bucket, "/" + change.getKey().substring(front.length())).stream()
                        .filter(path -> forgotten.stream().noneMatch(each -> covers(each, path)))
                        .forEach(path -> stale.add(distribution.arn() + " " + path));
            }
        }
    }

    private static boolean covers(String invalidated, String path) {
        return invalidated.endsWith("*")
                ? path.startsWith(invalidated.substring(0, invalidated.length() - 1))
                : path.equals(invalidated);
    }

    /** An index document is kept under its folder's path too. */
    private static List<String> paths(Distribution distribution, Origin origin, Bucket bucket, String path) {
        Optional<String> index =
                origin.isWebsite() ? bucket.website().found().flatMap(Website::index) : Optional.empty();
        if (index.filter(name -> path.endsWith("/" + name)).isPresent()) {
            return List.of(path, path.substring(0, path.length() - index.get().length()));
        }
        return path.equals("/" + distribution.rootObject()) ? List.of(path, "/") : List.of(path);
    }
}
