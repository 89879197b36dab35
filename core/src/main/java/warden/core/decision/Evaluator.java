package warden.core.decision;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.account.Account;
import warden.core.decision.Decision.Outcome;
import warden.core.decision.IdentitySide.Opinion;
import warden.core.decision.PolicyMatch.Hit;
import warden.core.identity.HeldPolicy;
import warden.core.identity.Principal;
import warden.core.policy.Actor;
import warden.core.policy.Arn;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;
import warden.core.policy.ContextValue.Known;
import warden.core.policy.PolicyDocument;
import warden.core.policy.PublicPolicy;
import warden.core.policy.Statement;
import warden.core.policy.Truth;
import warden.core.storage.Bucket;
import warden.core.storage.PublicAccessBlock;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * Decides one request at a time under everything that one account's survey shows.
 *
 * <p>Source: IAM User Guide, "Policy evaluation logic"; S3 User Guide, "How Amazon S3 authorizes a request" and
 * "Blocking public access to your Amazon S3 storage". Safe for use by several threads.
 */
public final class Evaluator {
    private static final Pattern ACCOUNT_NUMBER = Pattern.compile("(?<![0-9])[0-9]{12}(?![0-9])");
    private static final Set<String> POLICY_OF_BUCKET =
            Set.of("s3:getbucketpolicy", "s3:putbucketpolicy", "s3:deletebucketpolicy");
    private static final Set<String> READS_OBJECT = Set.of(
            "s3:getobject", "s3:getobjectversion", "s3:getobjectacl", "s3:getobjectversionacl", "s3:getobjecttorrent");
    /** Services whose resources may carry policies of their own that a survey does not hold. */
    private static final Set<String> OWN_RESOURCE_POLICIES = Set.of(
            "lambda",
            "sns",
            "sqs",
            "secretsmanager",
            "ecr",
            "events",
            "glacier",
            "backup",
            "codeartifact",
            "codebuild",
            "logs",
            "dynamodb",
            "kinesis",
            "es",
            "elasticfilesystem",
            "execute-api",
            "ses",
            "ssm");

    static final String NO_ORGANIZATION_POLICY = "no organization policy";

    private final Account account;
    private final IdentitySide identities;
    private final AclSide accessLists;
    private final KeySide keys;
    private final Map<Actor, Map<String, ContextValue>> facts = new ConcurrentHashMap<>();
    private final Map<Set<String>, Map<String, ContextValue>> anyAccountFacts = new ConcurrentHashMap<>();
    private final Map<String, Set<String>> namedAccounts = new ConcurrentHashMap<>();
    private final Map<String, Truth> publicPolicies = new ConcurrentHashMap<>();
    private final Map<String, Optional<HeldPolicy>> bucketPolicies = new ConcurrentHashMap<>();

    public Evaluator(Account account) {
        this.account = account;
        this.identities = new IdentitySide(account);
        this.accessLists = new AclSide(account);
        this.keys = new KeySide(account, identities);
    }

    public Account account() {
        return account;
    }

    /** Decides the request. */
    public Decision decide(Request request) {
        return decide(request, new Ledger(false));
    }

    /** Decides the request and keeps every step of the reasoning. */
    public Decision explain(Request request) {
        return decide(request, new Ledger(true));
    }

    private Decision decide(Request asked, Ledger ledger) {
        Context context = withFacts(asked);
        Request request = new Request(asked.who(), asked.action(), asked.resource(), context);
        String action = request.lowerCaseAction();
        Optional<String> bucketName = action.startsWith("s3:") ? Bucket.nameIn(request.resource()) : Optional.empty();
        if (bucketName.isPresent()) {
            Truth owned = account.ownsBucket(bucketName.get());
            if (owned == Truth.TRUE) {
                return inBucket(account.bucket(bucketName.get()), request, action, context, ledger);
            }
            return elsewhere(
                    request,
                    action,
                    context,
                    ledger,
                    new Need(
                            "bucket-policy",
                            Bucket.arnOf(bucketName.get()),
                            owned == Truth.FALSE ? "the bucket is not in the surveyed account" : "never asked",
                            "s3:GetBucketPolicy"));
        }
        return outsideStorage(request, action, context, ledger);
    }

