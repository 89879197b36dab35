package warden.core.aws.permission;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.access.Decision;
import warden.core.access.Truth;
import warden.core.algebra.Effort;
import warden.core.algebra.Effort.Remembered;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.TooComplexException;
import warden.core.aws.account.Account;
import warden.core.aws.catalogue.ActionCatalogue;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.aws.decision.AccessRules;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.identity.Holdings;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.ActionClause.ActionPattern;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.Statement;
import warden.core.aws.reach.Possibility;
import warden.core.aws.reach.Reach;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * What one user or role can do anywhere in its account, over all actions and resources: the rules of access weighed by sets of resources.
 * Single requests are confirmed by the decision engine.
 */
public final class EffectivePermissions {
    private static final Language OBJECTS = Language.matching(Glob.parse("arn:aws:s3:::?*/?*"));
    private static final Language BUCKETS =
            Language.matching(Glob.parse("arn:aws:s3:::?*")).minus(Language.matching(Glob.parse("arn:aws:s3:::*/*")));
    /** Access points, jobs and the like, whose ARNs name a region and an account. */
    private static final Language ELSEWHERE =
            Language.matching(Glob.parse("arn:aws:s3*:?*")).minus(Language.matching(Glob.parse("arn:aws:s3:::*")));

    private static final Language STAR = Language.of("*");
    private static final Language ALL_OF_IAM = Language.matching(Glob.parse("iam:*"));
    private static final Language ALL_OF_STORAGE = Language.matching(Glob.parse("s3:*"));
    /** Resources are tried one of each kind that the statements tell apart; more kinds than these are too many. */
    private static final int MOST_KINDS = 60;

    private final Account account;
    private final Evaluator evaluator;
    private final Reach reach;
    private final Principal principal;
    private final Actor actor;
    private final Context context;
    private final List<HeldPolicy> organization = new ArrayList<>();
    /** The statements of its own policies, in the order of the policies. */
    private final List<Statement> identity;
    /** All statements that limit or empower it. */
    private final List<Statement> all;
    /** Most actions are spoken of by the same statements as many others, and are then allowed on the same resources. */
    private final Map<String, Remembered<Reached>> granted = new ConcurrentHashMap<>();

    private final Map<String, Remembered<Reached>> grantedByName = new ConcurrentHashMap<>();
    private final Map<Overlap, Boolean> overlaps = new ConcurrentHashMap<>();
    private @Nullable List<ServiceAction> candidates;

    /** Two sets of resources; the same objects for the same question. */
    private record Overlap(Language allowed, Language kind) {}

    public EffectivePermissions(Reach reach, Principal principal) {
        this.reach = reach;
        this.evaluator = reach.evaluator();
        this.account = evaluator.account();
        this.principal = principal;
        this.actor = principal.isRole() ? new Actor.Role(principal.arn()) : new Actor.User(principal.arn());
        this.context = evaluator
                .withFacts(new Request(actor, "iam:GetUser", "*", Context.empty()))
                .withDefaults(evaluator.time())
                .whereUnknown(key -> true);
        account.directory().organizationPolicies().stream()
                .map(Reading::found)
                .flatMap(Optional::stream)
                .forEach(organization::add);
        Holdings holdings = principal.holdings();
        this.identity = statements(holdings.policies().stream());
        this.all = statements(Stream.concat(
                Stream.concat(holdings.policies().stream(), holdings.boundary().stream()), organization.stream()));
    }

    private static List<Statement> statements(Stream<HeldPolicy> policies) {
        return policies.flatMap(policy -> policy.document().statements().stream())
                .toList();
    }

    public Principal principal() {
        return principal;
    }

    Actor actor() {
        return actor;
    }

    Account account() {
        return account;
    }

    Reach reach() {
        return reach;
    }

    /** Returns what keeps from telling all that it may do: what could not be read of its policies and of its organization's. */
    public List<Need> missing() {
        Holdings holdings = principal.holdings();
        List<Need> needs = new ArrayList<>(holdings.missing());
        holdings.boundaryMissing().ifPresent(needs::add);
        boolean opaque = Stream.concat(holdings.policies().stream(), holdings.boundary().stream())
                .anyMatch(policy -> policy.document().isPartlyOpaque());
        if (opaque) {
            needs.add(new Need(
                    principal.aspect(),
                    principal.arn().toString(),
                    "one of its policies is not one that the provider accepts",
                    ""));
        }
        holdings.boundary()
                .filter(policy -> !policy.speaksFor().isEmpty())
                .ifPresent(policy -> needs.add(new Need(
                        "iam-policy",
                        policy.name(),
                        "the built-in copy holds some services only",
                        "iam:GetAccountAuthorizationDetails")));
        needs.addAll(account.directory().unreadOrganization());
        return needs;
    }

