package warden.core.aws.account;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import warden.core.access.Truth;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.DistributionsByHost;
import warden.core.aws.cdn.EdgePolicies;
import warden.core.aws.cdn.OriginControl;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.identity.Directory;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.names.HostedZone;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.CanonicalIds;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.PublicAccessBlock;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyedAccount;

/** One account of the first provider, as one survey shows it. Safe for use by several threads. */
public final class Account implements CanonicalIds, SurveyedAccount {
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
    private @Nullable Reading<Set<String>> listedDistributionDomains;
    private @Nullable Map<String, List<Distribution>> distributionsByCertificate;
    private @Nullable List<Distribution> distributionsWithoutCertificate;
    private @Nullable List<Distribution> distributions;
    private @Nullable DistributionsByHost distributionsByHost;
    private @Nullable List<UnreadDistribution> unreadDistributions;
    private @Nullable Map<String, String> identityIds;
    private @Nullable Optional<String> ownId;
    private final Map<String, Reading<Distribution>> distributionsByArn;
    private final Map<String, Optional<HeldPolicy>> bucketPolicies;
    private final Map<String, Reading<HeldPolicy>> keyPolicies;
    private final Map<String, Reading<OriginControl>> controls;
    private final EdgePolicies edgePolicies;
    private @Nullable Reading<PublicAccessBlock> guard;
    private @Nullable Map<String, String> keysById;
    private @Nullable Set<String> usedOriginSigners;
    private @Nullable List<HostedZone> zones;
    private @Nullable List<String> managedFronts;
    private @Nullable List<Certificate> certificates;
    private final Map<String, Reading<Certificate>> certificatesByArn;

    public Account(Survey survey) {
        this(survey, new Directory(survey), new EdgePolicies(survey));
    }

    private Account(Survey survey, Directory directory, EdgePolicies edgePolicies) {
        this.survey = survey;
        this.directory = directory;
        this.edgePolicies = edgePolicies;
        this.buckets = new ConcurrentHashMap<>();
        this.bucketPolicies = new ConcurrentHashMap<>();
        this.keyPolicies = new ConcurrentHashMap<>();
        this.controls = new ConcurrentHashMap<>();
        this.distributionsByArn = new ConcurrentHashMap<>();
        this.certificatesByArn = new ConcurrentHashMap<>();
    }

    /** The other account with another survey, of which it shares what is parsed by the piece. */
    private Account(Account other, Survey survey, Directory directory, Map<String, Bucket> buckets) {
        this.survey = survey;
        this.directory = directory;
        this.edgePolicies = other.edgePolicies;
        this.buckets = buckets;
        this.bucketPolicies = other.bucketPolicies;
        this.keyPolicies = other.keyPolicies;
        this.controls = other.controls;
        this.distributionsByArn = other.distributionsByArn;
        this.certificatesByArn = other.certificatesByArn;
        this.listed = other.listed;
        this.listedDistributionDomains = other.listedDistributionDomains;
        this.distributions = other.distributions;
        this.distributionsByHost = other.distributionsByHost;
        this.distributionsByCertificate = other.distributionsByCertificate;
        this.distributionsWithoutCertificate = other.distributionsWithoutCertificate;
        this.unreadDistributions = other.unreadDistributions;
        this.identityIds = other.identityIds;
        this.ownId = other.ownId;
        this.guard = other.guard;
        this.keysById = other.keysById;
        this.usedOriginSigners = other.usedOriginSigners;
        this.zones = other.zones;
        this.managedFronts = other.managedFronts;
        this.certificates = other.certificates;
    }

