package warden.core.aws.decision;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.decision.Weighing.Part;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.identity.Holdings;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.CanonicalIds;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.PrincipalElement.Naming;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.PublicAccessBlock;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * The rules of access, stated once. How they are weighed, for one request or for sets of them, is the {@link Weighing}'s.
 *
 * <p>Source: IAM User Guide, "Policy evaluation logic", "Permissions boundaries for IAM entities" and "How permissions boundaries work with
 * resource-based policies"; AWS Organizations User Guide, "Service control policies"; S3 User Guide, "How Amazon S3 authorizes a request"
 * and "Blocking public access to your Amazon S3 storage"; KMS Developer Guide, "Key policies in AWS KMS".
 *
 * @param <V> what the weighing weighs in
 */
public final class AccessRules<V> {
    private static final PrincipalClause.Named ATTACHED = new PrincipalClause.Named(Truth.TRUE, Naming.ITSELF);
    private static final Set<String> POLICY_OF_BUCKET =
            Set.of("s3:getbucketpolicy", "s3:putbucketpolicy", "s3:deletebucketpolicy");
    private static final Set<String> READS_OBJECT = Set.of(
            "s3:getobject", "s3:getobjectversion", "s3:getobjectacl", "s3:getobjectversionacl", "s3:getobjecttorrent");

    private final Account account;
    private final String owner;
    private final Optional<Account> home;
    private final Actor who;
    private final String action;
    private final Weighing<V> weighing;

    /**
     * Makes the rules ready for one caller and one action.
     *
     * @param account the account whose settings are asked
     * @param owner the number of the account that owns what is asked for
     * @param home the caller's own account, if it was surveyed
     * @param action in lower case
     */
    public AccessRules(
            Account account, String owner, Optional<Account> home, Actor who, String action, Weighing<V> weighing) {
        this.account = account;
        this.owner = owner;
        this.home = home;
        this.who = who;
        this.action = action;
        this.weighing = weighing;
    }

    /**
     * What the caller's own account says.
     *
     * @param denied what any of its policies denies
     * @param allowed what the identity-based policies allow
     * @param bounded what the boundary lets through; everything without a boundary
     * @param organization what the organization lets through; everything without organization policies
     * @param hasBoundary whether there is a boundary at all, or may be
     * @param isRoot whether the caller is the account's root, who needs no policy
     */
    public record Side<V>(V denied, V allowed, V bounded, V organization, boolean hasBoundary, boolean isRoot) {}

    /**
     * What comes of the rules.
     *
     * @param granted what some grant, all limits counted, lets through
     * @param denied what some statement denies
     * @param key what the encryption key lets through
     */
    public record Access<V>(V granted, V denied, V key) {}

    /** Returns what is allowed in the end. */
    public V allowed(Access<V> access) {
        return weighing.minus(weighing.intersect(access.granted(), access.key()), access.denied());
    }

    /** True when the caller belongs to the account that owns what is asked for. */
    public boolean isOwn() {
        return who.home().filter(owner::equals).isPresent();
    }

    /** True for the three calls, in lower case, on a bucket's policy, which nobody outside the owner's account can use. */
    public static boolean isAboutBucketPolicy(String lowerCaseAction) {
        return POLICY_OF_BUCKET.contains(lowerCaseAction);
    }

    private V all() {
        return weighing.of(Truth.TRUE);
    }

    private V none() {
        return weighing.of(Truth.FALSE);
    }

    private V unknown() {
        return weighing.of(Truth.UNKNOWN);
    }

    private V union(V one, V other) {
        return weighing.union(one, other);
    }

    private V intersect(V one, V other) {
        return weighing.intersect(one, other);
    }

    /** Returns what the caller's own account says; absent where it has none, or it was not surveyed, and is taken to allow. */
    public Optional<Side<V>> side() {
        return home.map(this::side);
    }