    /** Returns the resources on which its own policies, all limits counted, allow the action, given in any case. */
    public Reached granted(String action) {
        demandWeighable();
        return grantedByName.computeIfAbsent(action, this::remembered).use();
    }

    private Remembered<Reached> remembered(String action) {
        String name = action.toLowerCase(Locale.ROOT);
        StringBuilder spoken = new StringBuilder();
        all.forEach(statement ->
                spoken.append(statement.isOpaque() || statement.actions().covers(name) ? '1' : '0'));
        Stream.concat(principal.holdings().policies().stream(), principal.holdings().boundary().stream())
                .forEach(policy -> spoken.append(policy.speaksFor(name)));
        return granted.computeIfAbsent(spoken.toString(), same -> Effort.remember(() -> byIdentity(name)));
    }

    /** Fails at once where the policies are known to be too complex, instead of after the bound of each question. */
    private void demandWeighable() {
        reach.tooComplex(actor).ifPresent(need -> {
            throw new TooComplexException(need.why().replaceFirst("^too complex: ", ""));
        });
    }

    private AccessRules<Reached> rules(String lowerCaseAction) {
        return evaluator.rules(actor, lowerCaseAction, new ResourcesOfAction(account, actor, lowerCaseAction, context));
    }

    private Reached byIdentity(String lowerCaseAction) {
        return rules(lowerCaseAction).side().map(EffectivePermissions::left).orElse(Reached.UNKNOWN);
    }

    private static Reached left(AccessRules.Side<Reached> side) {
        return side.allowed()
                .intersect(side.bounded())
                .intersect(side.organization())
                .minus(side.denied());
    }

    /**
     * Returns the resources on which the action may be allowed by whatever grants it: its own policies, and those of buckets, keys and
     * roles of the account.
     */
    public Reached anywhere(String action) {
        String name = action.toLowerCase(Locale.ROOT);
        Reached anywhere = granted(name);
        AccessRules<Reached> rules = rules(name);
        if (name.startsWith("s3:")) {
            for (Bucket bucket : reach.openToPrincipals()) {
                Language own = Language.of(bucket.arn()).union(Language.beginning(bucket.arn() + "/"));
                anywhere = anywhere.union(rules.allowed(rules.inBucket(bucket)).intersect(Reached.exactly(own)));
            }
        } else if (name.startsWith("sts:assumerole") || name.startsWith("kms:")) {
            boolean onKeys = name.startsWith("kms:");
            List<String> others = onKeys
                    ? List.copyOf(account.survey().subjects("key-policy"))
                    : account.directory().principals().stream()
                            .filter(Principal::isRole)
                            .map(role -> role.arn().toString())
                            .toList();
            for (String other : others) {
                anywhere = anywhere.union(ofPolicyOn(other, name, Language.of(other)));
            }
            // What the survey does not name may be open all the same.
            String rest = onKeys
                    ? "arn:aws:kms:*:" + account.number() + ":key/*"
                    : "arn:aws:iam::" + account.number() + ":role/*";
            Language unnamed = Language.matching(Glob.parse(rest)).minus(Language.of(others));
            anywhere = anywhere.union(ofPolicyOn(rest, name, unnamed));
        }
        return anywhere;
    }

    /**
     * Returns what a key's or a role's own policy gives.
     *
     * @param resources for which the same is said
     */
    private Reached ofPolicyOn(String resource, String action, Language resources) {
        AccessRules<Reached> rules = rules(action);
        Request request = new Request(actor, action, resource, context);
        return rules.allowed(evaluator.outsideStorage(request, action, rules)).intersect(Reached.exactly(resources));
    }

