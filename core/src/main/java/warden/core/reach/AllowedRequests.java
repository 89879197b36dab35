package warden.core.reach;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.algebra.Language;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TextSet;
import warden.core.decision.AclSide;
import warden.core.decision.Evaluator;
import warden.core.decision.Request;
import warden.core.identity.HeldPolicy;
import warden.core.identity.Holdings;
import warden.core.identity.Principal;
import warden.core.policy.Actor;
import warden.core.policy.Arn;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;
import warden.core.policy.PolicyDocument;
import warden.core.policy.PrincipalClause;
import warden.core.policy.PrincipalElement.Naming;
import warden.core.policy.Statement;
import warden.core.policy.Truth;
import warden.core.storage.Bucket;
import warden.core.survey.Reading;

/**
 * All requests of one caller with one action in one bucket that are allowed, between a certain and a possible bound. The rules are those
 * of {@link Evaluator}, applied to sets.
 */
final class AllowedRequests {
    private static final PrincipalClause.Named ATTACHED = new PrincipalClause.Named(Truth.TRUE, Naming.ITSELF);

    private static final RequestSet REAL_KEYS = RequestSet.where(StatementSets.KEY, TextSet.present(KeyPatterns.KEYS));

    private final Evaluator evaluator;
    private final Account account;
    private final Bucket bucket;
    private final Grantee grantee;
    private final String action;
    private final boolean onObjects;
    private final Context context;
    private final Memory memory;
    private final StatementSets sets;

    AllowedRequests(
            Evaluator evaluator,
            Bucket bucket,
            Grantee grantee,
            String action,
            boolean onObjects,
            Context context,
            Memory memory) {
        this.evaluator = evaluator;
        this.account = evaluator.account();
        this.bucket = bucket;
        this.grantee = grantee;
        this.action = action;
        this.onObjects = onObjects;
        this.context = context;
        this.memory = memory;
        this.sets = new StatementSets(bucket.arn(), action, onObjects, context, memory);
    }

    /**
     * What unsigned callers, services and origin identities never carry.
     * Source: IAM User Guide, "AWS global condition context keys", "aws:PrincipalOrgID".
     */
    private static final Map<String, ContextValue> OF_NO_ORGANIZATION =
            Map.of("aws:principalorgid", ContextValue.ABSENT, "aws:principalorgpaths", ContextValue.ABSENT);

    /** Returns what every request of the caller to the bucket carries. */
    static Context context(Evaluator evaluator, Bucket bucket, Grantee grantee) {
        Context settled = Context.given(grantee.settled());
        Context context = evaluator.withFacts(new Request(grantee.who(), "s3:GetObject", bucket.object("x"), settled));
        return grantee.who().home().isEmpty() && !(grantee.who() instanceof Actor.AnyAccount)
                ? context.withFacts(OF_NO_ORGANIZATION)
                : context;
    }

    StatementSets sets() {
        return sets;
    }

    /** True when no statement that allows names both the outsider and the action, and no ACL speaks of it: then nothing is allowed. */
    static boolean isOutOfQuestion(Account account, Bucket bucket, Grantee grantee, String action, Memory memory) {
        boolean own = grantee.who().home().filter(account.number()::equals).isPresent();
        Optional<PolicyDocument> policy = bucket.policy().found();
        boolean noPolicy = bucket.policy().isAbsent();
        String lower = action.toLowerCase(Locale.ROOT);
        boolean byList = !AclSide.kind(lower).isEmpty() && AclSide.inForce(bucket) != Truth.FALSE;
        if (own
                || byList
                || (policy.isEmpty() && !noPolicy)
                || policy.filter(PolicyDocument::isOpaque).isPresent()) {
            return false;
        }
        return noPolicy
                || memory.coverage(policy.get(), action).statements().stream()
                        .noneMatch(statement -> statement.isOpaque()
                                || (statement.mayAllow()
                                        && statement
                                                .principals()
                                                .map(clause -> clause.allows(grantee.who(), account)
                                                        .truth())
                                                .orElse(Truth.TRUE)
                                                .isPossible()));
    }