    private Side<V> side(Account from) {
        V denied = none();
        V organization = all();
        List<Reading<HeldPolicy>> policies = from.directory().organizationPolicies();
        if (!policies.isEmpty() && !isServiceLinked()) {
            organization = from.directory().organizationMayAllow() ? none() : weighing.underDenyingOrganization();
            for (Reading<HeldPolicy> reading : policies) {
                Optional<HeldPolicy> policy = reading.found();
                if (policy.isEmpty()) {
                    reading.missing().ifPresent(weighing::need);
                    denied = union(denied, unknown());
                    organization = union(organization, unknown());
                } else {
                    denied = union(denied, deniedBy(policy.get(), Part.ORGANIZATION));
                    organization = union(organization, allowedBy(policy.get(), Part.ORGANIZATION));
                }
            }
            V lets = organization;
            weighing.step(() -> "Organization policies: " + lets(lets) + ".");
        }
        if (who instanceof Actor.AccountRoot) {
            weighing.step(() -> "The account's root user needs no policy of its own.");
            return new Side<>(denied, all(), all(), organization, false, true);
        }
        Arn arn = who instanceof Actor.User user ? user.arn() : ((Actor.Role) who).arn();
        Reading<Principal> principal = from.directory().principal(arn);
        if (principal.isAbsent()) {
            weighing.step(() -> "The account says that " + arn.name() + " does not exist.");
            return new Side<>(denied, none(), all(), organization, false, false);
        }
        if (principal.found().isEmpty()) {
            principal.missing().ifPresent(weighing::need);
            weighing.step(() -> "The policies of " + arn.name() + " were not read.");
            return new Side<>(union(denied, unknown()), unknown(), unknown(), organization, true, false);
        }
        return held(principal.found().get().holdings(), denied, organization);
    }

    private Side<V> held(Holdings holdings, V deniedAbove, V organization) {
        V denied = deniedAbove;
        V allowed = none();
        for (HeldPolicy policy : holdings.policies()) {
            denied = union(denied, deniedBy(policy, Part.IDENTITY));
            allowed = union(allowed, allowedBy(policy, Part.IDENTITY));
        }
        for (Need need : holdings.missing()) {
            weighing.need(need);
            denied = union(denied, unknown());
            allowed = union(allowed, unknown());
        }
        V bounded = all();
        if (holdings.boundary().isPresent()) {
            denied = union(denied, deniedBy(holdings.boundary().get(), Part.BOUNDARY));
            bounded = allowedBy(holdings.boundary().get(), Part.BOUNDARY);
        } else if (holdings.boundaryMissing().isPresent()) {
            weighing.need(holdings.boundaryMissing().get());
            denied = union(denied, unknown());
            bounded = unknown();
        }
        boolean hasBoundary =
                holdings.boundary().isPresent() || holdings.boundaryMissing().isPresent();
        V identity = allowed;
        V limit = bounded;
        weighing.step(() -> "Its own policies: " + allows(identity) + ".");
        if (hasBoundary) {
            weighing.step(() -> "Its permissions boundary: " + lets(limit) + ".");
        }
        return new Side<>(denied, allowed, bounded, organization, hasBoundary, false);
    }

    private String allows(V value) {
        return weighing.isNone(value)
                ? "no statement allows it"
                : weighing.isAll(value) ? "a statement allows it" : "whether one allows it is not known";
    }

    private String lets(V value) {
        return weighing.isNone(value)
                ? "none lets it through"
                : weighing.isAll(value) ? "they let it through" : "whether they let it through is not known";
    }

    /** Roles that the provider's services own are outside the organization's policies. */
    private boolean isServiceLinked() {
        return who instanceof Actor.Role role && role.arn().resource().startsWith("role/aws-service-role/");
    }

    private V deniedBy(HeldPolicy policy, Part part) {
        V denied = policy.document().isOpaque() ? weighing.deny(policy, Optional.empty(), Truth.TRUE, part) : none();
        for (Statement statement : weighing.speaking(policy.document())) {
            if (statement.mayDeny()) {
                denied = union(denied, weighing.deny(policy, Optional.of(statement), Truth.TRUE, part));
            }
        }
        return denied;
    }

