package warden.core.aws.decision;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import warden.core.access.Decision;
import warden.core.access.Decision.Outcome;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * Decides one request at a time under everything that one account's survey shows.
 *
 * <p>Source: IAM User Guide, "Policy evaluation logic"; S3 User Guide, "How Amazon S3 authorizes a request" and
 * "Blocking public access to your Amazon S3 storage". Safe for use by several threads.
 */
public final class Evaluator {
    private static final int ACCOUNT_DIGITS = 12;
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
    private final Evaluators all;
    private final AclSide accessLists;
    private final KeySide keys;
    private final Map<Actor, Map<String, ContextValue>> facts = new ConcurrentHashMap<>();
    private final Map<Set<String>, Map<String, ContextValue>> anyAccountFacts = new ConcurrentHashMap<>();
    private final Map<String, Set<String>> namedAccounts = new ConcurrentHashMap<>();
    private @Nullable Set<String> accountsNamedByKeys;

    /** Makes an engine for an account that was surveyed alone, for requests of which no time is known. */
    public Evaluator(Account account) {
        this(account, new Evaluators(List.of(), Optional.empty()));
    }

    Evaluator(Account account, Evaluators all) {
        this.account = account;
        this.all = all;
        this.accessLists = new AclSide(account);
        this.keys = new KeySide(this);
    }

    public Account account() {
        return account;
    }

    /** Decides the request, which is sent at the instant as of which the account is judged unless it says otherwise. */
    public Decision decide(Request request) {
        return decide(
                new Request(
                        request.who(),
                        request.action(),
                        request.resource(),
                        request.context().withDefaults(all.time())),
                new DecisionEvidence(false));
    }

    /**
     * Decides the request as {@link #decide(Request)} does, where what no survey holds may be anything: the tags of objects and other things,
     * and the organization for which a service acts.
     */
    public Decision decideUnsurveyed(Request request) {
        boolean byService = request.who() instanceof Actor.Service;
        return decide(new Request(
                request.who(),
                request.action(),
                request.resource(),
                request.context().orUnknown(key -> isTag(key) || (byService && key.startsWith("aws:sourceorg")))));
    }

    /** True for the keys by which a policy asks for the tags of what a request is about; no survey holds them. */
    public static boolean isTag(String lowerCaseKey) {
        return lowerCaseKey.startsWith("s3:existingobjecttag/") || lowerCaseKey.startsWith("aws:resourcetag/");
    }

    /**
     * Decides the request as it stands: what it does not carry is absent, the time too.
     *
     * @param explains whether to keep every step of the reasoning
     */
    public Decision answer(Request request, boolean explains) {
        return decide(request, new DecisionEvidence(explains));
    }

    /** Returns what every request carries that does not say otherwise, by lower-case key: the time, where it is known. */
    public Map<String, ContextValue> time() {
        return all.time();
    }

    /** Returns the engine of the surveyed account that owns a bucket; absent when none is known to. */
    public Optional<Evaluator> owning(String bucketName) {
        return account.ownsBucket(bucketName) == Truth.TRUE ? Optional.of(this) : all.owning(bucketName);
    }

    /** Returns the account with this number, if it was surveyed. */
    Optional<Account> numbered(String number) {
        return number.equals(account.number())
                ? Optional.of(account)
                : all.numbered(number).map(Evaluator::account);
    }

    /** Returns the caller's own account, if it was surveyed. */
    public Optional<Account> homeOf(Actor who) {
        return who.home().flatMap(this::numbered);
    }

    private Decision decide(Request asked, DecisionEvidence ledger) {
        String action = asked.lowerCaseAction();
        Optional<String> bucketName = action.startsWith("s3:") ? Bucket.nameIn(asked.resource()) : Optional.empty();
        Optional<Evaluator> other = bucketName.isPresent()
                ? account.ownsBucket(bucketName.get()) == Truth.TRUE ? Optional.empty() : all.owning(bucketName.get())
                : Arn.parse(asked.resource())
                        .filter(arn -> !arn.account().equals(account.number()))
                        .flatMap(arn -> all.numbered(arn.account()));
        if (other.isPresent() && other.get() != this) {
            return other.get().decide(asked, ledger);
        }
        Request request = new Request(asked.who(), asked.action(), asked.resource(), withFacts(asked));
        OneRequest weighing = new OneRequest(request, accessLists, keys, ledger);
        AccessRules<Truth> rules = rules(request.who(), action, weighing);
        if (bucketName.isPresent()) {
            Truth owned = account.ownsBucket(bucketName.get());
            if (owned == Truth.TRUE) {
                return conclude(request, rules, rules.inBucket(account.bucket(bucketName.get())), ledger);
            }
            return inUnsurveyedBucket(bucketName.get(), owned, request, rules, ledger);
        }
        return conclude(request, rules, outsideStorage(request, action, rules), ledger);
    }