    /** Returns what a request carries: what was given, and what follows from caller and resource. */
    public Context withFacts(Request request) {
        Actor who = request.who();
        if (who instanceof Actor.AnyAccount) {
            String bucket = Bucket.nameIn(request.resource()).orElse("");
            return request.context()
                    .withFacts(anyAccountFacts.computeIfAbsent(
                            namedAccounts(bucket), named -> resourceFacts(ActorFacts.of(who, account, named))));
        }
        return request.context()
                .withFacts(facts.computeIfAbsent(who, key -> resourceFacts(ActorFacts.of(key, account, Set.of()))));
    }

    private Map<String, ContextValue> resourceFacts(Map<String, ContextValue> actorFacts) {
        Map<String, ContextValue> all = new HashMap<>(actorFacts);
        all.put("aws:resourceaccount", Known.of(account.number()));
        return all;
    }

    /** Returns the account numbers that the documents about this bucket name. */
    private Set<String> namedAccounts(String bucketName) {
        return namedAccounts.computeIfAbsent(bucketName, name -> {
            Set<String> numbers = new HashSet<>(Set.of(account.number()));
            List<String> texts = new ArrayList<>();
            if (!name.isEmpty()) {
                account.bucket(name).policy().found().ifPresent(policy -> policy.statements()
                        .forEach(statement -> texts.add(statement.text())));
            }
            account.survey().subjects("key-policy").stream()
                    .flatMap(key -> account.keyPolicy(key).found().stream())
                    .forEach(
                            policy -> policy.document().statements().forEach(statement -> texts.add(statement.text())));
            for (String text : texts) {
                Matcher matcher = ACCOUNT_NUMBER.matcher(text);
                while (matcher.find()) {
                    numbers.add(matcher.group());
                }
            }
            return numbers;
        });
    }

    private boolean isOwn(Actor actor) {
        return actor.home().filter(account.number()::equals).isPresent();
    }

    private Decision inBucket(Bucket bucket, Request request, String action, Context context, Ledger ledger) {
        boolean own = isOwn(request.who());
        boolean ownRootOnPolicy =
                own && request.who() instanceof Actor.AccountRoot && POLICY_OF_BUCKET.contains(action);
        Reading<PolicyDocument> reading = bucket.policy();
        Optional<HeldPolicy> policy = bucketPolicy(bucket);
        Opinion side = own ? identities.weigh(request, action, context, ledger) : null;
        Truth denied = side == null ? Truth.FALSE : side.denied();
        Truth grantedByPolicy = Truth.FALSE;
        List<Hit> hits = List.of();
        if (policy.isPresent()) {
            denied =
                    denied.or(ownRootOnPolicy ? Truth.FALSE : deniedBy(policy.get(), request, action, context, ledger));
            hits = PolicyMatch.allows(policy.get(), request, action, context, account);
            grantedByPolicy = hits.stream().map(Hit::truth).reduce(Truth.FALSE, Truth::or);
            note(hits, context, ledger);
        } else if (reading.isUnread()) {
            reading.missing().ifPresent(ledger::need);
            ledger.step(() -> "The bucket policy was not read.");
            denied = denied.or(ownRootOnPolicy ? Truth.FALSE : Truth.UNKNOWN);
            grantedByPolicy = Truth.UNKNOWN;
        } else {
            ledger.step(() -> "The bucket has no policy.");
        }
        if (denied == Truth.TRUE) {
            return denied(ledger);
        }
        if (POLICY_OF_BUCKET.contains(action) && !own) {
            ledger.step(() -> "Nobody outside the owner's account can use this call, whatever the policy says.");
            return implicit(ledger, "Only the bucket owner's own account can work on the bucket policy.");
        }
        Truth grantedByList = accessLists.grants(bucket, request, action, ledger);
        Truth foreign =
                READS_OBJECT.contains(action) ? accessLists.foreignOwned(bucket, request.resource()) : Truth.FALSE;
        Truth granted = side != null
                ? ownGrant(side, hits, reading.isUnread(), grantedByList)
                : grantedByPolicy.or(grantedByList);
        if (foreign != Truth.FALSE) {
            Truth byList = side == null
                    ? grantedByList
                    : grantedByList.or(side.allowed()
                            .and(side.bounded())
                            .and(accessLists.grantsOwnAccount(bucket, request.resource(), action)));
            granted = foreign == Truth.TRUE ? byList : granted == byList ? granted : Truth.UNKNOWN;
            ledger.step(() -> "The object's ACL shows another owner, so only that ACL can admit a reader.");
            if (foreign == Truth.UNKNOWN) {
                ledger.need(new Need(
                        "bucket-acl", bucket.arn(), "whether the object has another owner", "s3:GetBucketAcl"));
            }
        }
        if (side == null) {
            granted = granted.and(restrictionLets(bucket, request.who(), granted, ledger));
            granted = granted.and(payerLets(bucket, request.who(), ledger));
        } else {
            granted = granted.and(side.organization());
        }
        if (granted == Truth.FALSE) {
            return implicit(ledger, nobodyAllows(request, ledger));
        }
        Truth key = keys.lets(bucket, request, action, context, ledger);
        return conclude(request, granted.and(key), denied, key, own, ledger);
    }