    /**
     * Returns whether it can do everything: its own policies allow every action on every resource, and no boundary, organization or deny
     * takes away the powers over identities and storage. Unknown where that hangs on a condition, or on something unread.
     */
    public Truth isAdmin() {
        demandWeighable();
        AccessRules<Reached> rules = evaluator.rules(actor, "iam:createuser", new ActionsEverywhere(context));
        AccessRules.Side<Reached> side = rules.side().orElseThrow();
        Reached left = left(side);
        if (side.allowed().certain().isEverything() && holdsPowers(left.certain())) {
            return Truth.TRUE;
        }
        return side.allowed().possible().isEverything() && holdsPowers(left.possible()) ? Truth.UNKNOWN : Truth.FALSE;
    }

    private static boolean holdsPowers(Language actions) {
        return ALL_OF_IAM.isSubsetOf(actions) && ALL_OF_STORAGE.isSubsetOf(actions);
    }

    /** Returns the catalogued actions that are allowed on some resource of their kind, in alphabetical order. */
    public List<ServiceAction> actions() {
        return candidates().filter(this::isAllowed).toList();
    }

    /** Returns the catalogued actions that are, or may be, allowed on something, in alphabetical order. */
    List<ServiceAction> possibleActions() {
        return candidates()
                .filter(action -> !granted(action.name()).possible().isEmpty())
                .toList();
    }

    /** Returns the catalogued actions that its own policies name where they allow, each once, in alphabetical order. */
    private synchronized Stream<ServiceAction> candidates() {
        if (candidates == null) {
            candidates = List.copyOf(namedActions());
        }
        return candidates.stream();
    }

    private Collection<ServiceAction> namedActions() {
        ActionCatalogue catalogue = ActionCatalogue.shipped();
        Map<String, ServiceAction> named = new TreeMap<>();
        for (Statement statement : identity) {
            if (statement.isOpaque()) {
                continue;
            }
            if (statement.mayAllow() && statement.actions().negated()) {
                return catalogue.all();
            }
            if (statement.mayAllow()) {
                statement.actions().patterns().forEach(pattern -> catalogue
                        .matching(pattern.glob())
                        .forEach(action -> named.put(action.lowerCaseName(), action)));
            }
        }
        return named.values();
    }

    private boolean isAllowed(ServiceAction action) {
        Language allowed = granted(action.name()).certain();
        return !allowed.isEmpty()
                && overlaps.computeIfAbsent(new Overlap(allowed, resourcesOf(action)), overlap -> !overlap.allowed()
                        .isDisjointFrom(overlap.kind()));
    }

    /** Spells on what an action is allowed: {@code *}, or one resource of its kind. */
    public String example(ServiceAction action) {
        Language allowed = granted(action.name()).certain();
        return allowed.isEverything()
                ? "*"
                : allowed.intersect(resourcesOf(action)).witness().orElse("*");
    }

    /** Returns the ARNs of the kind of resource that an action is asked of. Source: Service Authorization Reference, "Resource types". */
    static Language resourcesOf(ServiceAction action) {
        if (action.resourceType().equals("*")) {
            return STAR;
        }
        if (!action.service().equals("s3")) {
            return Language.all();
        }
        return switch (action.resourceType()) {
            case "bucket" -> BUCKETS;
            case "object" -> OBJECTS;
            default -> ELSEWHERE;
        };
    }

    /**
     * Returns the prefixes of the services in which something is allowed, as the policies name them; {@code *} for all. What a boundary, the
     * organization or a deny takes away as a whole is not among them.
     */
    public Set<String> services() {
        Set<String> services = namedServices(identity);
        Set<String> effective = candidates()
                .filter(action -> !granted(action.name()).certain().isEmpty())
                .map(ServiceAction::service)
                .collect(Collectors.toSet());
        Set<String> catalogued = ActionCatalogue.shipped().services();
        List<List<Statement>> limits = limits();
        Language left = actionsLeft(limits);
        // Of a star the limits that name services leave those; the others leave it, if there is any service beside the
        // catalogued.
        List<Set<String>> naming = limits.stream()
                .map(EffectivePermissions::namedServices)
                .filter(named -> !named.contains("*"))
                .toList();
        if (services.contains("*") && (!naming.isEmpty() || isAllOf(catalogued, left))) {
            services.remove("*");
            services.addAll(effective);
            naming.forEach(services::addAll);
        }
        services.removeIf(service -> catalogued.contains(service)
                ? !effective.contains(service)
                : !service.equals("*") && left.isDisjointFrom(allOf(service)));
        return services;
    }