    private V allowedBy(HeldPolicy policy, Part part) {
        V allowed = policy.document().isOpaque() ? weighing.allow(policy, Optional.empty(), ATTACHED, part) : none();
        for (Statement statement : weighing.speaking(policy.document())) {
            if (statement.mayAllow()) {
                allowed = union(allowed, weighing.allow(policy, Optional.of(statement), ATTACHED, part));
            }
        }
        if (policy.speaksFor(action) || weighing.isAll(allowed)) {
            return allowed;
        }
        weighing.need(new Need(
                "iam-policy",
                policy.name(),
                "the built-in copy does not hold this service",
                "iam:GetAccountAuthorizationDetails"));
        return union(allowed, unknown());
    }

    /** Returns who may do what in a bucket of the account. */
    public Access<V> inBucket(Bucket bucket) {
        boolean own = isOwn();
        boolean sparedFromPolicy = own && who instanceof Actor.AccountRoot && POLICY_OF_BUCKET.contains(action);
        @Nullable Side<V> side = side().orElse(null);
        Reading<PolicyDocument> reading = bucket.policy();
        Optional<HeldPolicy> policy = account.policyOf(bucket);
        V denied = side == null ? none() : side.denied();
        V byPolicy = none();
        if (policy.isPresent()) {
            denied = sparedFromPolicy ? denied : union(denied, resourceDenies(policy.get(), account.canonicalIds()));
            byPolicy = resourceAllows(policy.get(), own ? side : null, false);
        } else if (reading.isUnread()) {
            reading.missing().ifPresent(weighing::need);
            weighing.step(() -> "The bucket policy was not read.");
            denied = sparedFromPolicy ? denied : union(denied, unknown());
            byPolicy = unknown();
        } else {
            weighing.step(() -> "The bucket has no policy.");
        }
        if (weighing.isAll(denied)) {
            return new Access<>(none(), denied, all());
        }
        if (POLICY_OF_BUCKET.contains(action) && !own) {
            weighing.step(() -> "Nobody outside the owner's account can use this call, whatever the policy says.");
            return new Access<>(none(), denied, all());
        }
        V byLists = weighing.byAccessLists(bucket);
        V granted = own && side != null
                ? union(
                        union(intersect(side.allowed(), side.bounded()), byPolicy),
                        side.hasBoundary() ? intersect(byLists, union(side.bounded(), unknown())) : byLists)
                : union(byPolicy, byLists);
        if (READS_OBJECT.contains(action)) {
            granted = withForeignObjects(bucket, granted, byLists, own ? side : null);
        }
        if (own && side != null) {
            granted = intersect(granted, side.organization());
        } else {
            granted = bySides(granted, side);
            granted = intersect(granted, weighing.of(restrictionLets(bucket, granted)));
            granted = intersect(granted, weighing.of(payerLets(bucket)));
        }
        return new Access<>(granted, denied, weighing.isNone(granted) ? all() : weighing.keyLets(bucket));
    }

    /** For a caller of another account, its own side must allow too; where it was not surveyed, it is taken to. */
    private V bySides(V granted, @Nullable Side<V> side) {
        return side == null
                ? granted
                : intersect(intersect(granted, intersect(side.allowed(), side.bounded())), side.organization());
    }

    /**
     * Only its own list opens an object that belongs to somebody else for reading; that list admits the account of the bucket's owner
     * as a whole, whose principals then need their own policies too.
     */
    private V withForeignObjects(Bucket bucket, V granted, V byLists, @Nullable Side<V> side) {
        V foreign = weighing.foreignOwned(bucket);
        if (weighing.isNone(foreign)) {
            return granted;
        }
        V byTheirLists = side == null
                ? byLists
                : union(
                        byLists,
                        intersect(intersect(side.allowed(), side.bounded()), weighing.ownAccountByAccessLists(bucket)));
        V ours = weighing.minus(granted, foreign);
        V theirs = intersect(foreign, byTheirLists);
        // What is granted either way hangs on nothing.
        return union(union(ours, theirs), intersect(granted, byTheirLists));
    }