    private Truth ownGrant(Opinion side, List<Hit> hits, boolean policyUnread, Truth grantedByList) {
        Truth byPolicy = Grants.either(hits, side);
        Truth byList =
                side.hasBoundary() && side.bounded() != Truth.TRUE ? grantedByList.and(Truth.UNKNOWN) : grantedByList;
        return byPolicy.or(byList).or(policyUnread ? Truth.UNKNOWN : Truth.FALSE);
    }

    private Optional<HeldPolicy> bucketPolicy(Bucket bucket) {
        return bucketPolicies.computeIfAbsent(bucket.arn(), arn -> bucket.policy()
                .fold(
                        found -> Optional.of(new HeldPolicy("the bucket policy", found.value(), found.at())),
                        absent -> Optional.<HeldPolicy>empty(),
                        unread -> Optional.<HeldPolicy>empty()));
    }

    private Truth deniedBy(HeldPolicy policy, Request request, String action, Context context, Ledger ledger) {
        Truth denied = Truth.FALSE;
        for (Hit hit : PolicyMatch.denies(policy, request, action, context, account)) {
            denied = denied.or(hit.truth());
            if (hit.truth() == Truth.TRUE) {
                ledger.denies.add(hit.cite());
                ledger.step(() -> "The bucket policy: " + called(hit) + " denies it.");
            } else {
                ledger.open(hit.cite(), PolicyMatch.openPoint(hit, context));
                ledger.step(() -> "The bucket policy: " + called(hit) + " may deny it: "
                        + PolicyMatch.openPoint(hit, context) + ".");
            }
        }
        return denied;
    }

    private static void note(List<Hit> hits, Context context, Ledger ledger) {
        for (Hit hit : hits) {
            if (hit.truth() == Truth.TRUE) {
                ledger.allows.add(hit.cite());
                ledger.step(() -> "The bucket policy: " + called(hit) + " allows it" + naming(hit) + ".");
            } else {
                ledger.open(hit.cite(), PolicyMatch.openPoint(hit, context));
                ledger.step(() -> "The bucket policy: " + called(hit) + " may allow it: "
                        + PolicyMatch.openPoint(hit, context) + ".");
            }
        }
        if (hits.isEmpty()) {
            ledger.step(() -> "The bucket policy: no statement allows it.");
        }
    }

