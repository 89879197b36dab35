package warden.core.aws.audit;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Behavior;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.reach.Reach;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.Website;
import warden.core.site.SiteFile.Routing;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** A check that asks its question of every distribution. */
public interface DistributionCheck extends AwsCheck<DistributionCheck.Subject> {
    /** One distribution in its surroundings. */
    record Subject(AwsContext context, Account account, Distribution distribution, Optional<BucketSite> inSite)
            implements Judged {
        /** Returns all surveyed accounts together. */
        public AwsCloud cloud() {
            return context.cloud();
        }

        /** Returns the instant as of which to judge. */
        public Instant at() {
            return context.at();
        }

        /** Returns the name of its site. */
        public Optional<String> site() {
            return inSite.map(BucketSite::name);
        }

        /** Returns the engine that speaks for its account. */
        public Reach reach() {
            return context.cloud().reach(account);
        }

        /** Returns the bucket of the origin when it is a surveyed account's own. */
        public Optional<Bucket> ownBucket(Origin origin) {
            return origin.bucket().flatMap(name -> cloud().ownerOf(name).map(owner -> owner.bucket(name)));
        }

        /** Returns the engine that speaks for the account that owns a bucket. */
        public Reach reachOf(Bucket bucket) {
            return cloud().reach(cloud().ownerOf(bucket.name()).orElse(account));
        }

        /** Returns the account's own bucket that pages come from over the REST endpoint; absent where views are all one page. */
        public Optional<Bucket> bucketOfPages() {
            boolean singlePage = inSite().filter(site -> site.routing() == Routing.SINGLE_PAGE)
                    .isPresent();
            return singlePage
                    ? Optional.empty()
                    : distribution.defaultOrigin().filter(Origin::isRest).flatMap(this::ownBucket);
        }

        /** True when the origin's bucket sends every request elsewhere and serves nothing itself. */
        public boolean onlyRedirects(Origin origin) {
            return ownBucket(origin)
                    .flatMap(bucket -> bucket.website().found())
                    .filter(Website::redirectsAll)
                    .isPresent();
        }

        /** Returns the origin of a behaviour, the first of a group, that is a bucket's endpoint. */
        public Optional<Origin> storageOrigin(Behavior behavior) {
            return distribution.originsOf(behavior).stream()
                    .filter(origin -> origin.storage().isPresent())
                    .findFirst();
        }

        /** Returns the need that an edge function leaves, if one of these events has one: what it does is not modelled. */
        public Optional<Need> functionIn(Behavior behavior, Predicate<Behavior.EdgeFunction> kind) {
            return behavior.edgeFunctions().stream()
                    .filter(kind)
                    .findFirst()
                    .map(function -> new Need(
                            "edge-function", function.arn(), "what an edge function does is not modelled", ""));
        }

        /** Returns a finding about the distribution. */
        public Verdict flagged(CheckCard card, String says, List<Citation> because) {
            return new Verdict.Flagged(Finding.of(card, distribution.arn(), site(), says, because));
        }

        /** Returns the verdict that nothing is wrong. */
        public Verdict clean() {
            return new Verdict.Clean(distribution.arn(), site());
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(distribution.arn(), site(), needs);
        }
    }

    @Override
    default List<Subject> subjects(AwsContext context) {
        return context.subjects(DistributionCheck.class, () -> list(context));
    }

    private static List<Subject> list(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (Distribution distribution : account.edges().distributions()) {
                subjects.add(new Subject(
                        context, account, distribution, context.cloud().siteOf(distribution)));
            }
        }
        return subjects;
    }

    @Override
    default List<Verdict> unread(AwsContext context) {
        return unreadDistributions(context);
    }

    /** A list that nobody asked for leaves open whether there are distributions that no line describes. */
    private static Optional<Need> neverListed(Account account) {
        String list = "distribution-list";
        return account.survey()
                .unlisted(list, account.number())
                .filter(need -> !account.survey().asked(list, account.number()))
                .filter(need -> account.survey().isWanted(list, account.number()));
    }

    /** Returns open verdicts for the distributions that exist, or may, and were not read. */
    static List<Verdict> unreadDistributions(AwsContext context) {
        List<Verdict> open = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (UnreadDistribution unread : account.edges().unreadDistributions()) {
                Optional<String> site = context.cloud().siteBehind(unread).map(BucketSite::name);
                open.add(new Verdict.Unknown(unread.arn(), site, List.of(unread.need())));
            }
            neverListed(account)
                    .ifPresent(
                            need -> open.add(new Verdict.Unknown(account.number(), Optional.empty(), List.of(need))));
        }
        return open;
    }
}