    /**
     * Returns a text that two actions share when the same statements cover both and nothing else tells them apart, so that their sets are
     * the same.
     */
    String kind() {
        String lower = action.toLowerCase(Locale.ROOT);
        StringBuilder kind = new StringBuilder(onObjects ? "objects" : "bucket");
        kind.append(StatementSets.notCarried(lower)).append(AclSide.kind(lower)).append(Evaluator.usesKey(lower));
        kind.append(List.of("s3:PutBucketPolicy", "s3:DeleteBucketPolicy").contains(action));
        bucket.policy()
                .found()
                .ifPresent(policy -> kind.append(memory.coverage(policy, action).spelled()));
        if (isOwn()) {
            account.directory().organizationPolicies().forEach(policy -> policy.found()
                    .ifPresent(held -> cover(held.document(), lower, kind)));
            if (!(grantee.who() instanceof Actor.AccountRoot)) {
                principal().found().map(Principal::holdings).ifPresent(held -> {
                    held.policies().forEach(policy -> {
                        cover(policy.document(), lower, kind);
                        kind.append(policy.speaksFor(lower));
                    });
                    held.boundary().ifPresent(policy -> cover(policy.document(), lower, kind));
                });
            }
        }
        return kind.toString();
    }

    private static void cover(PolicyDocument policy, String lowerCaseAction, StringBuilder kind) {
        kind.append(Memory.Coverage.of(policy, lowerCaseAction).spelled());
    }

    private boolean isOwn() {
        return grantee.who().home().filter(account.number()::equals).isPresent();
    }

    /** Computes the set. */
    Bounds compute() {
        boolean policyCall =
                List.of("s3:PutBucketPolicy", "s3:DeleteBucketPolicy").contains(action);
        if (policyCall && !isOwn()) {
            return Bounds.NONE;
        }
        Bounds allowed = isOwn() ? own(policyCall) : outsiders();
        // No object has an empty key, so what is left after taking sets away is kept to real keys.
        return onObjects ? allowed.intersect(keyLets()).intersect(Bounds.exactly(REAL_KEYS)) : allowed;
    }

    private Bounds outsiders() {
        Bounds granted = Bounds.NONE;
        Bounds denied = Bounds.NONE;
        Reading<PolicyDocument> reading = bucket.policy();
        if (reading.found().isPresent()) {
            PolicyDocument policy = reading.found().get();
            granted = policy.isOpaque() ? Bounds.UNKNOWN : Bounds.NONE;
            denied = granted;
            for (Statement statement : covering(policy)) {
                granted = granted.union(statement.mayAllow() ? allow(statement) : Bounds.NONE);
                denied = denied.union(statement.mayDeny() ? deny(statement) : Bounds.NONE);
            }
        } else if (reading.isUnread()) {
            granted = Bounds.UNKNOWN;
            denied = Bounds.UNKNOWN;
        }
        granted = withoutForeignObjects(granted).union(byAccessLists());
        boolean unsigned = grantee.who() instanceof Actor.Anyone;
        if (unsigned && bucket.requesterPays().found().orElse(false)) {
            return Bounds.NONE;
        }
        return granted.intersect(Bounds.of(restrictionLets())).minus(denied);
    }

    private Truth restrictionLets() {
        if (grantee.who() instanceof Actor.Service) {
            return Truth.TRUE;
        }
        Truth cut = evaluator.hasPublicPolicy(bucket).and(evaluator.restrictsPublicBuckets(bucket));
        boolean undocumented = cut == Truth.TRUE && grantee.who() instanceof Actor.OriginIdentity;
        return undocumented ? Truth.UNKNOWN : cut.not();
    }