    /** Returns the rules for a caller and an action of something that this account owns. */
    public <V> AccessRules<V> rules(Actor who, String lowerCaseAction, Weighing<V> weighing) {
        return new AccessRules<>(account, account.number(), homeOf(who), who, lowerCaseAction, weighing);
    }

    /**
     * Returns what comes of the rules for a resource of the account that is neither a bucket nor an object.
     *
     * @param rules those for the request's caller and action
     */
    public <V> AccessRules.Access<V> outsideStorage(Request request, String lowerCaseAction, AccessRules<V> rules) {
        Arn arn = Arn.parse(request.resource()).orElse(null);
        boolean onKey = lowerCaseAction.startsWith("kms:")
                && arn != null
                && arn.resource().startsWith("key/");
        if (onKey) {
            return rules.underPolicy(account.keyPolicy(request.resource()));
        }
        if (lowerCaseAction.startsWith("sts:assumerole")
                && arn != null
                && arn.resource().startsWith("role/")) {
            return rules.underPolicy(account.directory()
                    .principal(arn)
                    .fold(
                            found -> trustPolicy(found.value()),
                            absent -> new Reading.Absent<>(absent.code(), absent.at()),
                            unread -> new Reading.Unread<>(unread.need())));
        }
        return rules.elsewhere(
                mayHaveOwnPolicy(lowerCaseAction)
                        ? Optional.of(new Need(
                                service(lowerCaseAction),
                                request.resource(),
                                "a survey does not hold this resource's own policy",
                                ""))
                        : Optional.empty());
    }

    private static String service(String lowerCaseAction) {
        return lowerCaseAction.contains(":") ? lowerCaseAction.substring(0, lowerCaseAction.indexOf(':')) : "";
    }

    /** True when the resources of the action's service may have policies of their own, which no survey holds. */
    public static boolean mayHaveOwnPolicy(String lowerCaseAction) {
        return OWN_RESOURCE_POLICIES.contains(service(lowerCaseAction));
    }

    private static Reading<HeldPolicy> trustPolicy(Principal role) {
        return role.trust()
                .<Reading<HeldPolicy>>map(document ->
                        new Reading.Found<>(new HeldPolicy("the trust policy", document, role.at()), role.at()))
                .orElseGet(() -> new Reading.Unread<>(
                        new Need("iam-role", role.arn().toString(), "shows no trust policy", "iam:GetRole")));
    }

    /** Decides about a bucket that is not known to be any surveyed account's: only the caller's own side is known. */
    private Decision inUnsurveyedBucket(
            String name, Truth owned, Request request, AccessRules<Truth> rules, DecisionEvidence ledger) {
        AccessRules.Access<Truth> access = rules.inUnsurveyedBucket(owned);
        if (access.denied() == Truth.TRUE) {
            return denied(ledger);
        }
        if (access.granted() == Truth.FALSE) {
            return implicit(ledger, "No policy of the caller allows it.");
        }
        String why = owned == Truth.FALSE ? "the bucket is not in the surveyed account" : "never asked";
        ledger.need(new Need("bucket-policy", Bucket.arnOf(name), why, "s3:GetBucketPolicy"));
        ledger.step(() -> "The bucket's own settings are not in this survey.");
        return unknown(ledger, "The bucket's settings are not in the survey: " + why + ".");
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
                .withFacts(facts.computeIfAbsent(
                        who,
                        key -> resourceFacts(
                                ActorFacts.of(key, homeOf(key).orElse(account), Set.of(account.number())))));
    }

    private Map<String, ContextValue> resourceFacts(Map<String, ContextValue> actorFacts) {
        Map<String, ContextValue> all = new HashMap<>(actorFacts);
        all.put("aws:resourceaccount", Known.of(account.number()));
        return all;
    }

    /** Returns the account numbers that the documents about this bucket, or about any key, name. */
    private Set<String> namedAccounts(String bucketName) {
        return namedAccounts.computeIfAbsent(bucketName, name -> {
            Set<String> numbers = new HashSet<>(accountsNamedByKeys());
            if (!name.isEmpty()) {
                account.bucket(name).policy().found().ifPresent(policy -> policy.statements()
                        .forEach(statement -> collectAccounts(statement.text(), numbers)));
            }
            return numbers;
        });
    }