    private static String naming(Hit hit) {
        return switch (hit.naming()) {
            case ACCOUNT -> ", by delegation to the caller's account";
            case ROLE, ITSELF -> "";
            case EVERYONE -> " to everyone";
        };
    }

    private static String called(Hit hit) {
        return hit.statement().map(Statement::called).orElse("the document");
    }

    /** Returns whether the bucket's policy is public as the provider defines it. */
    public Truth hasPublicPolicy(Bucket bucket) {
        return publicPolicies.computeIfAbsent(bucket.arn(), arn -> bucket.policy()
                .fold(found -> PublicPolicy.isPublic(found.value()), absent -> Truth.FALSE, unread -> Truth.UNKNOWN));
    }

    /** Returns the account's organization policies, as far as the survey has them. */
    public boolean hasOrganizationPolicies() {
        return identities.hasOrganizationPolicies();
    }

    /** Returns whether the key under which objects are encrypted lets the request through, by what the survey shows. */
    public Truth keyLets(Bucket bucket, Request request) {
        Context context = withFacts(request);
        Request full = new Request(request.who(), request.action(), request.resource(), context);
        return keys.lets(bucket, full, request.lowerCaseAction(), context, new Ledger(false));
    }

    /** True when the action, in lower case, uses the key under which objects are encrypted. */
    public static boolean usesKey(String lowerCaseAction) {
        return KeySide.isAboutKeys(lowerCaseAction);
    }

    /** Returns whether RestrictPublicBuckets is on for the bucket, by its own block or the account's. */
    public Truth restrictsPublicBuckets(Bucket bucket) {
        return AclSide.flag(bucket.publicAccessBlock(), PublicAccessBlock::restrictPublicBuckets)
                .or(AclSide.flag(account.publicAccessBlock(), PublicAccessBlock::restrictPublicBuckets));
    }

    /** RestrictPublicBuckets cuts a bucket with a public policy off from everybody but its own account and services. */
    private Truth restrictionLets(Bucket bucket, Actor who, Truth granted, Ledger ledger) {
        if (who instanceof Actor.Service || granted == Truth.FALSE) {
            return Truth.TRUE;
        }
        Truth cut = hasPublicPolicy(bucket).and(restrictsPublicBuckets(bucket));
        if (cut == Truth.FALSE) {
            return Truth.TRUE;
        }
        if (cut == Truth.UNKNOWN) {
            bucket.publicAccessBlock().missing().ifPresent(ledger::need);
            account.publicAccessBlock().missing().ifPresent(ledger::need);
            ledger.step(() -> "Whether a public access block restricts the bucket is not known.");
            return Truth.UNKNOWN;
        }
        bucket.publicAccessBlock().citation().ifPresent(ledger.limits::add);
        if (AclSide.flag(account.publicAccessBlock(), PublicAccessBlock::restrictPublicBuckets) == Truth.TRUE) {
            account.publicAccessBlock().citation().ifPresent(ledger.limits::add);
        }
        if (who instanceof Actor.OriginIdentity) {
            ledger.step(() -> "RestrictPublicBuckets is on and the policy is public; whether an origin identity "
                    + "still gets through is not documented.");
            ledger.need(new Need(
                    "bucket-public-access",
                    bucket.arn(),
                    "whether RestrictPublicBuckets stops an origin identity is not documented",
                    ""));
            return Truth.UNKNOWN;
        }
        ledger.step(() -> "RestrictPublicBuckets is on and the policy is public: only the owner's account and "
                + "services get through.");
        return Truth.FALSE;
    }

    /** A bucket whose readers pay serves nobody unsigned. Source: S3 User Guide, "Using Requester Pays buckets". */
    private static Truth payerLets(Bucket bucket, Actor who, Ledger ledger) {
        boolean pays =
                who instanceof Actor.Anyone && bucket.requesterPays().found().orElse(false);
        if (pays) {
            ledger.step(() -> "The bucket asks its readers to pay, so unsigned requests fail.");
            bucket.requesterPays().citation().ifPresent(ledger.limits::add);
        }
        return Truth.of(!pays);
    }