    private Bounds own(boolean policyCall) {
        boolean isRoot = grantee.who() instanceof Actor.AccountRoot;
        Bounds organization = Bounds.ALL;
        Bounds denied = Bounds.NONE;
        boolean serviceLinked = grantee.who() instanceof Actor.Role role
                && role.arn().resource().startsWith("role/aws-service-role/");
        if (evaluator.hasOrganizationPolicies() && !serviceLinked) {
            organization = Bounds.NONE;
            for (Reading<HeldPolicy> policy : account.directory().organizationPolicies()) {
                organization =
                        organization.union(policy.found().map(this::allows).orElse(Bounds.UNKNOWN));
                denied = denied.union(policy.found().map(this::denies).orElse(Bounds.UNKNOWN));
            }
        }
        Bounds identity = Bounds.ALL;
        Bounds boundary = Bounds.ALL;
        boolean hasBoundary = false;
        if (!isRoot) {
            Optional<Holdings> holdings = principal().found().map(Principal::holdings);
            if (holdings.isEmpty()) {
                identity = principal().isAbsent() ? Bounds.NONE : Bounds.UNKNOWN;
                denied = principal().isAbsent() ? denied : Bounds.UNKNOWN;
                hasBoundary = !principal().isAbsent();
                boundary = hasBoundary ? Bounds.UNKNOWN : Bounds.ALL;
            } else {
                Holdings held = holdings.get();
                identity = held.missing().isEmpty() ? Bounds.NONE : Bounds.UNKNOWN;
                denied = held.missing().isEmpty() ? denied : Bounds.UNKNOWN;
                for (HeldPolicy policy : held.policies()) {
                    identity = identity.union(allows(policy));
                    denied = denied.union(denies(policy));
                }
                hasBoundary =
                        held.boundary().isPresent() || held.boundaryMissing().isPresent();
                if (hasBoundary) {
                    boundary = held.boundary().map(this::allows).orElse(Bounds.UNKNOWN);
                    denied = denied.union(held.boundary().map(this::denies).orElse(Bounds.UNKNOWN));
                }
            }
        }
        Bounds granted = identity.intersect(boundary);
        Reading<PolicyDocument> reading = bucket.policy();
        boolean sparedFromPolicy = isRoot && policyCall;
        if (reading.found().isPresent()) {
            PolicyDocument policy = reading.found().get();
            Bounds opaque = policy.isOpaque() ? Bounds.UNKNOWN : Bounds.NONE;
            granted = granted.union(opaque);
            denied = denied.union(sparedFromPolicy ? Bounds.NONE : opaque);
            for (Statement statement : covering(policy)) {
                if (statement.mayAllow()) {
                    granted = granted.union(ownAllow(statement, boundary, hasBoundary));
                }
                if (statement.mayDeny() && !sparedFromPolicy) {
                    denied = denied.union(deny(statement));
                }
            }
        } else if (reading.isUnread()) {
            granted = granted.union(Bounds.UNKNOWN);
            denied = sparedFromPolicy ? denied : denied.union(Bounds.UNKNOWN);
        }
        Bounds byLists = byAccessLists();
        granted = withoutForeignObjects(granted)
                .union(hasBoundary ? byLists.intersect(boundary.union(Bounds.UNKNOWN)) : byLists);
        return granted.intersect(organization).minus(denied);
    }

    private List<Statement> covering(PolicyDocument bucketPolicy) {
        return memory.coverage(bucketPolicy, action).statements();
    }

    private Reading<Principal> principal() {
        Arn arn = grantee.who() instanceof Actor.User user ? user.arn() : ((Actor.Role) grantee.who()).arn();
        return account.directory().principal(arn);
    }

    private Bounds ownAllow(Statement statement, Bounds boundary, boolean hasBoundary) {
        PrincipalClause.Named named = named(statement);
        Bounds allowed = sets.allowed(statement, named);
        if (statement.isOpaque()) {
            return allowed;
        }
        boolean pinsPrincipal = statement.conditions().stream()
                .anyMatch(condition -> condition.lowerCaseKey().equals("aws:principalarn")
                        && !condition.operator().isNegated());
        return switch (named.naming()) {
            case ITSELF -> allowed;
            case ROLE -> allowed.intersect(boundary);
            case EVERYONE ->
                !hasBoundary || pinsPrincipal ? allowed : allowed.intersect(boundary.union(Bounds.UNKNOWN));
            case ACCOUNT -> Bounds.NONE;
        };
    }

    private PrincipalClause.Named named(Statement statement) {
        return statement
                .principals()
                .map(clause -> clause.allows(grantee.who(), account))
                .orElse(ATTACHED);
    }

    private Bounds allow(Statement statement) {
        return sets.allowed(statement, named(statement));
    }

