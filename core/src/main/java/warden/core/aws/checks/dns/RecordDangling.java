package warden.core.aws.checks.dns;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.HostCheck;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.Leads;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.checks.DnsCards;
import warden.core.names.Lead;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds records that lead to something that does not exist. */
final class RecordDangling implements HostCheck {
    private static final CheckCard CARD = DnsCards.RECORD_DANGLING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        AwsCloud cloud = subject.context().cloud();
        List<Verdict> verdicts = new ArrayList<>();
        for (Lead lead : subject.leads()) {
            Optional<String> bucket = Leads.storage(lead).flatMap(StorageEndpoint::bucket);
            if (bucket.isPresent()) {
                verdicts.add(toBucket(cloud, subject.host(), lead, bucket.get()));
            } else if (Leads.isDistribution(lead)) {
                verdicts.add(toDistribution(cloud, subject.host(), lead));
            }
        }
        // A host's IPv4 and IPv6 records are one fact.
        Set<String> seen = new HashSet<>();
        return verdicts.stream()
                .filter(verdict -> !(verdict instanceof Verdict.Flagged flagged)
                        || seen.add(flagged.finding().says()))
                .toList();
    }

    private static Optional<String> site(AwsCloud cloud, String host) {
        return cloud.siteOf(host).map(BucketSite::name);
    }

    private static Verdict toBucket(AwsCloud cloud, String host, Lead lead, String bucket) {
        if (cloud.ownerOf(bucket).isPresent()) {
            return new Verdict.Clean(host, site(cloud, host));
        }
        List<Need> needs = new ArrayList<>();
        List<Citation> because = new ArrayList<>(List.of(lead.record().at()));
        for (Account account : cloud.accounts()) {
            account.listedBuckets().missing().ifPresent(needs::add);
            account.listedBuckets().citation().ifPresent(at -> because.add(at.at("/Buckets", "")));
        }
        if (!needs.isEmpty()) {
            return new Verdict.Unknown(host, site(cloud, host), needs);
        }
        String says = host + " leads to the bucket " + bucket + ", which is not in the surveyed accounts.";
        return new Verdict.Flagged(Finding.of(CARD, host, site(cloud, host), says, because));
    }

    private static Verdict toDistribution(AwsCloud cloud, String host, Lead lead) {
        List<Need> needs = new ArrayList<>();
        List<Citation> because = new ArrayList<>(List.of(lead.record().at()));
        for (Account account : cloud.accounts()) {
            boolean described = cloud.distributionNamed(lead.target()).isPresent();
            Reading<Set<String>> listed = account.edges().listedDistributionDomains();
            boolean isListed = listed.found()
                    .filter(names -> names.contains(lead.target()))
                    .isPresent();
            if (described || isListed || account.names().isManagedFront(lead.target())) {
                return new Verdict.Clean(host, site(cloud, host));
            }
            listed.missing().ifPresent(needs::add);
            listed.citation().ifPresent(at -> because.add(at.at("", "")));
            needs.addAll(account.names().unreadManagedFronts());
        }
        if (!needs.isEmpty()) {
            return new Verdict.Unknown(host, site(cloud, host), needs);
        }
        String says = host + " leads to the distribution " + lead.target() + ", which is not in the surveyed accounts.";
        return new Verdict.Flagged(Finding.of(CARD, host, site(cloud, host), says, because));
    }
}
