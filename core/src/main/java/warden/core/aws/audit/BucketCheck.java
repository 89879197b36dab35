package warden.core.aws.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Extent;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.reach.Reach;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.Leads;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.aws.storage.Website;
import warden.core.aws.trace.Visits;
import warden.core.site.SitePattern;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** A check that asks its question of every bucket. */
public interface BucketCheck extends AwsCheck<BucketCheck.Subject> {
    /**
     * One bucket in its surroundings.
     *
     * @param visits what visitors of its sites get
     */
    record Subject(AwsCloud cloud, Account account, Bucket bucket, List<BucketSite> sites, Visits visits)
            implements Judged {
        /** Returns the name of the site that the bucket serves; of several, the first. */
        public Optional<String> site() {
            return sites.stream().findFirst().map(BucketSite::name);
        }

        /** Returns the engine that speaks for the bucket's account. */
        public Reach reach() {
            return cloud.reach(account);
        }

        /** True when one of its sites needs visitors, or an edge that does not sign, to read it as everybody. */
        public boolean needsPublicAccess() {
            return sites.stream().anyMatch(site -> site.needsPublicAccess(bucket));
        }

        /** True when the owner says what one of its sites is meant to be. */
        public boolean isStated() {
            return sites.stream().anyMatch(site -> site.meant().isPresent());
        }

        /** True when it serves a site that is meant to keep it closed, or no site at all. */
        public boolean isMeantSealed() {
            return sites.stream().allMatch(BucketSite::isMeantSealed);
        }

        /**
         * Returns what keeps from telling whether an edge fetches from it: distributions that were not read. Empty where a host leads straight
         * to the bucket, which then is used without any.
         */
        public List<Need> unreadEdges() {
            boolean direct = sites.stream()
                    .flatMap(site -> site.hosts().stream())
                    .flatMap(host -> cloud.hosts().leads(host).stream())
                    .anyMatch(lead -> Leads.storage(lead)
                            .flatMap(StorageEndpoint::bucket)
                            .filter(bucket.name()::equals)
                            .isPresent());
            return direct ? List.of() : UnreadDistribution.needs(cloud.unreadDistributionsAt(bucket.name()));
        }

        /**
         * Returns what keeps from telling whether it serves a site at all: that its website configuration was not read, or an edge that may
         * fetch from it. Empty where it is known to serve one, or none.
         */
        public List<Need> mayServeSite() {
            if (!sites.isEmpty()) {
                return List.of();
            }
            List<Need> open =
                    new ArrayList<>(bucket.website().missing().stream().toList());
            open.addAll(unreadEdges());
            return open;
        }

        /** Returns what keeps the names of its objects from being known as a whole; absent when they are. */
        public Optional<Need> unlistedObjects() {
            return bucket.unlistedObjects();
        }

        /** Returns what would settle an extent that is not known; empty when it is known. */
        public List<Need> needs(Extent extent) {
            if (extent.kind() != Extent.Kind.UNKNOWN) {
                return List.of();
            }
            return extent.needsOr("bucket-policy", bucket.arn());
        }

        /** True when one of its sites serves content out of it, not only redirects. */
        public boolean servesContent() {
            return !sites.isEmpty()
                    && bucket.website().found().filter(Website::redirectsAll).isEmpty()
                    && sites.stream().noneMatch(site -> site.pattern()
                            .filter(SitePattern.REDIRECT_ONLY::equals)
                            .isPresent());
        }

        /** Returns what keeps from telling whether it redirects everything and holds nothing; absent where that is known. */
        public Optional<Need> redirectsUnread() {
            boolean holdsObjects = bucket.objects()
                    .found()
                    .filter(listing -> !listing.keys().isEmpty())
                    .isPresent();
            boolean behindRest = sites.stream()
                    .anyMatch(site -> site.originsAt(bucket).stream().anyMatch(Origin::isRest));
            return holdsObjects || behindRest || isStated()
                    ? Optional.empty()
                    : bucket.website().missing();
        }

        /** Returns a finding about the bucket. */
        public Verdict flagged(CheckCard card, String says, List<Citation> because) {
            return new Verdict.Flagged(Finding.of(card, bucket.arn(), site(), says, because));
        }

        /** Returns the verdict that nothing is wrong. */
        public Verdict clean() {
            return new Verdict.Clean(bucket.arn(), site());
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(bucket.arn(), site(), needs);
        }

        @Override
        public void letGo() {
            visits.clear();
        }
    }

    @Override
    default List<Subject> subjects(AwsContext context) {
        return context.subjects(BucketCheck.class, () -> list(context));
    }

    private static List<Subject> list(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (Bucket bucket : account.buckets()) {
                subjects.add(new Subject(
                        context.cloud(),
                        account,
                        bucket,
                        context.cloud().sitesOf(bucket),
                        new Visits(context.cloud(), context.at())));
            }
        }
        return subjects;
    }

    /** Buckets that a list would have named which was not read are open questions. */
    @Override
    default List<Verdict> unread(AwsContext context) {
        List<Verdict> open = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            account.listedBuckets()
                    .missing()
                    .filter(need -> account.survey().isWanted("bucket-list", account.number()))
                    .ifPresent(
                            need -> open.add(new Verdict.Unknown(account.number(), Optional.empty(), List.of(need))));
        }
        return open;
    }
}