    private V resourceDenies(HeldPolicy policy, CanonicalIds ids) {
        V denied = policy.document().isOpaque()
                ? weighing.deny(policy, Optional.empty(), Truth.TRUE, Part.RESOURCE)
                : none();
        for (Statement statement : weighing.speaking(policy.document())) {
            if (statement.mayDeny()) {
                Truth means = statement
                        .principals()
                        .map(clause -> clause.denies(who, ids))
                        .orElse(Truth.TRUE);
                denied = means.isPossible()
                        ? union(denied, weighing.deny(policy, Optional.of(statement), means, Part.RESOURCE))
                        : denied;
            }
        }
        return denied;
    }

    /**
     * Returns what the policy of what is asked for grants.
     *
     * @param side what an own principal's account says; null for callers of other accounts and none
     * @param strict true for keys and roles: an account named delegates to its identity-based policies, which alone count for nothing
     */
    private V resourceAllows(HeldPolicy policy, @Nullable Side<V> side, boolean strict) {
        V granted = policy.document().isOpaque()
                ? weighing.allow(policy, Optional.empty(), ATTACHED, Part.RESOURCE)
                : none();
        boolean hit = policy.document().isOpaque();
        for (Statement statement : weighing.speaking(policy.document())) {
            if (!statement.mayAllow()) {
                continue;
            }
            PrincipalClause.Named named = statement
                    .principals()
                    .map(clause -> clause.allows(who, account.canonicalIds()))
                    .orElse(ATTACHED);
            if (!named.truth().isPossible()) {
                continue;
            }
            V covered = weighing.allow(policy, Optional.of(statement), named, Part.RESOURCE);
            hit |= !weighing.isNone(covered);
            granted = union(granted, side == null ? covered : limited(covered, statement, named, side, strict));
        }
        if (!hit) {
            weighing.step(() -> capital(policy.name()) + ": no statement allows it.");
        }
        return granted;
    }

    static String capital(String text) {
        return Character.toUpperCase(text.charAt(0)) + text.substring(1);
    }

    /** A grant to the account delegates to identity-based policies, so by itself it gives its members nothing. */
    private V limited(V covered, Statement statement, PrincipalClause.Named named, Side<V> side, boolean strict) {
        return switch (named.naming()) {
            case ITSELF -> covered;
            case ROLE -> intersect(covered, side.bounded());
            case EVERYONE -> intersect(covered, boundaryOnEveryone(statement, side));
            case ACCOUNT -> strict ? intersect(covered, intersect(side.allowed(), side.bounded())) : none();
        };
    }

    /**
     * A boundary does not limit what everyone gets under a condition on the caller's ARN. Whether it limits what everyone gets
     * without one is not said in the guide.
     */
    private V boundaryOnEveryone(Statement statement, Side<V> side) {
        return !side.hasBoundary() || side.isRoot() || pinsPrincipal(statement)
                ? all()
                : union(side.bounded(), unknown());
    }

    private static boolean pinsPrincipal(Statement statement) {
        return statement.conditions().stream()
                .anyMatch(condition -> condition.lowerCaseKey().equals("aws:principalarn")
                        && !condition.operator().isNegated());
    }

    /** RestrictPublicBuckets cuts a bucket with a public policy off from everybody but its own account and services. */
    private Truth restrictionLets(Bucket bucket, V granted) {
        if (who instanceof Actor.Service || weighing.isNone(granted)) {
            return Truth.TRUE;
        }
        Truth cut = bucket.hasPublicPolicy().and(account.restrictsPublicBuckets(bucket));
        if (cut == Truth.FALSE) {
            return Truth.TRUE;
        }
        if (cut == Truth.UNKNOWN) {
            bucket.publicAccessBlock().missing().ifPresent(weighing::need);
            account.publicAccessBlock().missing().ifPresent(weighing::need);
            weighing.step(() -> "Whether a public access block restricts the bucket is not known.");
            return Truth.UNKNOWN;
        }
        bucket.publicAccessBlock().citation().ifPresent(weighing::limit);
        if (PublicAccessBlock.isOn(account.publicAccessBlock(), PublicAccessBlock::restrictPublicBuckets)
                == Truth.TRUE) {
            account.publicAccessBlock().citation().ifPresent(weighing::limit);
        }
        if (who instanceof Actor.OriginIdentity) {
            weighing.step(() -> "RestrictPublicBuckets is on and the policy is public; whether an origin identity "
                    + "still gets through is not documented.");
            weighing.need(new Need(
                    "bucket-public-access",
                    bucket.arn(),
                    "whether RestrictPublicBuckets stops an origin identity is not documented",
                    ""));
            return Truth.UNKNOWN;
        }
        weighing.step(() -> "RestrictPublicBuckets is on and the policy is public: only the owner's account and "
                + "services get through.");
        return Truth.FALSE;
    }

