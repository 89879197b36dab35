package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import warden.core.access.Truth;
import warden.core.algebra.Language;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TextSet;
import warden.core.aws.account.Account;
import warden.core.aws.decision.AccessRules;
import warden.core.aws.decision.AclSide;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.decision.Weighing;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Need;

/**
 * Weighs the rules by sets of requests: all requests of one caller with one action for one bucket, its objects, or another resource, between
 * a certain and a possible bound.
 */
final class AllowedRequests implements Weighing<Bounds> {
    private static final RequestSet REAL_KEYS = RequestSet.where(StatementSets.KEY, TextSet.present(KeyPatterns.KEYS));
    /**
     * What unsigned callers, services and origin identities never carry.
     * Source: IAM User Guide, "AWS global condition context keys", "aws:PrincipalOrgID".
     */
    private static final Map<String, ContextValue> OF_NO_ORGANIZATION =
            Map.of("aws:principalorgid", ContextValue.ABSENT, "aws:principalorgpaths", ContextValue.ABSENT);

    private final Evaluator evaluator;
    private final Account account;
    private final Grantee grantee;
    private final String action;
    private final String lowerCaseAction;
    private final Target target;
    private final Context context;
    private final ResourceWork memory;
    private final StatementSets sets;
    private final List<Need> needs = new ArrayList<>();

    /**
     * What is asked for.
     *
     * @param bucket absent for what is no part of the storage
     * @param onObjects true for the objects of the bucket, whose keys are a dimension of the set
     * @param arn the bucket's ARN, or that of the other resource
     */
    record Target(Optional<Bucket> bucket, boolean onObjects, String arn) {
        static Target in(Bucket bucket, boolean onObjects) {
            return new Target(Optional.of(bucket), onObjects, bucket.arn());
        }

        static Target of(String resource) {
            return new Target(Optional.empty(), false, resource);
        }
    }

    AllowedRequests(
            Evaluator evaluator, Target target, Grantee grantee, String action, Context context, ResourceWork memory) {
        this.evaluator = evaluator;
        this.account = evaluator.account();
        this.target = target;
        this.grantee = grantee;
        this.action = action;
        this.lowerCaseAction = action.toLowerCase(Locale.ROOT);
        this.context = context;
        this.memory = memory;
        this.sets = new StatementSets(target.arn(), action, target.onObjects(), context, memory);
    }

    /** Returns what every request of the caller carries. */
    static Context context(Evaluator evaluator, String resource, Grantee grantee) {
        Context settled = Context.given(grantee.settled()).withDefaults(evaluator.time());
        Context context = evaluator.withFacts(new Request(grantee.who(), "s3:GetObject", resource, settled));
        return grantee.who().home().isEmpty() && !grantee.who().isOfUnknownAccount()
                ? context.withFacts(OF_NO_ORGANIZATION)
                : context;
    }

    StatementSets sets() {
        return sets;
    }

    Grantee grantee() {
        return grantee;
    }

    Target target() {
        return target;
    }

    /** Returns what was not read while the set was computed, whether or not the set hangs on it. */
    List<Need> needs() {
        return needs;
    }

    @Override
    public void need(Need need) {
        if (!needs.contains(need)) {
            needs.add(need);
        }
    }

    /** Returns the ARN that a request for this key is about; of what has no keys its own. */
    String resource(String key) {
        return target.onObjects() ? target.arn() + "/" + key : target.arn();
    }

    /** True when no statement that allows names both the outsider and the action, and no ACL speaks of it: then nothing is allowed. */
    static boolean isOutOfQuestion(
            Account account, Bucket bucket, Grantee grantee, String action, ResourceWork memory) {
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
                || memory.coverage(policy.get(), lower).statements().stream()
                        .noneMatch(statement -> statement.isOpaque()
                                || (statement.mayAllow()
                                        && statement
                                                .principals()
                                                .map(clause -> clause.allows(grantee.who(), account.canonicalIds())
                                                        .truth())
                                                .orElse(Truth.TRUE)
                                                .isPossible()));
    }

    /**
     * Returns a text that two actions share when the same statements cover both and nothing else tells them apart, so that their sets are
     * the same.
     */
    String kind() {
        StringBuilder kind = new StringBuilder(target.onObjects() ? "objects" : "bucket");
        kind.append(StatementSets.notCarried(lowerCaseAction))
                .append(AclSide.kind(lowerCaseAction))
                .append(Evaluator.usesKey(lowerCaseAction))
                .append(AccessRules.isAboutBucketPolicy(lowerCaseAction))
                .append(lowerCaseAction.startsWith("s3:getobject"));
        target.bucket().flatMap(bucket -> bucket.policy().found()).ifPresent(policy -> cover(policy, kind));
        evaluator.homeOf(grantee.who()).ifPresent(home -> {
            home.directory().organizationPolicies().forEach(policy -> policy.found()
                    .ifPresent(held -> cover(held.document(), kind)));
            if (grantee.who() instanceof Actor.User || grantee.who() instanceof Actor.Role) {
                home.directory()
                        .principal(arn())
                        .found()
                        .map(Principal::holdings)
                        .ifPresent(held -> {
                            held.policies().forEach(policy -> cover(policy, kind));
                            held.boundary().ifPresent(policy -> cover(policy, kind));
                        });
            }
        });
        return kind.toString();
    }

    private Arn arn() {
        return grantee.who() instanceof Actor.User user ? user.arn() : ((Actor.Role) grantee.who()).arn();
    }

    private void cover(HeldPolicy policy, StringBuilder kind) {
        cover(policy.document(), kind);
        kind.append(policy.speaksFor(lowerCaseAction));
    }

    private void cover(PolicyDocument policy, StringBuilder kind) {
        kind.append(memory.coverage(policy, lowerCaseAction).spelled());
    }

