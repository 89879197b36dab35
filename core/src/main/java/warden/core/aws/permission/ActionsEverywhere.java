package warden.core.aws.permission;

import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.algebra.Language;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;

/**
 * Weighs the rules by sets of actions: those that are allowed on every resource in every request. What hangs on a condition, or on something
 * unread, may be among them.
 */
final class ActionsEverywhere extends ReachedWeighing {
    private final Context context;

    /**
     * Makes ready.
     *
     * @param context what is known of every request of the caller; all else may be carried with any value
     */
    ActionsEverywhere(Context context) {
        this.context = context;
    }

    @Override
    public boolean isAll(Reached value) {
        return value.certain() == Language.all();
    }

    @Override
    public List<Statement> speaking(PolicyDocument document) {
        return document.statements();
    }

    private boolean onEverything(Statement statement, Language open) {
        return statement
                .resources()
                .map(clause -> clause.language(context, open).isEverything())
                .orElse(true);
    }

    @Override
    public Reached allow(HeldPolicy policy, Optional<Statement> statement, PrincipalClause.Named named, Part part) {
        if (statement.isEmpty() || statement.get().isOpaque()) {
            return Reached.UNKNOWN;
        }
        Truth holds = ResourcesOfAction.conditions(statement.get(), context);
        if (holds == Truth.FALSE || !onEverything(statement.get(), Language.all())) {
            return Reached.NONE;
        }
        Language actions = statement.get().actions().language();
        return holds == Truth.TRUE && onEverything(statement.get(), Language.none())
                ? Reached.exactly(actions)
                : new Reached(Language.none(), actions);
    }

    @Override
    public Reached deny(HeldPolicy policy, Optional<Statement> statement, Truth means, Part part) {
        if (statement.isEmpty() || statement.get().isOpaque()) {
            return Reached.UNKNOWN;
        }
        Language actions = statement.get().actions().language();
        return switch (ResourcesOfAction.conditions(statement.get(), context)) {
            case FALSE -> Reached.NONE;
            // A deny on some resources, too, keeps the action from being allowed on every resource.
            case TRUE -> Reached.exactly(actions);
            case UNKNOWN -> new Reached(Language.none(), actions);
        };
    }

    @Override
    public Reached byAccessLists(Bucket bucket) {
        return Reached.NONE;
    }

    @Override
    public Reached foreignOwned(Bucket bucket) {
        return Reached.NONE;
    }

    @Override
    public Reached ownAccountByAccessLists(Bucket bucket) {
        return Reached.NONE;
    }

    @Override
    public Reached keyLets(Bucket bucket) {
        return Reached.ALL;
    }
}