    private synchronized Set<String> accountsNamedByKeys() {
        if (accountsNamedByKeys == null) {
            Set<String> numbers = new HashSet<>(Set.of(account.number()));
            account.survey().subjects("key-policy").stream()
                    .flatMap(key -> account.keyPolicy(key).found().stream())
                    .flatMap(policy -> policy.document().statements().stream())
                    .forEach(statement -> collectAccounts(statement.text(), numbers));
            accountsNamedByKeys = numbers;
        }
        return accountsNamedByKeys;
    }

    /** Collects each run of exactly twelve digits; by hand, since all text of all policies passes here. */
    private static void collectAccounts(String text, Set<String> numbers) {
        int start = 0;
        for (int at = 0; at <= text.length(); at++) {
            boolean isDigit = at < text.length() && text.charAt(at) >= '0' && text.charAt(at) <= '9';
            if (!isDigit) {
                if (at - start == ACCOUNT_DIGITS) {
                    numbers.add(text.substring(start, at));
                }
                start = at + 1;
            }
        }
    }

    /** Returns whether the key under which objects are encrypted lets the request through, by what the survey shows. */
    public Truth keyLets(Bucket bucket, Request request) {
        Context context = withFacts(request);
        Request full = new Request(request.who(), request.action(), request.resource(), context);
        return keys.lets(bucket, full, request.lowerCaseAction(), new DecisionEvidence(false));
    }

    /** True when the action, in lower case, uses the key under which objects are encrypted. */
    public static boolean usesKey(String lowerCaseAction) {
        return KeySide.isAboutKeys(lowerCaseAction);
    }

    private Decision conclude(
            Request request, AccessRules<Truth> rules, AccessRules.Access<Truth> access, DecisionEvidence ledger) {
        if (access.denied() == Truth.TRUE) {
            return denied(ledger);
        }
        Truth granted = access.granted().and(access.key());
        if (granted == Truth.FALSE) {
            return implicit(
                    ledger,
                    access.granted() != Truth.FALSE
                            ? "It is allowed, but the caller cannot use the key under which the object is encrypted."
                            : nobodyAllows(request, ledger));
        }
        if (granted == Truth.TRUE && access.denied() == Truth.FALSE) {
            String by = ledger.allows.isEmpty()
                    ? "the account's root user needs no policy."
                    : sources(ledger) + " allows it.";
            return new Decision(
                    Outcome.ALLOW,
                    !ledger.allows.isEmpty(),
                    "Allowed: " + by,
                    ledger.allows,
                    List.of(),
                    assumed(request, ledger),
                    ledger.steps());
        }
        return unknown(
                ledger,
                access.denied() == Truth.UNKNOWN
                        ? "Not known: something that was not settled could deny it."
                        : "Not known: what would allow it is not settled.");
    }

    private List<String> assumed(Request request, DecisionEvidence ledger) {
        List<String> assumes = new ArrayList<>();
        Optional<Account> home = homeOf(request.who());
        if (home.isPresent() && home.get().directory().organizationPolicies().isEmpty()) {
            assumes.add(NO_ORGANIZATION_POLICY);
        }
        assumes.addAll(ledger.assumes);
        return assumes;
    }

    private static String sources(DecisionEvidence ledger) {
        boolean byTrust = ledger.allows.get(0).path().startsWith("/AssumeRolePolicyDocument");
        return byTrust
                ? "the role's trust policy"
                : switch (ledger.allows.get(0).aspect()) {
                    case "bucket-policy" -> "the bucket policy";
                    case "bucket-acl" -> "the bucket's ACL";
                    case "object-acl" -> "the object's ACL";
                    case "key-policy" -> "the key policy";
                    case "iam-role", "iam-user", "iam-group", "iam-policy" -> "an identity-based policy";
                    default -> "a policy";
                };
    }

    private static Decision denied(DecisionEvidence ledger) {
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

    private static String nobodyAllows(Request request, DecisionEvidence ledger) {
        if (!ledger.limits.isEmpty()) {
            return "A grant exists, but " + ledger.limits.get(0).aspect() + " takes it back.";
        }
        return "No statement and no grant allows it to " + request.who().spelled() + ".";
    }

    private static Decision implicit(DecisionEvidence ledger, String says) {
        return new Decision(Outcome.DENY, false, says, ledger.limits, List.of(), List.of(), ledger.steps());
    }

    private static Decision unknown(DecisionEvidence ledger, String says) {
        List<Citation> because = new ArrayList<>(ledger.allows);
        because.addAll(ledger.limits);
        return new Decision(Outcome.UNKNOWN, false, says, because, ledger.needs, List.of(), ledger.steps());
    }
}