    private static boolean isAllOf(Set<String> services, Language actions) {
        return services.stream()
                .map(EffectivePermissions::allOf)
                .reduce(actions, Language::minus)
                .isEmpty();
    }

    private static Language allOf(String service) {
        return Language.beginning(service.toLowerCase(Locale.ROOT) + ":");
    }

    /** Returns the statements of each policy, or set of policies, that must allow too: the boundary, and the organization's. */
    private List<List<Statement>> limits() {
        List<List<Statement>> limits = new ArrayList<>();
        principal
                .holdings()
                .boundary()
                .filter(policy -> policy.speaksFor().isEmpty())
                .map(policy -> policy.document().statements())
                .ifPresent(limits::add);
        if (!organization.isEmpty()
                && account.directory().organizationMayAllow()
                && account.directory().unreadOrganization().isEmpty()) {
            limits.add(statements(organization.stream()));
        }
        return limits;
    }

    /** Returns the names of the actions, in lower case, that are allowed on something, and by every limit, and not denied everywhere. */
    private Language actionsLeft(List<List<Statement>> limits) {
        Language left = allowedActions(identity);
        for (List<Statement> limit : limits) {
            left = left.intersect(allowedActions(limit));
        }
        for (Statement statement : all) {
            boolean everywhere = statement
                    .resources()
                    .map(clause -> clause.language(context, Language.none()).isEverything())
                    .orElse(true);
            if (!statement.isOpaque()
                    && statement.effect() == Effect.DENY
                    && everywhere
                    && ResourcesOfAction.conditions(statement, context) == Truth.TRUE) {
                left = left.minus(statement.actions().language());
            }
        }
        return left;
    }

    private static Language allowedActions(List<Statement> statements) {
        Language allowed = Language.none();
        for (Statement statement : statements) {
            if (statement.isOpaque()) {
                return Language.all();
            }
            allowed = statement.mayAllow() ? allowed.union(statement.actions().language()) : allowed;
        }
        return allowed;
    }

    /** Returns the prefixes of the services that policies name where they allow, in alphabetical order; {@code *} for all. */
    private static Set<String> namedServices(List<Statement> statements) {
        Set<String> services = new TreeSet<>();
        for (Statement statement : statements) {
            if (statement.isOpaque() || !statement.mayAllow()) {
                continue;
            }
            if (statement.actions().negated()) {
                services.add("*");
                continue;
            }
            for (ActionPattern pattern : statement.actions().patterns()) {
                String service = pattern.service();
                services.add(service.isEmpty() || service.contains("*") || service.contains("?") ? "*" : service);
            }
        }
        return services;
    }

    /** Returns the first statement that allows the action, to show where it comes from. */
    public Citation cite(String action) {
        String lower = action.toLowerCase(Locale.ROOT);
        for (HeldPolicy policy : principal.holdings().policies()) {
            for (Statement statement : policy.document().statements()) {
                if (!statement.isOpaque()
                        && statement.mayAllow()
                        && statement.actions().covers(lower)) {
                    return policy.cite(statement);
                }
            }
        }
        return principal.at();
    }

    /**
     * Tells whether some request with the action is allowed for a resource of a kind.
     *
     * @param kind the resources that count
     * @param preferred resources to try first, since they exist
     * @param carried what the request carries beside the usual, by condition key
     */
    public Possibility can(
            String action,
            Supplier<Language> kind,
            Supplier<List<String>> preferred,
            Map<String, ContextValue> carried) {
        Language left = anywhere(action).possible();
        if (left.isEmpty()) {
            return new Possibility.Never();
        }
        left = left.intersect(kind.get());
        Set<String> tries = new LinkedHashSet<>();
        if (left.contains("*")) {
            tries.add("*");
        }
        preferred.get().stream().filter(left::contains).forEach(tries::add);
        List<Need> needs = new ArrayList<>();
        Iterator<String> existing = tries.iterator();
        // After those that exist, one of each kind of resources that the statements tell apart.
        for (int kinds = 0; existing.hasNext() || (!hasOwnPolicies(action) && !left.isEmpty()); kinds++) {
            String resource =
                    existing.hasNext() ? existing.next() : left.witness().orElseThrow();
            if (!left.contains(resource)) {
                continue;
            }
            if (kinds == MOST_KINDS) {
                needs.add(new Need(
                        principal.aspect(),
                        principal.arn().toString(),
                        "too complex: its policies tell too many kinds of resources apart",
                        ""));
                break;
            }
            Possibility here = can(action, resource, carried);
            if (here instanceof Possibility.Allowed) {
                return here;
            }
            if (here instanceof Possibility.Open open) {
                needs.addAll(open.needs());
            }
            left = left.minus(kindOf(action, resource));
        }
        return needs.isEmpty()
                ? new Possibility.Never()
                : new Possibility.Open(needs.stream().distinct().toList());
    }