    private Bounds deny(Statement statement) {
        Truth means = statement
                .principals()
                .map(clause -> clause.denies(grantee.who(), account))
                .orElse(Truth.TRUE);
        return sets.denied(statement, means);
    }

    private Bounds allows(HeldPolicy policy) {
        Bounds allowed = policy.document().isOpaque() || !policy.speaksFor(action.toLowerCase(Locale.ROOT))
                ? Bounds.UNKNOWN
                : Bounds.NONE;
        for (Statement statement : policy.document().statements()) {
            allowed = allowed.union(statement.mayAllow() ? allow(statement) : Bounds.NONE);
        }
        return allowed;
    }

    private Bounds denies(HeldPolicy policy) {
        Bounds denied = policy.document().isOpaque() ? Bounds.UNKNOWN : Bounds.NONE;
        for (Statement statement : policy.document().statements()) {
            denied = denied.union(statement.mayDeny() ? deny(statement) : Bounds.NONE);
        }
        return denied;
    }

    /** Takes away the objects that belong to others, which only their own ACLs open for reading. */
    private Bounds withoutForeignObjects(Bounds granted) {
        if (!action.startsWith("s3:GetObject") || AclSide.inForce(bucket) == Truth.FALSE) {
            return granted;
        }
        AclSide lists = new AclSide(account);
        Bounds foreign = Bounds.NONE;
        for (String key : bucket.keysWith("object-acl")) {
            Truth isForeign = lists.foreignOwned(bucket, bucket.object(key));
            if (isForeign.isPossible()) {
                foreign = foreign.union(Bounds.of(isForeign).intersect(Bounds.exactly(oneKey(key))));
            }
        }
        return granted.minus(foreign);
    }

    private static RequestSet oneKey(String key) {
        return RequestSet.where(StatementSets.KEY, TextSet.present(Language.of(key)));
    }

    private Bounds byAccessLists() {
        AclSide lists = new AclSide(account);
        String lower = action.toLowerCase(Locale.ROOT);
        if (!AclSide.isObjectAction(lower)) {
            return Bounds.of(lists.grants(bucket, request(onObjects ? bucket.object("x") : bucket.arn()), lower));
        }
        Bounds granted = Bounds.NONE;
        for (String key : bucket.keysWith("object-acl")) {
            Truth truth = lists.grants(bucket, request(bucket.object(key)), lower);
            if (truth.isPossible()) {
                granted = granted.union(Bounds.of(truth).intersect(Bounds.exactly(oneKey(key))));
            }
        }
        return granted;
    }

    private Request request(String resource) {
        return new Request(grantee.who(), action, resource, context);
    }

    /** Returns the requests that the encryption key lets through: by object where objects differ from the bucket's default. */
    private Bounds keyLets() {
        String lower = action.toLowerCase(Locale.ROOT);
        if (!lower.equals("s3:getobject") && !lower.equals("s3:getobjectversion") && !lower.equals("s3:putobject")) {
            return Bounds.ALL;
        }
        Bounds byDefault = Bounds.of(evaluator.keyLets(bucket, request(bucket.object("\u0000"))));
        if (lower.equals("s3:putobject")) {
            // A writer may ask for the storage service's own keys instead of the bucket's default.
            RequestSet ownKeys =
                    RequestSet.where("s3:x-amz-server-side-encryption|text", TextSet.present(Language.of("AES256")));
            return byDefault.union(Bounds.exactly(ownKeys));
        }
        Bounds result = byDefault;
        for (String key : bucket.keysWith("object")) {
            Bounds here = Bounds.of(evaluator.keyLets(bucket, request(bucket.object(key))));
            Bounds only = Bounds.exactly(oneKey(key));
            if (here != byDefault) {
                result = result.minus(only).union(here.intersect(only));
            }
        }
        return result;
    }

    /** Returns the objects whose keys documents or listings name, for choosing a witness that exists. */
    List<String> knownKeys() {
        List<String> keys = new ArrayList<>(List.of("index.html"));
        bucket.objects()
                .found()
                .ifPresent(listing -> listing.keys().stream().limit(50).forEach(keys::add));
        return keys;
    }
}
