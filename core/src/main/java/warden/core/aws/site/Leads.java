package warden.core.aws.site;

import java.util.Optional;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.names.Lead;

/** What of this provider the records of a host lead to. */
public final class Leads {
    private Leads() {}

    /** Returns the storage endpoint that the target is, the bucket's name filled in for alias records; absent for any other name. */
    public static Optional<StorageEndpoint> storage(Lead lead) {
        return StorageEndpoint.parse(lead.target())
                .map(endpoint -> endpoint.bucket().isPresent()
                        ? endpoint
                        : new StorageEndpoint(Optional.of(lead.host()), endpoint.region(), endpoint.isWebsite()));
    }

    /** True when the target is a name that the CDN gives to distributions. */
    public static boolean isDistribution(Lead lead) {
        return lead.target().endsWith(".cloudfront.net");
    }
}
