package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.access.Witness;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.policy.Actor;
import warden.core.aws.reach.Grantee;
import warden.core.aws.reach.Reach;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.aws.storage.Bucket;
import warden.core.checks.CredentialCards;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds publishing credentials that can change buckets which are not their sites'. */
final class PublisherBeyondItsSites implements PublisherCheck {
    private static final int MOST_NAMED = 4;
    private static final CheckCard CARD = CredentialCards.PUBLISHER_BEYOND_ITS_SITES;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        AwsContext context = subject.context();
        PublishingPrincipal publisher = subject.publisher();
        Reach reach = context.cloud().reach(publisher.account());
        Actor actor = publisher.actor();
        List<String> beyond = new ArrayList<>();
        List<Citation> because = new ArrayList<>(List.of(publisher.principal().at()));
        List<Need> needs = new ArrayList<>();
        Optional<Witness> witness = Optional.empty();
        for (Bucket bucket : reach.candidates(publisher.principal())) {
            if (isItsOwn(context, publisher, bucket)) {
                continue;
            }
            for (Ability ability : List.of(Ability.WRITE, Ability.DELETE)) {
                Extent extent = reach.extent(bucket, new Grantee(actor), ability);
                boolean strangersToo = extent.isSome()
                        && reach.strangersExtent(bucket, new Actor.AnyAccount(), ability)
                                .isSome();
                List<Need> unreadEdges = extent.isSome() ? unreadEdges(publisher, bucket) : List.of();
                needs.addAll(unreadEdges);
                if (extent.isSome() && !strangersToo && unreadEdges.isEmpty()) {
                    beyond.add(bucket.name());
                    because.addAll(extent.because());
                    witness = witness.or(extent::witness);
                    break;
                }
                if (extent.kind() == Extent.Kind.UNKNOWN) {
                    needs.addAll(extent.needs());
                }
            }
        }
        if (!beyond.isEmpty()) {
            String names = String.join(", ", beyond.subList(0, Math.min(MOST_NAMED, beyond.size())))
                    + (beyond.size() > MOST_NAMED ? " and " + (beyond.size() - MOST_NAMED) + " more" : "");
            String says = publisher.principal().name() + " can write or delete in buckets that are not its sites': "
                    + names + ".";
            return List.of(new Verdict.Flagged(Finding.of(
                            CARD,
                            publisher.arn(),
                            subject.site(),
                            says,
                            because.stream().limit(5).toList())
                    .with(witness)));
        }
        return List.of(needs.isEmpty() ? subject.clean() : subject.unknown(needs));
    }

    /** Returns the edges of its sites that were not read and may fetch from the bucket, which then is one of its sites'. */
    private static List<Need> unreadEdges(PublishingPrincipal publisher, Bucket bucket) {
        return UnreadDistribution.needs(publisher.sites().stream()
                .flatMap(site -> site.unreadDistributions().stream())
                .filter(unread -> unread.mayServe(bucket.name())));
    }

    /** Without anything that tells its sites apart, every site's bucket counts as its own. */
    private static boolean isItsOwn(AwsContext context, PublishingPrincipal publisher, Bucket bucket) {
        List<BucketSite> sites = context.cloud().sitesOf(bucket);
        return publisher.sites().isEmpty() ? !sites.isEmpty() : sites.stream().anyMatch(publisher.sites()::contains);
    }
}
