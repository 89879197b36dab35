package warden.core.aws.identity;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Stream;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;

/**
 * The roles of an account by whom their trust may let in, so that asking for one actor does not look at all of them. Immutable.
 *
 * <p>Source: IAM User Guide, "Switch to an IAM role", "AWS JSON policy elements: Principal".
 */
public final class TrustingRoles {
    private static final String ASSUME = "sts:assumerole";

    private final List<Principal> roles;
    /** Places among the roles, of those that may let in anybody. */
    private final List<Integer> open = new ArrayList<>();
    /** Those that let in whom the account gives the right, and those whose trust is not known. */
    private final List<Integer> delegating = new ArrayList<>();

    private final Map<String, List<Integer>> naming = new HashMap<>();

    TrustingRoles(List<Principal> principals) {
        this.roles = principals.stream().filter(Principal::isRole).toList();
        for (int i = 0; i < roles.size(); i++) {
            add(i, roles.get(i));
        }
    }

    private void add(int place, Principal role) {
        if (role.trust().isEmpty() || role.trust().get().isPartlyOpaque()) {
            delegating.add(place);
            return;
        }
        boolean delegates = false;
        for (Statement statement : role.trust().get().statements()) {
            if (!statement.mayAllow() || !statement.actions().covers(ASSUME)) {
                continue;
            }
            PrincipalClause clause = statement.principals().orElse(null);
            if (clause == null || clause.negated() || clause.reachesEveryone()) {
                open.add(place);
                return;
            }
            for (PrincipalElement element : clause.elements()) {
                if (element instanceof PrincipalElement.SessionArn) {
                    open.add(place);
                } else if (element instanceof PrincipalElement.UserArn user) {
                    name(user.arn().toString(), place);
                } else if (element instanceof PrincipalElement.RoleArn other) {
                    name(other.arn().toString(), place);
                } else if (element instanceof PrincipalElement.Account named) {
                    delegates |= named.account().equals(role.arn().account());
                }
            }
        }
        if (delegates) {
            delegating.add(place);
        }
    }

    private void name(String spelled, int place) {
        naming.computeIfAbsent(spelled, key -> new ArrayList<>()).add(place);
    }

    /**
     * Returns the roles that may let an actor in, in the order of the account's principals; the others surely do not.
     *
     * @param mayAssume whether the actor's own policies may let it assume the role of an ARN
     */
    public List<Principal> lettingIn(Actor actor, Predicate<String> mayAssume) {
        Stream<Integer> byRight = delegating.stream()
                .filter(place -> mayAssume.test(roles.get(place).arn().toString()));
        Stream<Integer> byName = Stream.concat(open.stream(), naming.getOrDefault(actor.spelled(), List.of()).stream());
        TreeSet<Integer> places = new TreeSet<>();
        Stream.concat(byRight, byName).forEach(places::add);
        return places.stream().map(roles::get).toList();
    }
}