    /** Decides about a bucket that is not known to be the account's: only the caller's own side is known. */
    private Decision elsewhere(Request request, String action, Context context, Ledger ledger, Need need) {
        if (isOwn(request.who())) {
            Opinion own = identities.weigh(request, action, context, ledger);
            if (own.denied() == Truth.TRUE) {
                return denied(ledger);
            }
            // Were the bucket the account's own after all, its policy alone could allow.
            boolean surelyForeign =
                    account.ownsBucket(Bucket.nameIn(request.resource()).orElse("")) == Truth.FALSE;
            if (surelyForeign && own.allowed().and(own.bounded()).and(own.organization()) == Truth.FALSE) {
                return implicit(ledger, "No policy of the caller allows it.");
            }
        }
        ledger.need(need);
        ledger.step(() -> "The bucket's own settings are not in this survey.");
        return unknown(ledger, "The bucket's settings are not in the survey: " + need.why() + ".");
    }

    /** Decides about resources that are neither buckets nor objects. */
    private Decision outsideStorage(Request request, String action, Context context, Ledger ledger) {
        Arn arn = Arn.parse(request.resource()).orElse(null);
        boolean onKey =
                action.startsWith("kms:") && arn != null && arn.resource().startsWith("key/");
        if (onKey) {
            Reading<HeldPolicy> policy = account.keyPolicy(request.resource());
            return underOwnPolicy(policy, request, action, context, ledger);
        }
        if (action.startsWith("sts:assumerole") && arn != null && arn.resource().startsWith("role/")) {
            Reading<HeldPolicy> trust = account.directory()
                    .principal(arn)
                    .fold(
                            found -> trustPolicy(found.value()),
                            absent -> new Reading.Absent<>(absent.code(), absent.at()),
                            unread -> new Reading.Unread<>(unread.need()));
            return underOwnPolicy(trust, request, action, context, ledger);
        }
        String service = action.contains(":") ? action.substring(0, action.indexOf(':')) : "";
        boolean hasUnreadPolicy = OWN_RESOURCE_POLICIES.contains(service);
        Need need = new Need(service, request.resource(), "a survey does not hold this resource's own policy", "");
        if (!isOwn(request.who())) {
            if (hasUnreadPolicy) {
                ledger.need(need);
                return unknown(ledger, "The resource's own policy is not part of a survey.");
            }
            return implicit(ledger, "The service has no policies on resources, and the caller is not of this account.");
        }
        Opinion own = identities.weigh(request, action, context, ledger);
        if (own.denied() == Truth.TRUE) {
            return denied(ledger);
        }
        Truth granted = own.allowed().and(own.bounded()).and(own.organization());
        if (hasUnreadPolicy) {
            ledger.need(need);
            granted = own.organization() == Truth.FALSE ? Truth.FALSE : Truth.UNKNOWN;
        }
        if (granted == Truth.FALSE) {
            return implicit(ledger, nobodyAllows(request, ledger));
        }
        return conclude(request, granted, own.denied(), Truth.TRUE, true, ledger);
    }

    private static Reading<HeldPolicy> trustPolicy(Principal role) {
        return role.trust()
                .<Reading<HeldPolicy>>map(document ->
                        new Reading.Found<>(new HeldPolicy("the trust policy", document, role.at()), role.at()))
                .orElseGet(() -> new Reading.Unread<>(
                        new Need("iam-role", role.arn().toString(), "shows no trust policy", "iam:GetRole")));
    }

