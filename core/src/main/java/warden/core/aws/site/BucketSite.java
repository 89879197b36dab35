package warden.core.aws.site;

import java.util.List;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.Website;
import warden.core.site.Site;
import warden.core.site.SiteFile.StatedSite;
import warden.core.site.SitePattern;

/**
 * One site: what belongs together.
 *
 * @param ofParts the pattern that the parts make
 * @param stated what the owner says; absent when the site file does not speak of it
 * @param buckets the buckets that hold its objects or its redirect, as far as they are the account's
 * @param distributions the edges in front
 * @param unreadDistributions the edges in front of which nothing but their hosts is known
 */
public record BucketSite(
        String name,
        Account account,
        PatternOfParts ofParts,
        Optional<StatedSite> stated,
        List<String> hosts,
        List<Bucket> buckets,
        List<Distribution> distributions,
        List<UnreadDistribution> unreadDistributions)
        implements Site {
    public BucketSite {
        hosts = List.copyOf(hosts);
        buckets = List.copyOf(buckets);
        distributions = List.copyOf(distributions);
        unreadDistributions = List.copyOf(unreadDistributions);
    }

    /** Returns this site under another name. */
    BucketSite named(String other) {
        return new BucketSite(other, account, ofParts, stated, hosts, buckets, distributions, unreadDistributions);
    }

    @Override
    public Optional<SitePattern> found() {
        return ofParts.tell();
    }

    /** Hashes the name only: the parts are whole documents. */
    @Override
    public int hashCode() {
        return name.hashCode();
    }

    @Override
    public List<String> storeIds() {
        return buckets.stream().map(Bucket::arn).toList();
    }

    @Override
    public List<String> unreadEdgeIds() {
        return unreadDistributions.stream().map(UnreadDistribution::arn).toList();
    }

    @Override
    public List<String> edgeIds() {
        return distributions.stream().map(Distribution::arn).toList();
    }

    /** Returns the origins of its distributions that fetch from {@code bucket}. */
    public List<Origin> originsAt(Bucket bucket) {
        return distributions.stream()
                .flatMap(distribution -> distribution.origins().stream())
                .filter(origin -> origin.bucket().filter(bucket.name()::equals).isPresent())
                .toList();
    }

    /**
     * True when the site is meant to keep its bucket closed: stated so, or served through an origin that signs.
     * A pattern that was merely found open is not thereby meant to be open.
     */
    @Override
    public boolean isMeantSealed() {
        if (meant().isPresent()) {
            return !meant().get().needsOpenBucket();
        }
        boolean throughRest = distributions.stream()
                .flatMap(distribution -> distribution.origins().stream())
                .anyMatch(origin -> origin.isRest());
        return throughRest
                || found().filter(SitePattern.SEALED_BUCKET_BEHIND_CDN::equals).isPresent();
    }

    /** True when visitors, or an edge that does not sign, read {@code bucket} as everybody. */
    public boolean needsPublicAccess(Bucket bucket) {
        if (meant().isPresent()) {
            return meant().get().needsOpenBucket();
        }
        boolean unsigned = originsAt(bucket).stream()
                .anyMatch(origin -> origin.isWebsite()
                        || (origin.identity().isEmpty() && origin.control().isEmpty()));
        return found().filter(SitePattern.OPEN_BUCKET::equals).isPresent() || (unsigned && !onlyRedirects(bucket));
    }

    private static boolean onlyRedirects(Bucket bucket) {
        return bucket.website().found().filter(Website::redirectsAll).isPresent();
    }
}
