package warden.core.aws.checks.hosting;

import java.util.Optional;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.Leads;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Citation;

/** Who uses the website endpoint of a bucket. */
final class WebsiteUse {
    private WebsiteUse() {}

    /** Returns the record or origin that leads to the bucket's website endpoint; absent when there is none. */
    static Optional<Citation> of(AwsCloud cloud, Bucket bucket) {
        Optional<Citation> origin = cloud.originsAt(bucket.name()).stream()
                .filter(each -> each.origin().isWebsite())
                .map(each -> each.distribution().cite(each.origin()))
                .findFirst();
        return origin.or(() -> cloud.sitesOf(bucket).stream()
                .flatMap(site -> site.hosts().stream())
                .flatMap(host -> cloud.hosts().leads(host).stream())
                .filter(lead -> Leads.storage(lead)
                        .filter(endpoint -> endpoint.isWebsite()
                                && endpoint.bucket()
                                        .filter(bucket.name()::equals)
                                        .isPresent())
                        .isPresent())
                .map(lead -> lead.record().at())
                .findFirst());
    }
}
