package warden.core.aws.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.Leads;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.aws.storage.Website;
import warden.core.trace.Case;
import warden.core.trace.WebAddress;

/** The addresses of one host that tell most: pages, what is missing, plain HTTP, and the ways around the edge. */
final class Cases {
    private static final int MOST_FOLDERS = 3;
    private final AwsCloud cloud;

    Cases(AwsCloud cloud) {
        this.cloud = cloud;
    }

    List<Case> of(String host) {
        List<Case> cases = new ArrayList<>();
        boolean plain = isPlain(host);
        String base = base(host);
        add(cases, "front page", base + "/");
        Optional<BucketSite> site = cloud.siteOf(host);
        List<Bucket> buckets = site.map(BucketSite::buckets).orElse(List.of());
        for (Bucket bucket : buckets) {
            for (String folder : folders(bucket)) {
                add(cases, "folder", base + "/" + WebAddress.escapedKey(folder) + "/");
            }
        }
        add(cases, "missing page", base + "/no-such-page.html");
        add(cases, "deep link", base + "/no/such/view");
        add(cases, plain ? "over HTTPS" : "plain HTTP", (plain ? "https://" : "http://") + host + "/");
        for (Bucket bucket : buckets) {
            String region = bucket.region().found().orElse("us-east-1");
            String page = bucket.website().found().flatMap(Website::index).orElse("index.html");
            String path = "/" + WebAddress.escapedKey(page);
            add(cases, "bucket directly", "https://s3." + region + ".amazonaws.com/" + bucket.name() + path);
            add(cases, "bucket by host", "http://" + bucket.name() + ".s3." + region + ".amazonaws.com" + path);
            add(cases, "website endpoint", "http://" + bucket.name() + "." + StorageEndpoint.websiteHost(region) + "/");
        }
        site.map(BucketSite::distributions)
                .orElse(List.of())
                .forEach(distribution -> add(cases, "CDN's own name", "https://" + distribution.domain() + "/"));
        return cases;
    }

    /** Returns the address of a host's front page, as its visitors come. */
    Optional<WebAddress> frontPage(String host) {
        return WebAddress.parse(base(host) + "/").address();
    }

    private String base(String host) {
        return (isPlain(host) ? "http://" : "https://") + host;
    }

    /** A website endpoint speaks plain HTTP only, so that is how its visitors come. */
    private boolean isPlain(String host) {
        return !cloud.hosts().leads(host).isEmpty()
                && cloud.hosts().leads(host).stream().allMatch(lead -> Leads.storage(lead)
                        .filter(StorageEndpoint::isWebsite)
                        .isPresent());
    }

    private static void add(List<Case> cases, String what, String url) {
        WebAddress.parse(url).address().ifPresent(address -> cases.add(new Case(what, address)));
    }

    /** Returns the folders that hold an index document of their own, the first few. */
    private static List<String> folders(Bucket bucket) {
        Set<String> folders = new TreeSet<>();
        bucket.objects().found().map(ObjectListing::keys).orElse(Set.of()).stream()
                .filter(key -> key.endsWith("/index.html"))
                .map(key -> key.substring(0, key.length() - "/index.html".length()))
                .forEach(folders::add);
        return folders.stream().limit(MOST_FOLDERS).toList();
    }
}