    /**
     * A bucket whose readers pay serves nobody unsigned. Where no line asks, it is taken not to be one, and a decision says so; a refused
     * answer leaves it open. Source: S3 User Guide, "Using Requester Pays buckets".
     */
    private Truth payerLets(Bucket bucket) {
        if (!(who instanceof Actor.Anyone)) {
            return Truth.TRUE;
        }
        Truth pays = bucket.requesterPays()
                .fold(
                        found -> Truth.of(found.value()),
                        absent -> Truth.FALSE,
                        unread -> bucket.isAskedWhoPays() ? Truth.UNKNOWN : Truth.FALSE);
        if (pays == Truth.TRUE) {
            weighing.step(() -> "The bucket asks its readers to pay, so unsigned requests fail.");
            bucket.requesterPays().citation().ifPresent(weighing::limit);
        } else if (pays == Truth.UNKNOWN) {
            weighing.step(() -> "Whether the bucket asks its readers to pay was not read.");
            bucket.requesterPays().missing().ifPresent(weighing::need);
        } else if (!bucket.isAskedWhoPays()) {
            weighing.assume("the bucket does not ask its readers to pay");
        }
        return pays.not();
    }

    /**
     * Returns who may do what in a bucket whose settings are not in any survey, of which the caller's own side alone is known.
     *
     * @param owned whether the bucket is the account's; never true
     */
    public Access<V> inUnsurveyedBucket(Truth owned) {
        Optional<Side<V>> side = side();
        if (side.isEmpty()) {
            return new Access<>(unknown(), none(), all());
        }
        // Were the bucket the account's own after all, its policy alone could allow.
        V granted = owned == Truth.FALSE
                ? bySides(unknown(), side.get())
                : intersect(unknown(), side.get().organization());
        return new Access<>(granted, side.get().denied(), all());
    }

    /** Returns who may use a key or assume a role, whose own policy must admit the caller. */
    public Access<V> underPolicy(Reading<HeldPolicy> policy) {
        boolean own = isOwn();
        @Nullable Side<V> side = side().orElse(null);
        V denied = side == null ? none() : side.denied();
        if (policy.isAbsent()) {
            return new Access<>(none(), denied, all());
        }
        V granted;
        if (policy.found().isEmpty()) {
            policy.missing().ifPresent(weighing::need);
            granted = unknown();
            denied = union(denied, unknown());
        } else {
            denied = union(denied, resourceDenies(policy.found().get(), account.canonicalIds()));
            granted = resourceAllows(policy.found().get(), own ? side : null, true);
        }
        if (own && side != null) {
            granted = intersect(granted, side.organization());
        } else {
            granted = bySides(granted, side);
        }
        return new Access<>(granted, denied, all());
    }

    /**
     * Returns who may do what with a resource that is neither bucket, object, key nor role.
     *
     * @param ownPolicy what stands for a policy of the resource's own, which no survey holds; absent for services whose resources have none
     */
    public Access<V> elsewhere(Optional<Need> ownPolicy) {
        Optional<Side<V>> side = isOwn() ? side() : Optional.empty();
        ownPolicy.ifPresent(weighing::need);
        if (side.isEmpty()) {
            return new Access<>(ownPolicy.isPresent() ? unknown() : none(), none(), all());
        }
        V granted = ownPolicy.isPresent()
                ? unknown()
                : intersect(side.get().allowed(), side.get().bounded());
        return new Access<>(
                intersect(granted, side.get().organization()), side.get().denied(), all());
    }
}