    /** Decides about keys and roles, whose own policy must admit the caller. */
    private Decision underOwnPolicy(
            Reading<HeldPolicy> policy, Request request, String action, Context context, Ledger ledger) {
        boolean own = isOwn(request.who());
        Opinion side = own ? identities.weigh(request, action, context, ledger) : null;
        if (side != null && side.denied() == Truth.TRUE) {
            return denied(ledger);
        }
        if (policy.found().isEmpty()) {
            policy.missing().ifPresent(ledger::need);
            return policy.isAbsent()
                    ? implicit(ledger, "The account says that it does not exist.")
                    : unknown(ledger, "Its own policy was not read.");
        }
        Truth denied = deniedBy(policy.found().get(), request, action, context, ledger);
        if (denied == Truth.TRUE) {
            return denied(ledger);
        }
        List<Hit> hits = PolicyMatch.allows(policy.found().get(), request, action, context, account);
        note(hits, context, ledger);
        Truth granted = side == null
                ? hits.stream().map(Hit::truth).reduce(Truth.FALSE, Truth::or)
                : Grants.strict(hits, side).and(side.organization());
        if (granted == Truth.FALSE) {
            return implicit(ledger, nobodyAllows(request, ledger));
        }
        return conclude(request, granted, side == null ? denied : denied.or(side.denied()), Truth.TRUE, own, ledger);
    }

    private Decision conclude(Request request, Truth granted, Truth denied, Truth key, boolean own, Ledger ledger) {
        if (granted == Truth.FALSE) {
            return implicit(
                    ledger,
                    key == Truth.FALSE
                            ? "It is allowed, but the caller cannot use the key under which the object is encrypted."
                            : nobodyAllows(request, ledger));
        }
        if (granted == Truth.TRUE && denied == Truth.FALSE) {
            boolean assumes = own && !identities.hasOrganizationPolicies();
            String by = ledger.allows.isEmpty()
                    ? "the account's root user needs no policy."
                    : sources(ledger) + " allows it.";
            return new Decision(
                    Outcome.ALLOW,
                    !ledger.allows.isEmpty(),
                    "Allowed: " + by,
                    ledger.allows,
                    List.of(),
                    assumes ? List.of(NO_ORGANIZATION_POLICY) : List.of(),
                    ledger.steps());
        }
        return unknown(
                ledger,
                denied == Truth.UNKNOWN
                        ? "Not known: something that was not settled could deny it."
                        : "Not known: what would allow it is not settled.");
    }

    private static String sources(Ledger ledger) {
        return switch (ledger.allows.get(0).aspect()) {
            case "bucket-policy" -> "the bucket policy";
            case "bucket-acl" -> "the bucket's ACL";
            case "object-acl" -> "the object's ACL";
            case "key-policy" -> "the key policy";
            case "iam-role", "iam-user", "iam-group", "iam-policy" -> "an identity-based policy";
            default -> "a policy";
        };
    }

    private static Decision denied(Ledger ledger) {
        String by = ledger.denies.get(0).aspect();
        return new Decision(
                Outcome.DENY,
                true,
                "Denied: a statement of " + (by.equals("bucket-policy") ? "the bucket policy" : "a policy (" + by + ")")
                        + " denies it.",
                ledger.denies,
                List.of(),
                List.of(),
                ledger.steps());
    }

    private static String nobodyAllows(Request request, Ledger ledger) {
        if (!ledger.limits.isEmpty()) {
            return "A grant exists, but " + ledger.limits.get(0).aspect() + " takes it back.";
        }
        return "No statement and no grant allows it to " + request.who().spelled() + ".";
    }

    private static Decision implicit(Ledger ledger, String says) {
        return new Decision(Outcome.DENY, false, says, ledger.limits, List.of(), List.of(), ledger.steps());
    }

    private static Decision unknown(Ledger ledger, String says) {
        List<warden.core.survey.Citation> because = new ArrayList<>(ledger.allows);
        because.addAll(ledger.limits);
        return new Decision(Outcome.UNKNOWN, false, says, because, ledger.needs, List.of(), ledger.steps());
    }
}
