package warden.core.aws.account;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import warden.core.access.Truth;
import warden.core.aws.identity.Directory;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.PublicAccessBlock;
import warden.core.document.Pointer;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyedAccount;

/** One account of the first provider, as one survey shows it. Safe for use by several threads. */
public final class Account implements SurveyedAccount {
    private static final List<String> BUCKET_ASPECTS = List.of(
            "bucket-location",
            "bucket-policy",
            "bucket-public-access",
            "bucket-ownership",
            "bucket-acl",
            "bucket-website");

    private final Survey survey;
    private final Directory directory;
    private final Map<String, Bucket> buckets;
    private @Nullable Reading<Set<String>> listed;
    private @Nullable List<Bucket> known;
    private final Map<String, Optional<HeldPolicy>> bucketPolicies;
    private final Map<String, Reading<HeldPolicy>> keyPolicies;
    private final AccountEdges edges;
    private final AccountNames names;
    private final AccountCanonicalIds canonicalIds;
    private @Nullable Reading<PublicAccessBlock> guard;
    private @Nullable Map<String, String> keysById;

    public Account(Survey survey) {
        this.survey = survey;
        this.directory = new Directory(survey);
        this.edges = new AccountEdges(survey);
        this.names = new AccountNames(survey, edges);
        this.canonicalIds = new AccountCanonicalIds(survey);
        this.buckets = new ConcurrentHashMap<>();
        this.bucketPolicies = new ConcurrentHashMap<>();
        this.keyPolicies = new ConcurrentHashMap<>();
    }

    /** The other account with another survey, of which it shares what is parsed by the piece; edges, names and ids hang on none of the lines that differ. */
    private Account(Account other, Survey survey, Directory directory, Map<String, Bucket> buckets) {
        this.survey = survey;
        this.directory = directory;
        this.edges = other.edges;
        this.names = other.names;
        this.canonicalIds = other.canonicalIds;
        this.buckets = buckets;
        this.bucketPolicies = other.bucketPolicies;
        this.keyPolicies = other.keyPolicies;
        this.listed = other.listed;
        this.guard = other.guard;
        this.keysById = other.keysById;
    }

    /**
     * Returns the account with another line in the place of what was read. Of a line about a user, a role or an object little hangs: whatever
     * else was parsed stays parsed. Any other may change everything.
     */
    public Account with(SurveyLine line) {
        Survey changed = survey.with(line);
        return switch (line.aspect()) {
            case "iam-user", "iam-role" -> employing(changed, directory.with(changed, line.of()));
            case "object", "object-acl", "bucket-objects", "bucket-inventory" ->
                holding(changed, Bucket.arnOf(Bucket.nameIn(line.of()).orElse("")));
            default -> new Account(changed);
        };
    }

    /**
     * Returns the account after a change of what one of its buckets holds.
     *
     * @param changed the survey, with other lines about objects of the bucket
     */
    public synchronized Account holding(Survey changed, String bucketArn) {
        Map<String, Bucket> others = new ConcurrentHashMap<>(buckets);
        others.computeIfPresent(Bucket.nameIn(bucketArn).orElse(""), (name, bucket) -> bucket.holding(changed));
        return new Account(this, changed, directory, others);
    }

    private synchronized Account employing(Survey changed, Directory principals) {
        Account copy = new Account(this, changed, principals, buckets);
        copy.known = known;
        return copy;
    }

    /** For fewer things, starting threads takes longer than they save. */
    private static final int WORTH_SHARING = 64;

    /**
     * Parses side by side what leads to sites, where there is much of it, and remembers it; the rest is parsed when it is asked for. Only
     * for who works alone: a thread that waits here may be given other work, which must not wait for what this one holds.
     */
    public void readAhead() {
        edges.readAhead();
        names.readAhead();
    }

    /** Reads each side by side where there are many. */
    static <T> void ahead(Collection<T> all, Consumer<T> read) {
        if (all.size() >= WORTH_SHARING) {
            all.parallelStream().forEach(read);
        }
    }

    @Override
    public Survey survey() {
        return survey;
    }

    @Override
    public String number() {
        return survey.header().account();
    }

    public Directory directory() {
        return directory;
    }

    /** Returns the account's own public access block. */
    public synchronized Reading<PublicAccessBlock> publicAccessBlock() {
        if (guard == null) {
            guard = survey.reading("account-public-access", number()).map(PublicAccessBlock::parse);
        }
        return guard;
    }

