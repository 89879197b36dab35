package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Decision;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.SiteBucketCheck;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.reach.BucketMatrix;
import warden.core.aws.reach.Grantee;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds objects encrypted under a key that the site's readers cannot use. */
final class EncryptedBeyondReaders implements SiteBucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "encrypted-beyond-readers",
            Area.HOSTING,
            Severity.HIGH,
            "objects are encrypted under a customer key that the site's readers cannot use",
            "bucket-encryption, object, key-policy, distribution",
            "Whatever the bucket policy grants, reading fails with 403.",
            "Allow the reader kms:Decrypt in the key's policy (a distribution with origin access control can be allowed; anonymous visitors and origin access identities cannot), or encrypt under the storage service's own keys.",
            "S3 User Guide, \"Using server-side encryption with AWS KMS keys\"; CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        if (!subject.servesContent()) {
            return List.of();
        }
        Set<Grantee> readers = new LinkedHashSet<>();
        for (BucketSite site : subject.sites()) {
            for (Distribution distribution : site.distributions()) {
                distribution.origins().stream()
                        .filter(origin -> origin.bucket()
                                .filter(subject.bucket().name()::equals)
                                .isPresent())
                        .forEach(origin -> readers.add(BucketMatrix.edge(distribution, origin, subject.account())));
            }
            if (site.distributions().isEmpty()) {
                readers.add(new Grantee(new Actor.Anyone()));
            }
        }
        List<Need> needs = new ArrayList<>();
        for (Grantee reader : readers) {
            Optional<Verdict> verdict = judge(subject, reader, needs);
            // Who reads is not known where an edge that was not read may stand before the bucket.
            List<Need> unreadEdges = reader.who() instanceof Actor.Anyone ? subject.unreadEdges() : List.of();
            if (verdict.isPresent() && !unreadEdges.isEmpty()) {
                return List.of(subject.unknown(unreadEdges));
            }
            if (verdict.isPresent()) {
                return List.of(verdict.get());
            }
        }
        return List.of(needs.isEmpty() ? subject.clean() : subject.unknown(needs));
    }

    /** Returns the objects that have a line of their own, and one of those that are encrypted by the bucket's default. */
    private static List<String> keys(Bucket bucket) {
        Set<String> keys = new LinkedHashSet<>(bucket.keysWith("object"));
        Optional<ObjectListing> listing = bucket.objects().found();
        Optional<String> byDefault = listing.flatMap(found ->
                found.keys().stream().filter(key -> !keys.contains(key)).findFirst());
        Set<String> ways = listing.map(ObjectListing::encryptions).orElse(Set.of());
        if (!ways.isEmpty()) {
            // One of each way that an inventory tells of; of a way that none of the named ones has, one that is not
            // named.
            for (String way : ways) {
                keys.add(listing.get().keys().stream()
                        .filter(key -> listing.get()
                                .entry(key)
                                .flatMap(ObjectListing.Entry::encryption)
                                .filter(way::equals)
                                .isPresent())
                        .findFirst()
                        .orElse("any-other-object"));
            }
        } else if (byDefault.isPresent()) {
            keys.add(byDefault.get());
        } else if (keys.isEmpty() || listing.filter(ObjectListing::isComplete).isEmpty()) {
            keys.add(keys.contains("index.html") ? "any-other-page.html" : "index.html");
        }
        return List.copyOf(keys);
    }

    private static Optional<Verdict> judge(Subject subject, Grantee reader, List<Need> needs) {
        Bucket bucket = subject.bucket();
        for (String key : keys(bucket)) {
            Context context = Context.given(reader.settled());
            Request request = new Request(reader.who(), "s3:GetObject", bucket.object(key), context);
            Truth lets = subject.reach().evaluator().keyLets(bucket, request);
            if (lets == Truth.FALSE) {
                List<Citation> because = new ArrayList<>();
                bucket.head(key)
                        .flatMap(Reading::citation)
                        .ifPresent(at -> because.add(at.at("/ServerSideEncryption", "")));
                bucket.encryption().citation().ifPresent(because::add);
                String who = reader.who() instanceof Actor.Anyone
                        ? "visitors"
                        : reader.who() instanceof Actor.OriginIdentity
                                ? "the origin access identity"
                                : "the distribution";
                String says = "Objects such as " + key + " are encrypted under a key that " + who
                        + " cannot use: reading fails with 403.";
                return Optional.of(subject.flagged(CARD, says, because));
            }
            if (lets == Truth.UNKNOWN) {
                Decision decision = subject.reach().evaluator().decideUnsurveyed(request);
                needs.addAll(
                        decision.needs().isEmpty()
                                ? List.of(new Need(
                                        "bucket-encryption",
                                        bucket.arn(),
                                        "whether the key lets the reader in is not settled",
                                        ""))
                                : decision.needs());
            }
        }
        return Optional.empty();
    }
}
