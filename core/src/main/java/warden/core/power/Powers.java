package warden.core.power;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
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
import warden.core.account.Account;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.catalogue.ActionCatalogue;
import warden.core.catalogue.ServiceAction;
import warden.core.decision.Decision;
import warden.core.decision.Evaluator;
import warden.core.decision.Request;
import warden.core.identity.HeldPolicy;
import warden.core.identity.Holdings;
import warden.core.identity.Principal;
import warden.core.policy.ActionClause.ActionPattern;
import warden.core.policy.Actor;
import warden.core.policy.Condition;
import warden.core.policy.Context;
import warden.core.policy.ContextValue;
import warden.core.policy.ResourceClause;
import warden.core.policy.Statement;
import warden.core.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * What the identity-based policies of one user or role allow, over all actions and resources: never less than what they do, since conditions
 * of allows are taken to hold and those of denies not to. Single requests are confirmed by the decision engine.
 */
public final class Powers {
    private static final Language OBJECTS = Language.matching(Glob.parse("arn:aws:s3:::?*/?*"));
    private static final Language BUCKETS =
            Language.matching(Glob.parse("arn:aws:s3:::?*")).minus(Language.matching(Glob.parse("arn:aws:s3:::*/*")));
    /** Access points, jobs and the like, whose ARNs name a region and an account. */
    private static final Language ELSEWHERE =
            Language.matching(Glob.parse("arn:aws:s3*:?*")).minus(Language.matching(Glob.parse("arn:aws:s3:::*")));

    private static final Language STAR = Language.of("*");

    private final Account account;
    private final Evaluator evaluator;
    private final Principal principal;
    private final Actor actor;
    private final List<HeldPolicy> organization = new ArrayList<>();
    /** The statements that may say something about an action, in the order of their policies. */
    private final List<Statement> identity;

    private final Optional<List<Statement>> boundary;
    private final List<Statement> organizationStatements;
    private final List<Statement> all;
    /** Most actions are covered by the same statements as many others, and are then allowed on the same resources. */
    private final Map<BitSet, Language> resources = new ConcurrentHashMap<>();

    private final Map<Overlap, Boolean> overlaps = new ConcurrentHashMap<>();

    /** Two sets of resources; the same objects for the same question. */
    private record Overlap(Language allowed, Language kind) {}

    public Powers(Evaluator evaluator, Principal principal) {
        this.evaluator = evaluator;
        this.account = evaluator.account();
        this.principal = principal;
        this.actor = principal.isRole() ? new Actor.Role(principal.arn()) : new Actor.User(principal.arn());
        account.directory().organizationPolicies().stream()
                .map(Reading::found)
                .flatMap(Optional::stream)
                .forEach(organization::add);
        this.identity = statements(principal.holdings().policies());
        this.boundary = principal.holdings().boundary().map(policy -> statements(List.of(policy)));
        this.organizationStatements = statements(organization);
        this.all = new ArrayList<>(identity);
        boundary.ifPresent(all::addAll);
        all.addAll(organizationStatements);
    }

    private static List<Statement> statements(List<HeldPolicy> policies) {
        return policies.stream()
                .flatMap(policy -> policy.document().statements().stream())
                .filter(statement -> !statement.isOpaque())
                .toList();
    }

    public Principal principal() {
        return principal;
    }

    /** Returns what could not be read of its policies. */
    public List<Need> missing() {
        Holdings holdings = principal.holdings();
        List<Need> needs = new ArrayList<>(holdings.missing());
        holdings.boundaryMissing().ifPresent(needs::add);
        boolean opaque = Stream.concat(holdings.policies().stream(), holdings.boundary().stream())
                .anyMatch(policy -> policy.document().isPartlyOpaque());
        if (opaque) {
            needs.add(new Need(
                    principal.isRole() ? "iam-role" : "iam-user",
                    principal.arn().toString(),
                    "one of its policies is not one that the provider accepts",
                    ""));
        }
        return needs;
    }

    /** Returns the resources on which the action, given in any case, may be allowed. */
    public Language resources(String action) {
        String name = action.toLowerCase(Locale.ROOT);
        BitSet covering = new BitSet();
        for (int i = 0; i < all.size(); i++) {
            covering.set(i, all.get(i).actions().covers(name));
        }
        return resources.computeIfAbsent(covering, this::allowed);
    }

    /** Returns the resources on which an action is allowed that these statements cover, and no others. */
    private Language allowed(BitSet covering) {
        int end = identity.size();
        Language allowed = allowed(covering, 0, end);
        if (boundary.isPresent()) {
            int begin = end;
            end += boundary.get().size();
            allowed = allowed.intersect(allowed(covering, begin, end));
        }
        if (!organization.isEmpty()) {
            allowed = allowed.intersect(allowed(covering, end, all.size()));
        }
        for (int i = covering.nextSetBit(0); i >= 0 && !allowed.isEmpty(); i = covering.nextSetBit(i + 1)) {
            Statement statement = all.get(i);
            boolean surely = statement.mayDeny() && statement.conditions().isEmpty();
            allowed = surely ? allowed.minus(covered(statement, Language.none())) : allowed;
        }
        return allowed;
    }

    private Language allowed(BitSet covering, int begin, int end) {
        Language allowed = Language.none();
        for (int i = covering.nextSetBit(begin); i >= 0 && i < end; i = covering.nextSetBit(i + 1)) {
            Statement statement = all.get(i);
            allowed = statement.mayAllow() ? allowed.union(covered(statement, Language.all())) : allowed;
        }
        return allowed;
    }