    /** Returns whether RestrictPublicBuckets is on for a bucket, by its own block or the account's. */
    public Truth restrictsPublicBuckets(Bucket bucket) {
        return PublicAccessBlock.isOn(bucket.publicAccessBlock(), PublicAccessBlock::restrictPublicBuckets)
                .or(PublicAccessBlock.isOn(publicAccessBlock(), PublicAccessBlock::restrictPublicBuckets));
    }

    /** Returns the policy of a bucket of the account, with its place; absent when it has none or it was not read. */
    public Optional<HeldPolicy> policyOf(Bucket bucket) {
        return bucketPolicies.computeIfAbsent(bucket.arn(), arn -> bucket.policy()
                .fold(
                        found -> Optional.of(new HeldPolicy("the bucket policy", found.value(), found.at())),
                        absent -> Optional.<HeldPolicy>empty(),
                        unread -> Optional.<HeldPolicy>empty()));
    }

    /** Returns the names of the account's buckets as the account lists them. */
    public synchronized Reading<Set<String>> listedBuckets() {
        if (listed == null) {
            Reading<Survey.Listing> listing = survey.listing("bucket-list", number());
            Optional<Need> unlisted = survey.unlisted("bucket-list", number());
            listed = unlisted.isPresent()
                    ? new Reading.Unread<>(unlisted.get())
                    : listing.map(pages -> {
                        Set<String> names = new LinkedHashSet<>();
                        pages.pages()
                                .forEach(page -> page.value().list("Buckets").forEach(bucket -> bucket.text("Name")
                                        .ifPresent(names::add)));
                        return names;
                    });
        }
        return listed;
    }

    /** Returns every bucket that the survey knows to be the account's, in the order of the file. */
    public synchronized List<Bucket> buckets() {
        if (known == null) {
            known = List.copyOf(readBuckets());
        }
        return known;
    }

    private List<Bucket> readBuckets() {
        Set<String> arns = new LinkedHashSet<>();
        listedBuckets().found().ifPresent(names -> names.forEach(name -> arns.add(Bucket.arnOf(name))));
        for (String aspect : BUCKET_ASPECTS) {
            arns.addAll(survey.subjects(aspect));
        }
        List<Bucket> all = new ArrayList<>();
        for (String arn : arns) {
            Bucket.nameIn(arn).ifPresent(name -> all.add(bucket(name)));
        }
        return all;
    }

    /** Returns the bucket with this name, whether or not the survey knows it. */
    public Bucket bucket(String name) {
        return buckets.computeIfAbsent(name, key -> new Bucket(survey, Bucket.arnOf(key)));
    }

    /** Returns whether a bucket of this name is the account's; unknown when it was never listed nor asked about. */
    public Truth ownsBucket(String name) {
        if (listedBuckets().found().isPresent()) {
            boolean listedHere = listedBuckets().found().get().contains(name);
            return listedHere || bucket(name).isSurveyed() ? Truth.TRUE : Truth.FALSE;
        }
        return bucket(name).isSurveyed() ? Truth.TRUE : Truth.UNKNOWN;
    }

    /** Returns a key's policy. {@code reference} is a key's ARN or id; an alias cannot be followed, so it is unread. */
    public Reading<HeldPolicy> keyPolicy(String reference) {
        String subject = keysById().getOrDefault(reference, reference);
        return keyPolicies.computeIfAbsent(subject, of -> survey.reading("key-policy", of)
                .fold(
                        found -> new Reading.Found<>(
                                new HeldPolicy(
                                        "the key policy",
                                        PolicyParser.parse(
                                                found.value().find("Policy").orElse(found.value()),
                                                PolicyKind.KEY,
                                                Pointer.ROOT),
                                        found.at()),
                                found.at()),
                        absent -> new Reading.Absent<>(absent.code(), absent.at()),
                        unread -> new Reading.Unread<>(unread.need())));
    }

    /** Returns the ARNs of the keys that were asked about, by what follows {@code :key/} in them. */
    private synchronized Map<String, String> keysById() {
        if (keysById == null) {
            Map<String, String> all = new HashMap<>();
            for (String arn : survey.subjects("key-policy")) {
                int at = arn.lastIndexOf(":key/");
                if (at >= 0) {
                    all.putIfAbsent(arn.substring(at + ":key/".length()), arn);
                }
            }
            keysById = all;
        }
        return keysById;
    }

    /** Returns its distributions, and what they are put together of. */
    public AccountEdges edges() {
        return edges;
    }

    /** Returns its zones, certificates and managed fronts. */
    public AccountNames names() {
        return names;
    }

    /** Returns what is known of canonical user ids. */
    public AccountCanonicalIds canonicalIds() {
        return canonicalIds;
    }
}
