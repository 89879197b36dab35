package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import warden.core.access.Truth;
import warden.core.algebra.Effort;
import warden.core.algebra.RequestSet;
import warden.core.algebra.TooComplexException;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.survey.Need;

/**
 * Who may work as a role under one trust policy and not under another: principals, services, and tokens by their claims.
 *
 * <p>Source: IAM User Guide, "How to use trust policies with IAM roles"; "IAM and AWS STS condition context keys".
 */
public final class TrustDifference {
    private static final long MOST_STEPS = 400_000;
    private static final String BY_PRINCIPAL = "sts:assumerole";
    private static final String BY_WEB_TOKEN = "sts:assumerolewithwebidentity";
    private static final String BY_ASSERTION = "sts:assumerolewithsaml";

    private final Side more;
    private final Side less;

    /** A role's trust in one state of its account. */
    public record Side(Reach reach, String roleArn, PolicyDocument trust) {}

    /**
     * Somebody who is let in on one side only.
     *
     * @param who a principal as questions spell it, or an identity provider's host
     * @param claims what a request carries that shows it, by condition key; a token's claims by their own names
     * @param because the statement that lets in
     */
    public record LetIn(String who, Map<String, String> claims, Statement because) {}

    /**
     * The answer.
     *
     * @param open what keeps from telling whether more is let in
     */
    public record Result(List<LetIn> letIn, List<Need> open) {}

    public TrustDifference(Side more, Side less) {
        this.more = more;
        this.less = less;
    }

    /** Returns whom the first side lets in and the second does not. */
    public Result find() {
        List<LetIn> letIn = new ArrayList<>();
        List<Need> open = new ArrayList<>();
        Map<String, Named> named = new LinkedHashMap<>();
        for (Statement statement : more.trust().statements()) {
            statement.principals().stream()
                    .flatMap(clause -> clause.elements().stream())
                    .forEach(element -> name(element).ifPresent(each -> named.putIfAbsent(each.who(), each)));
            if (statement.principals().filter(PrincipalClause::reachesEveryone).isPresent()) {
                Named everybody = principal(new Actor.AnyAccount());
                named.putIfAbsent(everybody.who(), everybody);
            }
        }
        for (Named each : named.values()) {
            try {
                Effort.apart(MOST_STEPS, () -> {
                    compare(each, letIn, open);
                    return true;
                });
            } catch (TooComplexException tooComplex) {
                open.add(new Need("iam-role", more.roleArn(), "too complex: " + tooComplex.getMessage(), ""));
            }
        }
        letIn.sort(Comparator.comparing(LetIn::who));
        return new Result(List.copyOf(letIn), List.copyOf(open));
    }

    /**
     * Somebody whom a trust policy names.
     *
     * @param means whether a statement's principals mean them, on a side
     */
    private record Named(String who, String action, Function<PrincipalClause, Function<Side, Truth>> means) {}

    private Optional<Named> name(PrincipalElement element) {
        if (element instanceof PrincipalElement.Federated federated) {
            return Optional.of(federated(federated.provider()));
        }
        if (element instanceof PrincipalElement.Account account) {
            return Optional.of(principal(new Actor.AccountRoot(account.account())));
        }
        if (element instanceof PrincipalElement.UserArn user) {
            return Optional.of(principal(new Actor.User(user.arn())));
        }
        if (element instanceof PrincipalElement.RoleArn role) {
            return Optional.of(principal(new Actor.Role(role.arn())));
        }
        if (element instanceof PrincipalElement.SessionArn session) {
            return Actor.parse(session.arn().toString()).map(TrustDifference::principal);
        }
        return element instanceof PrincipalElement.ServiceName service
                ? Optional.of(principal(new Actor.Service(service.name())))
                : Optional.empty();
    }

    private static Named principal(Actor actor) {
        return new Named(
                actor.spelled(),
                BY_PRINCIPAL,
                clause -> side -> clause.allows(
                                actor, side.reach().evaluator().account().canonicalIds())
                        .truth());
    }

    private static Named federated(String provider) {
        String host = host(provider);
        return new Named(host, provider.contains(":saml-provider/") ? BY_ASSERTION : BY_WEB_TOKEN, clause -> side -> {
            boolean names = clause.elements().stream()
                    .anyMatch(element -> element instanceof PrincipalElement.Everyone
                            || (element instanceof PrincipalElement.Federated other
                                    && host(other.provider()).equals(host)));
            return Truth.of(names != clause.negated());
        });
    }

    /** The provider's name alone, so that an account whose number is not known yet is no difference. */
    private static String host(String provider) {
        int at = Math.max(provider.indexOf(":oidc-provider/"), provider.indexOf(":saml-provider/"));
        return at < 0 ? provider : provider.substring(provider.indexOf('/', at) + 1);
    }

    private void compare(Named named, List<LetIn> letIn, List<Need> open) {
        StatementSets here = sets(more, named);
        StatementSets there = sets(less, named);
        Bounds ours = letIn(more, named, here);
        Bounds theirs = letIn(less, named, there);
        RequestSet certain = ours.certain().minus(theirs.possible());
        RequestSet possible = ours.possible().minus(theirs.certain());
        if (certain.isEmpty()) {
            if (!possible.isEmpty()) {
                open.add(
                        new Need("iam-role", more.roleArn(), "its trust hangs on conditions that are not settled", ""));
            }
            return;
        }
        Map<String, String> claims = certain.boxes().stream()
                .map(box -> WitnessFinder.plainContext(box, List.of(here, there)))
                .min(Comparator.<Map<String, String>>comparingInt(
                                context -> context.toString().length())
                        .thenComparing(context -> new TreeMap<>(context).toString()))
                .orElse(Map.of());
        Map<String, String> shown = new TreeMap<>();
        claims.forEach((key, value) -> shown.put(
                key.startsWith(named.who() + ":") ? key.substring(named.who().length() + 1) : key, value));
        more.trust().statements().stream()
                .filter(statement -> statement.effect() == Effect.ALLOW && !statement.isOpaque())
                .filter(statement -> statement
                        .principals()
                        .map(clause -> named.means().apply(clause).apply(more).isPossible())
                        .orElse(false))
                .findFirst()
                .ifPresent(statement -> letIn.add(new LetIn(named.who(), shown, statement)));
    }

    private static StatementSets sets(Side side, Named named) {
        return new StatementSets(
                side.roleArn(),
                named.action(),
                false,
                Context.empty().withDefaults(side.reach().evaluator().time()),
                new ResourceWork(side.reach().documents()));
    }

    private static Bounds letIn(Side side, Named named, StatementSets sets) {
        Bounds allowed = Bounds.NONE;
        Bounds denied = Bounds.NONE;
        for (Statement statement : side.trust().statements()) {
            if (statement.isOpaque()) {
                return Bounds.UNKNOWN;
            }
            Truth means = statement
                    .principals()
                    .map(clause -> named.means().apply(clause).apply(side))
                    .orElse(Truth.FALSE);
            Bounds matched = sets.meant(statement, means);
            if (statement.effect() == Effect.DENY) {
                denied = denied.union(matched);
            } else {
                allowed = allowed.union(matched);
            }
        }
        return allowed.minus(denied);
    }
}