    /**
     * Returns the account with another line in the place of what was read. Of a line about a user, a role or an object little hangs: whatever
     * else was parsed stays parsed. Any other may change everything.
     */
    public Account with(SurveyLine line) {
        Survey changed = survey.with(line);
        return switch (line.aspect()) {
            case "iam-user", "iam-role" -> employing(changed, directory.with(changed, line.of()));
            case "object", "object-acl", "bucket-objects" ->
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

    /**
     * Parses side by side what every audit asks for, and remembers it; the rest is parsed when it is asked for. Only for who works alone: a
     * thread that waits here may be given other work, which must not wait for what this one holds.
     */
    public void readAhead() {
        survey.subjects("distribution").parallelStream().forEach(this::distribution);
        zones().parallelStream().forEach(HostedZone::records);
        directory.readAhead();
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

    /** Returns the distributions that the survey describes, in the order of the file. */
    public synchronized List<Distribution> distributions() {
        if (distributions == null) {
            distributions = survey.subjects("distribution").stream()
                    .flatMap(arn -> distribution(arn).found().stream())
                    .toList();
        }
        return distributions;
    }

    /** Returns the distributions that the survey describes, by the hosts that they answer for. */
    public synchronized DistributionsByHost distributionsByHost() {
        if (distributionsByHost == null) {
            distributionsByHost = new DistributionsByHost(distributions());
        }
        return distributionsByHost;
    }

    /** Returns the distributions that exist, or may, and were not read. */
    public synchronized List<UnreadDistribution> unreadDistributions() {
        if (unreadDistributions == null) {
            unreadDistributions = UnreadDistribution.in(survey);
        }
        return unreadDistributions;
    }

    private Reading<Distribution> distribution(String arn) {
        return distributionsByArn.computeIfAbsent(arn, key -> survey.reading("distribution", key)
                .fold(
                        found -> new Reading.Found<>(Distribution.parse(key, found), found.at()),
                        absent -> new Reading.Absent<>(absent.code(), absent.at()),
                        unread -> new Reading.Unread<>(unread.need())));
    }

    /** Returns the distributions that show the certificate of this ARN. */
    public synchronized List<Distribution> distributionsShowing(String certificateArn) {
        if (distributionsByCertificate == null) {
            Map<String, List<Distribution>> all = new HashMap<>();
            distributions()
                    .forEach(
                            distribution -> distribution.certificate().managed().ifPresent(arn -> all.computeIfAbsent(
                                            arn, key -> new ArrayList<>())
                                    .add(distribution)));
            distributionsByCertificate = all;
        }
        return distributionsByCertificate.getOrDefault(certificateArn, List.of());
    }

    /** Returns the distributions that list hosts of their own and show only the CDN's own certificate. */
    public synchronized List<Distribution> distributionsWithoutCertificate() {
        if (distributionsWithoutCertificate == null) {
            distributionsWithoutCertificate = distributions().stream()
                    .filter(distribution -> distribution.certificate().isTheCdns())
                    .filter(distribution -> !distribution.aliases().isEmpty())
                    .toList();
        }
        return distributionsWithoutCertificate;
    }

    /** Returns the names (in lower case) of all distributions as the account lists them; unread when the list is cut short. */
    public synchronized Reading<Set<String>> listedDistributionDomains() {
        if (listedDistributionDomains == null) {
            listedDistributionDomains = readDistributionDomains();
        }
        return listedDistributionDomains;
    }

    private Reading<Set<String>> readDistributionDomains() {
        Reading<Survey.Listing> listing = survey.listing("distribution-list", number());
        Optional<Need> unlisted = survey.unlisted("distribution-list", number());
        if (unlisted.isPresent()) {
            return new Reading.Unread<>(unlisted.get());
        }
        return listing.map(pages -> {
            Set<String> names = new LinkedHashSet<>();
            pages.pages().forEach(page -> page.value()
                    .find("DistributionList")
                    .orElse(page.value())
                    .list("Items")
                    .forEach(item ->
                            item.text("DomainName").ifPresent(name -> names.add(name.toLowerCase(Locale.ROOT)))));
            return names;
        });
    }

    /** Returns an origin access control. */
    public Reading<OriginControl> originControl(String id) {
        return controls.computeIfAbsent(id, key -> survey.reading("origin-control", "origin-access-control/" + key)
                .map(OriginControl::parse));
    }

    /** Returns the zones that the survey lists, describes, or whose records it holds. */
    public synchronized List<HostedZone> zones() {
        if (zones == null) {
            Set<String> ids = new LinkedHashSet<>(survey.subjects("zone"));
            ids.addAll(survey.subjects("zone-records"));
            survey.listing("zone-list", number()).found().ifPresent(list -> list.pages().stream()
                    .flatMap(page -> page.value().list("HostedZones").stream())
                    .flatMap(zone -> zone.text("Id").stream())
                    .map(id -> id.startsWith("/") ? id.substring(1) : id)
                    .forEach(ids::add));
            zones = ids.stream().map(id -> new HostedZone(survey, id)).toList();
        }
        return zones;
    }

    /** Returns a certificate by its ARN. */
    public Reading<Certificate> certificate(String arn) {
        return certificatesByArn.computeIfAbsent(arn, key -> survey.reading("certificate", arn)
                .fold(
                        found -> new Reading.Found<>(Certificate.parse(arn, found), found.at()),
                        absent -> new Reading.Absent<>(absent.code(), absent.at()),
                        unread -> new Reading.Unread<>(unread.need())));
    }

    /** Returns the origin access identities and controls, as surveys name them, that the distributions which were read use. */
    public synchronized Set<String> usedOriginSigners() {
        if (usedOriginSigners == null) {
            Set<String> used = new HashSet<>();
            distributions().forEach(distribution -> distribution.origins().forEach(origin -> {
                origin.identity().ifPresent(id -> used.add("origin-access-identity/" + id));
                origin.control().ifPresent(id -> used.add("origin-access-control/" + id));
            }));
            usedOriginSigners = used;
        }
        return usedOriginSigners;
    }

    /** Returns the certificates that the survey describes, in the order of the file. */
    public synchronized List<Certificate> certificates() {
        if (certificates == null) {
            certificates = survey.subjects("certificate").stream()
                    .flatMap(arn -> certificate(arn).found().stream())
                    .toList();
        }
        return certificates;
    }

    /** Returns what the account's distributions are set to by their policies. */
    public EdgePolicies edgePolicies() {
        return edgePolicies;
    }

    /** Returns the account's canonical user id; absent when no reading shows it. */
    public synchronized Optional<String> canonicalId() {
        if (ownId == null) {
            Optional<String> fromList =
                    survey.reading("bucket-list", number()).found().flatMap(list -> list.text("Owner", "ID"));
            ownId = fromList.or(() -> survey.subjects("bucket-acl").stream()
                    .flatMap(arn -> survey.reading("bucket-acl", arn).found().stream())
                    .flatMap(acl -> acl.text("Owner", "ID").stream())
                    .findFirst());
        }
        return ownId;
    }

    /** Returns the canonical user ids of the origin access identities that were read, by identity id. */
    public synchronized Map<String, String> originIdentities() {
        if (identityIds == null) {
            identityIds = new LinkedHashMap<>();
            for (String subject : survey.subjects("origin-identity")) {
                survey.reading("origin-identity", subject).found().ifPresent(answer -> {
                    JsonPart identity =
                            answer.find("CloudFrontOriginAccessIdentity").orElse(answer);
                    String id = identity.text("Id").orElse(subject.substring(subject.lastIndexOf('/') + 1));
                    identity.text("S3CanonicalUserId").ifPresent(canonical -> identityIds.put(id, canonical));
                });
            }
        }
        return identityIds;
    }

    /**
     * {@inheritDoc}
     *
     * <p>An origin identity that was not read may be any canonical id that is not known to be somebody else's.
     */
    @Override
    public Truth standsFor(String id, Actor actor) {
        boolean isOwn = canonicalId().filter(id::equals).isPresent();
        boolean isIdentitys = originIdentities().containsValue(id);
        if (actor instanceof Actor.OriginIdentity identity) {
            String known = originIdentities().get(identity.id());
            if (known != null) {
                return Truth.of(known.equals(id));
            }
            return isOwn || isIdentitys ? Truth.FALSE : Truth.UNKNOWN;
        }
        if (actor instanceof Actor.CanonicalUser user) {
            return Truth.of(user.id().equals(id));
        }
        if (actor.home().isEmpty()) {
            return Truth.FALSE;
        }
        if (actor.home().get().equals(number())) {
            return isOwn ? Truth.TRUE : canonicalId().isPresent() || isIdentitys ? Truth.FALSE : Truth.UNKNOWN;
        }
        return isOwn || isIdentitys ? Truth.FALSE : Truth.UNKNOWN;
    }

    @Override
    public boolean mayBelongTo(String id, String account) {
        boolean isOwn = canonicalId().filter(id::equals).isPresent();
        return account.equals(number()) ? isOwn || canonicalId().isEmpty() : !isOwn;
    }

    /** Returns the ARNs of the certificates that a line is about or a distribution shows, each once, read or not. */
    public Set<String> namedCertificates() {
        Set<String> named = new LinkedHashSet<>(survey.subjects("certificate"));
        distributions()
                .forEach(distribution -> distribution.certificate().managed().ifPresent(named::add));
        return named;
    }

    /** Returns what keeps from telling which hosts the managed hosting fronts of the account serve. */
    public List<Need> unreadManagedFronts() {
        List<Need> needs = new ArrayList<>();
        for (String domain : survey.subjects("managed-app-domain")) {
            survey.missing("managed-app-domain", domain).ifPresent(needs::add);
        }
        for (String app : survey.subjects("managed-app")) {
            survey.missing("managed-app", app)
                    .filter(need -> app.endsWith("/*"))
                    .ifPresent(needs::add);
            boolean asked = survey.subjects("managed-app-domain").stream().anyMatch(domain -> domain.startsWith(app));
            if (!asked && !app.endsWith("/*")) {
                survey.missing("managed-app-domain", app).ifPresent(needs::add);
            }
        }
        return needs;
    }

    /** True when a managed hosting front of the account says that its hosts lead to this distribution name. */
    public boolean isManagedFront(String distributionName) {
        return managedFronts().stream().anyMatch(record -> record.contains(distributionName));
    }

    private synchronized List<String> managedFronts() {
        if (managedFronts == null) {
            managedFronts = survey.subjects("managed-app-domain").stream()
                    .flatMap(subject -> survey.reading("managed-app-domain", subject).found().stream())
                    .flatMap(answer -> answer.list("domainAssociation", "subDomains").stream())
                    .flatMap(part -> part.text("dnsRecord").stream())
                    .toList();
        }
        return managedFronts;
    }
}
