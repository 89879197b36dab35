package warden.core.aws.permission;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import warden.core.access.Truth;
import warden.core.algebra.Language;
import warden.core.aws.account.Account;
import warden.core.aws.decision.AclSide;
import warden.core.aws.decision.Request;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;

/**
 * Weighs the rules by sets of resources: those for which some request of one caller with one action is allowed. Conditions that a request may
 * meet count as met in an allow and as avoided in a deny, so that the set is never smaller than what single requests can do; what was not
 * read keeps it from being certain.
 */
final class ResourcesOfAction extends ReachedWeighing {
    private final Account account;
    private final Actor who;
    private final String action;
    private final Context context;

    /**
     * Makes ready.
     *
     * @param action in lower case
     * @param context what is known of every request of the caller; all else may be carried with any value
     */
    ResourcesOfAction(Account account, Actor who, String action, Context context) {
        this.account = account;
        this.who = who;
        this.action = action;
        this.context = context;
    }

    @Override
    public boolean isAll(Reached value) {
        return value.certain() == Language.all();
    }

    @Override
    public List<Statement> speaking(PolicyDocument document) {
        return document.statements().stream()
                .filter(statement -> statement.isOpaque() || statement.actions().covers(action))
                .toList();
    }

    /** Returns whether the conditions hold, whatever else requests carry. */
    static Truth conditions(Statement statement, Context context) {
        Truth holds = Truth.TRUE;
        for (Condition condition : statement.conditions()) {
            holds = holds.and(condition.holds(context));
        }
        return holds;
    }

    private Reached resources(Statement statement) {
        if (statement.resources().isEmpty()) {
            return Reached.ALL;
        }
        Language certain = statement.resources().get().language(context, Language.none());
        return statement.resources().get().isConstant()
                ? Reached.exactly(certain)
                : new Reached(certain, statement.resources().get().language(context, Language.all()));
    }

    @Override
    public Reached allow(HeldPolicy policy, Optional<Statement> statement, PrincipalClause.Named named, Part part) {
        if (statement.isEmpty() || statement.get().isOpaque()) {
            return Reached.UNKNOWN.intersect(Reached.of(named.truth()));
        }
        return conditions(statement.get(), context) == Truth.FALSE
                ? Reached.NONE
                : resources(statement.get()).intersect(Reached.of(named.truth()));
    }

    @Override
    public Reached deny(HeldPolicy policy, Optional<Statement> statement, Truth means, Part part) {
        if (statement.isEmpty() || statement.get().isOpaque()) {
            return Reached.UNKNOWN.intersect(Reached.of(means));
        }
        return conditions(statement.get(), context) == Truth.TRUE
                ? resources(statement.get()).intersect(Reached.of(means))
                : Reached.NONE;
    }

    @Override
    public Reached byAccessLists(Bucket bucket) {
        AclSide lists = new AclSide(account);
        Function<String, Reached> granted =
                on -> Reached.of(lists.grants(bucket, new Request(who, action, on, context), action));
        if (!AclSide.isObjectAction(action)) {
            return granted.apply(bucket.arn());
        }
        Reached all = Reached.NONE;
        for (String key : bucket.keysWith("object-acl")) {
            all = all.union(
                    granted.apply(bucket.object(key)).intersect(Reached.exactly(Language.of(bucket.object(key)))));
        }
        return all;
    }

    /** What only their own lists open is counted with the rest: the set is never too small. */
    @Override
    public Reached foreignOwned(Bucket bucket) {
        return Reached.NONE;
    }

    @Override
    public Reached ownAccountByAccessLists(Bucket bucket) {
        return Reached.UNKNOWN;
    }

    /** Which objects a key keeps closed is told by single requests. */
    @Override
    public Reached keyLets(Bucket bucket) {
        return Reached.ALL;
    }
}
