package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import warden.core.access.Ability;
import warden.core.access.Truth;
import warden.core.aws.account.Account;
import warden.core.aws.decision.AclSide;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.ResourceClause;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;

/**
 * The buckets that come into question for a user or role of the account: those that its own policies name, and those that something of their
 * own opens. It keeps questions about every user and every bucket from growing with the product of the two.
 */
final class Candidates {
    private static final List<String> ACTIONS = List.of("s3:putobject", "s3:deleteobject", "s3:deleteobjectversion");

    private static final Pattern OPEN = Pattern.compile("[*?$]");
    private static final Pattern MAYBE_STORAGE = Pattern.compile("(arn:(aws|\\*|\\?)[^:]*:(s3|.*[*?].*):.*|\\*.*)");

    private final Account account;
    private final Map<String, Integer> order = new HashMap<>();
    private final List<Bucket> openToOthers = new ArrayList<>();

    Candidates(Account account) {
        this.account = account;
        for (Bucket bucket : account.buckets()) {
            order.put(bucket.arn(), order.size());
            if (mayBeOpen(bucket, Candidates::namesWriters)) {
                openToOthers.add(bucket);
            }
        }
    }

    /** True when something of the bucket itself may open it to users or roles. */
    static boolean mayBeOpen(Bucket bucket) {
        return mayBeOpen(bucket, Candidates::namesUsers);
    }

    private static boolean mayBeOpen(Bucket bucket, Predicate<Statement> opens) {
        if (AclSide.inForce(bucket) != Truth.FALSE || bucket.policy().isUnread()) {
            return true;
        }
        Optional<PolicyDocument> policy = bucket.policy().found();
        return policy.isPresent()
                && (policy.get().isOpaque()
                        || policy.get().statements().stream().anyMatch(opens));
    }

    private static boolean namesUsers(Statement statement) {
        boolean toServices = statement
                .principals()
                .filter(clause -> !clause.negated()
                        && clause.elements().stream()
                                .allMatch(element -> element instanceof PrincipalElement.ServiceName
                                        || element instanceof PrincipalElement.OriginAccessIdentity))
                .isPresent();
        return statement.isOpaque() || (statement.mayAllow() && !toServices);
    }

    private static boolean namesWriters(Statement statement) {
        return namesUsers(statement) && (statement.isOpaque() || covers(statement));
    }

    private static boolean covers(Statement statement) {
        return ACTIONS.stream().anyMatch(statement.actions()::covers);
    }

    /** Returns the buckets in which the principal may be able to write or delete, in the order of the account. */
    List<Bucket> of(Principal principal) {
        Optional<Set<String>> named = named(principal);
        if (named.isEmpty()) {
            return account.buckets();
        }
        Set<Bucket> buckets = new LinkedHashSet<>(openToOthers);
        named.get().stream()
                .map(account::bucket)
                .filter(bucket -> order.containsKey(bucket.arn()))
                .forEach(buckets::add);
        return buckets.stream()
                .sorted(java.util.Comparator.comparing(bucket -> order.get(bucket.arn())))
                .toList();
    }

    /**
     * Returns the buckets of this account in which a principal of another one may be able to write or delete: something of the bucket's own must
     * open it, and the principal's policies must speak of it. Source: IAM User Guide, "Cross-account policy evaluation logic".
     */
    List<Bucket> ofOutsider(Principal principal) {
        Optional<Set<String>> named = named(principal);
        return openToOthers.stream()
                .filter(bucket -> named.isEmpty() || named.get().contains(bucket.name()))
                .toList();
    }

    /** True unless neither the principal's own policies speak of the bucket nor anything of its own opens it: then it may do nothing there. */
    static boolean mayConcern(Principal principal, Bucket bucket) {
        return mayBeOpen(bucket)
                || named(principal, Candidates::concernsBuckets)
                        .map(names -> names.contains(bucket.name()))
                        .orElse(true);
    }

    /**
     * True for a user or role whose own policies neither speak of the bucket, nor deny anything, nor are bounded: what it may do there hangs on the
     * bucket's documents alone.
     */
    static boolean isNobodyInParticular(Principal principal, Bucket bucket) {
        boolean denies = principal.holdings().policies().stream()
                .map(HeldPolicy::document)
                .anyMatch(document -> document.isPartlyOpaque()
                        || document.statements().stream()
                                .anyMatch(statement -> statement.isOpaque() || !statement.mayAllow()));
        return !denies
                && principal.holdings().boundary().isEmpty()
                && named(principal, Candidates::concernsBuckets)
                        .filter(names -> !names.contains(bucket.name()))
                        .isPresent();
    }

    /** Every action of an ability, in lower case. */
    private static final List<String> ABILITIES = Stream.of(Ability.values())
            .flatMap(ability -> AbilityActions.of(ability).all().stream())
            .map(action -> action.toLowerCase(Locale.ROOT))
            .distinct()
            .toList();

    private static boolean concernsBuckets(Statement statement) {
        return ABILITIES.stream().anyMatch(statement.actions()::covers);
    }

    private static Optional<Set<String>> named(Principal principal) {
        return named(principal, Candidates::covers);
    }

    /** Returns the names of the buckets that some statements of the principal's policies speak of; absent when they may speak of any. */
    private static Optional<Set<String>> named(Principal principal, Predicate<Statement> counts) {
        if (!principal.holdings().missing().isEmpty()) {
            return Optional.empty();
        }
        Set<String> names = new LinkedHashSet<>();
        List<Statement> statements = principal.holdings().policies().stream()
                .flatMap(policy ->
                        policy.document().isOpaque() ? Stream.empty() : policy.document().statements().stream())
                .toList();
        boolean opaque = principal.holdings().policies().stream()
                .map(HeldPolicy::document)
                .anyMatch(PolicyDocument::isPartlyOpaque);
        for (Statement statement : statements) {
            if (statement.isOpaque() || !statement.mayAllow() || !counts.test(statement)) {
                continue;
            }
            Optional<ResourceClause> clause = statement.resources();
            if (clause.isEmpty() || clause.get().negated()) {
                return Optional.empty();
            }
            for (ResourceClause.ResourcePattern pattern : clause.get().patterns()) {
                Optional<String> name = Bucket.nameIn(pattern.text());
                boolean plain = name.filter(text -> !OPEN.matcher(text).find()).isPresent();
                if (!plain && MAYBE_STORAGE.matcher(pattern.text()).matches()) {
                    return Optional.empty();
                }
                if (plain) {
                    names.add(name.get());
                }
            }
        }
        return opaque ? Optional.empty() : Optional.of(names);
    }
}