    /** True for actions on keys and roles, whose own policies decide; of those that do not exist nothing can be said. */
    private static boolean hasOwnPolicies(String action) {
        String name = action.toLowerCase(Locale.ROOT);
        return name.startsWith("sts:") || name.startsWith("kms:");
    }

    private Possibility can(String action, String resource, Map<String, ContextValue> carried) {
        Map<String, ContextValue> overTls = new HashMap<>(carried);
        overTls.putIfAbsent("aws:SecureTransport", ContextValue.Known.of("true"));
        return reach.can(actor, action, resource, overTls);
    }

    /** Returns the resources that no statement about the action tells apart from this one. */
    private Language kindOf(String action, String resource) {
        if (hasOwnPolicies(action)) {
            return Language.of(resource);
        }
        Language kind = alike(Language.all(), all, action, resource);
        Optional<Bucket> bucket = Bucket.nameIn(resource).map(account::bucket);
        if (bucket.isEmpty()) {
            return kind;
        }
        Optional<String> key = Bucket.keyIn(resource);
        if (key.isEmpty() || bucket.get().keysWith("object-acl").contains(key.get())) {
            return Language.of(resource);
        }
        Language objects = Language.beginning(bucket.get().arn() + "/")
                .minus(Language.of(bucket.get().keysWith("object-acl").stream()
                        .map(bucket.get()::object)
                        .toList()));
        List<Statement> own =
                bucket.get().policy().found().map(policy -> policy.statements()).orElse(List.of());
        return alike(kind.intersect(objects), own, action, resource);
    }

    private Language alike(Language within, List<Statement> statements, String action, String resource) {
        Language kind = within;
        String name = action.toLowerCase(Locale.ROOT);
        for (Statement statement : statements) {
            if (!statement.isOpaque()
                    && statement.resources().isPresent()
                    && statement.actions().covers(name)) {
                Language covered = statement.resources().get().language(context, Language.none());
                kind = covered.contains(resource) ? kind.intersect(covered) : kind.minus(covered);
            }
        }
        return kind.union(Language.of(resource));
    }

    /**
     * Decides a request as a deployment makes it: over TLS, from where and when is not known.
     *
     * @param more what else it carries
     */
    public Decision asDeployment(String action, String resource, Map<String, ContextValue> more) {
        Map<String, ContextValue> carried = new HashMap<>();
        openKeys(resource).forEach(key -> carried.put(key, ContextValue.UNKNOWN));
        carried.put("aws:securetransport", ContextValue.Known.of("true"));
        more.forEach((key, value) -> carried.put(key.toLowerCase(Locale.ROOT), value));
        return evaluator.decide(new Request(actor, action, resource, Context.given(carried)));
    }

    /** Returns the keys that policies ask about and that depend on where and when the deployment runs. */
    private Set<String> openKeys(String resource) {
        Set<String> keys = new TreeSet<>();
        Stream<Statement> statements = Stream.concat(
                all.stream(),
                Bucket.nameIn(resource)
                        .flatMap(name -> account.bucket(name).policy().found())
                        .stream()
                        .flatMap(policy -> policy.statements().stream()));
        statements
                .flatMap(statement -> statement.conditions().stream())
                .map(Condition::lowerCaseKey)
                .filter(key -> Evaluator.isTag(key)
                        || key.startsWith("aws:")
                                && !key.startsWith("aws:principal")
                                && !key.startsWith("aws:resource"))
                .filter(key -> !key.equals("aws:username") && !context.settles(key))
                .forEach(keys::add);
        return keys;
    }
}