    /** Computes the set. */
    Bounds compute() {
        AccessRules<Bounds> rules = evaluator.rules(grantee.who(), lowerCaseAction, this);
        if (target.bucket().isEmpty()) {
            Request any = new Request(grantee.who(), action, target.arn(), context);
            // What the caller makes, a function say, has a policy of its own only once the caller gave it one.
            return rules.allowed(
                    Evaluator.mayHaveOwnPolicy(lowerCaseAction)
                            ? rules.elsewhere(Optional.empty())
                            : evaluator.outsideStorage(any, lowerCaseAction, rules));
        }
        Bounds allowed = rules.allowed(rules.inBucket(target.bucket().get()));
        // No object has an empty key, so what is left after taking sets away is kept to real keys.
        return target.onObjects() ? allowed.intersect(Bounds.exactly(REAL_KEYS)) : allowed;
    }

    @Override
    public Bounds of(Truth truth) {
        return Bounds.of(truth);
    }

    @Override
    public Bounds union(Bounds one, Bounds other) {
        return one.union(other);
    }

    @Override
    public Bounds intersect(Bounds one, Bounds other) {
        return one.intersect(other);
    }

    @Override
    public Bounds minus(Bounds whole, Bounds taken) {
        return whole.minus(taken);
    }

    @Override
    public boolean isNone(Bounds value) {
        return value.possible().isEmpty();
    }

    @Override
    public boolean isAll(Bounds value) {
        return value.certain() == RequestSet.all();
    }

    @Override
    public List<Statement> speaking(PolicyDocument document) {
        return memory.coverage(document, lowerCaseAction).statements();
    }

    @Override
    public Bounds allow(HeldPolicy policy, Optional<Statement> statement, PrincipalClause.Named named, Part part) {
        return statement.map(each -> sets.meant(each, named.truth())).orElse(Bounds.UNKNOWN);
    }

    @Override
    public Bounds deny(HeldPolicy policy, Optional<Statement> statement, Truth means, Part part) {
        return statement.map(each -> sets.meant(each, means)).orElse(Bounds.UNKNOWN);
    }

    /** An account under policies that only deny could do nothing at all, so that one which allows must be missing from the survey. */
    @Override
    public Bounds underDenyingOrganization() {
        account.directory().unreadOrganization().forEach(this::need);
        return Bounds.UNKNOWN;
    }

    @Override
    public Bounds foreignOwned(Bucket bucket) {
        AclSide lists = new AclSide(account);
        return target.onObjects() && AclSide.inForce(bucket) != Truth.FALSE
                ? byKey(bucket, key -> lists.foreignOwned(bucket, bucket.object(key)))
                : Bounds.NONE;
    }

    @Override
    public Bounds ownAccountByAccessLists(Bucket bucket) {
        AclSide lists = new AclSide(account);
        return byKey(bucket, key -> lists.grantsOwnAccount(bucket, bucket.object(key), lowerCaseAction));
    }

    @Override
    public Bounds byAccessLists(Bucket bucket) {
        AclSide lists = new AclSide(account);
        if (!AclSide.isObjectAction(lowerCaseAction)) {
            return Bounds.of(lists.grants(bucket, request(resource("x")), lowerCaseAction));
        }
        return byKey(bucket, key -> lists.grants(bucket, request(bucket.object(key)), lowerCaseAction));
    }

    /** Returns the objects with a list of their own for which something holds. */
    private static Bounds byKey(Bucket bucket, Function<String, Truth> holds) {
        Bounds all = Bounds.NONE;
        for (String key : bucket.keysWith("object-acl")) {
            Truth truth = holds.apply(key);
            if (truth.isPossible()) {
                all = all.union(Bounds.of(truth).intersect(Bounds.exactly(oneKey(key))));
            }
        }
        return all;
    }

    static RequestSet oneKey(String key) {
        return RequestSet.where(StatementSets.KEY, TextSet.present(Language.of(key)));
    }

    private Request request(String resource) {
        return new Request(grantee.who(), action, resource, context);
    }

    /** Returns the requests that the encryption key lets through: by object where objects differ from the bucket's default. */
    @Override
    public Bounds keyLets(Bucket bucket) {
        if (!target.onObjects() || !Evaluator.usesKey(lowerCaseAction)) {
            return Bounds.ALL;
        }
        Bounds byDefault = Bounds.of(keyLets(bucket, "\u0000"));
        if (lowerCaseAction.equals("s3:putobject")) {
            // A writer may ask for the storage service's own keys instead of the bucket's default.
            RequestSet ownKeys =
                    RequestSet.where("s3:x-amz-server-side-encryption|text", TextSet.present(Language.of("AES256")));
            return byDefault.union(Bounds.exactly(ownKeys));
        }
        Bounds result = byDefault;
        for (String key : bucket.keysWith("object")) {
            Bounds here = Bounds.of(keyLets(bucket, key));
            Bounds only = Bounds.exactly(oneKey(key));
            if (here != byDefault) {
                result = result.minus(only).union(here.intersect(only));
            }
        }
        return result;
    }

    /** What requests carry beside what is settled may be anything, for the key's policy too. */
    private Truth keyLets(Bucket bucket, String key) {
        Context open = context.whereUnknown(name -> name.startsWith("aws:"));
        return evaluator.keyLets(bucket, new Request(grantee.who(), action, bucket.object(key), open));
    }

    /** Returns the objects whose keys documents or listings name, for choosing a witness that exists. */
    List<String> knownKeys() {
        List<String> keys = new ArrayList<>(List.of("index.html"));
        target.bucket()
                .flatMap(bucket -> bucket.objects().found())
                .ifPresent(listing -> listing.keys().stream().limit(50).forEach(keys::add));
        return keys;
    }
}
