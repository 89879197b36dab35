package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.HostCheck;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.Leads;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.names.Lead;

/** Finds hosts that lead to the website endpoint of a bucket with another name. */
final class BucketHostMismatch implements HostCheck {
    private static final CheckCard CARD = new CheckCard(
            "bucket-host-mismatch",
            Area.HOSTING,
            Severity.CRITICAL,
            "a record points a host at the website endpoint, and the bucket's name is not that host",
            "zone-records, bucket-list",
            "The website endpoint looks for a bucket named like the host. Visitors get 404, and anybody who creates a bucket of"
                    + " that name serves the host.",
            "Create the bucket under the host's own name, or put a CDN between the host and this bucket.",
            "S3 User Guide, \"Configuring a static website using a custom domain registered with Route 53\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Lead lead : subject.leads()) {
            Leads.storage(lead)
                    .filter(StorageEndpoint::isWebsite)
                    .ifPresent(website -> verdicts.add(judge(
                            subject.context(),
                            subject.host(),
                            lead,
                            website.bucket().orElse(subject.host()))));
        }
        return verdicts;
    }

    private static Verdict judge(AwsContext context, String host, Lead lead, String bucket) {
        Optional<String> site = context.cloud().sites().stream()
                .filter(each -> each.hosts().contains(host))
                .findFirst()
                .map(BucketSite::name);
        if (bucket.equals(host)) {
            return new Verdict.Clean(Bucket.arnOf(bucket), site);
        }
        String says = host + " leads to the website endpoint of the bucket " + bucket
                + ", which answers only for hosts of its own name.";
        return new Verdict.Flagged(Finding.of(
                        CARD,
                        Bucket.arnOf(bucket),
                        site,
                        says,
                        List.of(lead.record().at()))
                .at(host));
    }
}