    private Language covered(Statement statement, Language open) {
        Context context = evaluator.withFacts(new Request(actor, "iam:GetUser", "*", Context.empty()));
        return statement
                .resources()
                .map((ResourceClause clause) -> clause.language(context, open))
                .orElse(Language.all());
    }

    /** Returns the catalogued actions that are allowed on some resource of their kind, in alphabetical order. */
    public List<ServiceAction> actions() {
        return candidates().filter(this::isAllowed).toList();
    }

    /** Returns the catalogued actions that its own policies name where they allow, each once, in alphabetical order. */
    private Stream<ServiceAction> candidates() {
        ActionCatalogue catalogue = ActionCatalogue.shipped();
        Map<String, ServiceAction> named = new TreeMap<>();
        for (Statement statement : identity) {
            if (statement.mayAllow() && statement.actions().negated()) {
                return catalogue.all().stream();
            }
            if (statement.mayAllow()) {
                statement.actions().patterns().forEach(pattern -> catalogue
                        .matching(pattern.glob())
                        .forEach(action -> named.put(action.lowerCaseName(), action)));
            }
        }
        return named.values().stream();
    }

    private boolean isAllowed(ServiceAction action) {
        Language allowed = resources(action.name());
        return !allowed.isEmpty()
                && overlaps.computeIfAbsent(new Overlap(allowed, resourcesOf(action)), overlap -> !overlap.allowed()
                        .isDisjointFrom(overlap.kind()));
    }

    /** Spells on what an action is allowed: {@code *}, or one resource of its kind. */
    public String example(ServiceAction action) {
        Language allowed = resources(action.name());
        return allowed.isEverything()
                ? "*"
                : allowed.intersect(resourcesOf(action)).witness().orElse("*");
    }

    /** Returns the ARNs of the kind of resource that an action is asked of. Source: Service Authorization Reference, "Resource types". */
    private static Language resourcesOf(ServiceAction action) {
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

    /** Returns the prefixes of the services in which something is allowed, as the policies name them; {@code *} for all. */
    public Set<String> services() {
        Set<String> services = namedServices();
        Set<String> effective = candidates()
                .filter(action -> !resources(action.name()).isEmpty())
                .map(ServiceAction::service)
                .collect(Collectors.toSet());
        services.removeIf(
                service -> ActionCatalogue.shipped().services().contains(service) && !effective.contains(service));
        return services;
    }

    /** Returns the prefixes of the services that its own policies name where they allow, in alphabetical order; {@code *} for all. */
    private Set<String> namedServices() {
        Set<String> services = new TreeSet<>();
        for (Statement statement : identity) {
            if (!statement.mayAllow()) {
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

    /** A request that the decision engine allows. */
    public record Confirmed(Request request, Decision decision) {}

    /**
     * Finds a request for a resource of this kind that is allowed.
     *
     * @param kind the resources that count
     * @param preferred resources to try first, since they exist
     * @param context what the request carries beside the usual
     */
    public Optional<Confirmed> can(
            String action,
            Supplier<Language> kind,
            Supplier<List<String>> preferred,
            Map<String, ContextValue> context) {
        if (resources(action).isEmpty()) {
            return Optional.empty();
        }
        Language within = resources(action).intersect(kind.get());
        Set<String> tries = new LinkedHashSet<>();
        if (within.contains("*")) {
            tries.add("*");
        }
        preferred.get().stream().filter(within::contains).limit(5).forEach(tries::add);
        within.witness().ifPresent(tries::add);
        Map<String, ContextValue> carried = new HashMap<>(context);
        carried.putIfAbsent("aws:SecureTransport", ContextValue.Known.of("true"));
        for (String resource : tries) {
            Request request = new Request(actor, action, resource, Context.given(carried));
            Decision decision = evaluator.decide(request);
            if (decision.outcome() == Decision.Outcome.ALLOW || hangsOnResourceOnly(decision, action)) {
                return Optional.of(new Confirmed(request, decision));
            }
        }
        return Optional.empty();
    }

    /** What the caller makes, a function say, has a policy of its own only once the caller gave it one. */
    private static boolean hangsOnResourceOnly(Decision decision, String action) {
        String service = action.substring(0, action.indexOf(':'));
        return decision.outcome() == Decision.Outcome.UNKNOWN
                && !decision.needs().isEmpty()
                && decision.needs().stream().allMatch(need -> need.aspect().equals(service));
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
        Stream<HeldPolicy> own = Stream.concat(
                Stream.concat(principal.holdings().policies().stream(), principal.holdings().boundary().stream()),
                organization.stream());
        Stream<Statement> statements = Stream.concat(
                own.flatMap(policy -> policy.document().statements().stream()),
                Bucket.nameIn(resource)
                        .flatMap(name -> account.bucket(name).policy().found())
                        .stream()
                        .flatMap(policy -> policy.statements().stream()));
        statements
                .flatMap(statement -> statement.conditions().stream())
                .map(Condition::lowerCaseKey)
                .filter(key ->
                        key.startsWith("aws:") && !key.startsWith("aws:principal") && !key.startsWith("aws:resource"))
                .filter(key -> !key.equals("aws:username"))
                .forEach(keys::add);
        return keys;
    }
}
