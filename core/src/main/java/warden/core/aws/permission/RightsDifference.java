package warden.core.aws.permission;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import warden.core.access.Decision;
import warden.core.algebra.Language;
import warden.core.algebra.TooComplexException;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.aws.catalogue.ServiceAction.Level;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.reach.Possibility;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** What a user or role may do by its own policies in one state of its account and not in another, over all catalogued actions and all resources. */
public final class RightsDifference {
    private static final List<Level> WORST_FIRST =
            List.of(Level.PERMISSIONS, Level.WRITE, Level.TAGGING, Level.READ, Level.LIST);

    private final EffectivePermissions more;
    private final Optional<EffectivePermissions> less;

    /**
     * Makes ready.
     *
     * @param less absent where there is surely no such user or role
     */
    public RightsDifference(EffectivePermissions more, Optional<EffectivePermissions> less) {
        this.more = more;
        this.less = less;
    }

    /** An action and a resource on which it is allowed on one side only. */
    public record Gained(ServiceAction action, String on, List<Citation> because) {}

    /**
     * The answer.
     *
     * @param open what keeps from telling whether there is more
     */
    public record Result(List<Gained> gained, List<Need> open) {}

    /** Compares all actions. */
    public Result find() {
        List<Need> open = new ArrayList<>(more.missing());
        less.ifPresent(other -> open.addAll(other.missing()));
        List<Gained> gained = new ArrayList<>();
        try {
            for (ServiceAction action : more.possibleActions()) {
                compare(action, gained, open);
            }
        } catch (TooComplexException tooComplex) {
            open.add(new Need(
                    more.principal().aspect(),
                    more.principal().arn().toString(),
                    "too complex: " + tooComplex.getMessage(),
                    ""));
        }
        gained.sort(Comparator.<Gained>comparingInt(
                        each -> WORST_FIRST.indexOf(each.action().level()))
                .thenComparing(each -> each.action().name()));
        return new Result(gained, open.stream().distinct().toList());
    }

    private void compare(ServiceAction action, List<Gained> gained, List<Need> open) {
        Language kind = EffectivePermissions.resourcesOf(action);
        Reached here = more.granted(action.name());
        Reached there = less.map(other -> other.granted(action.name())).orElse(Reached.NONE);
        Language certain = here.certain().minus(there.possible()).intersect(kind);
        if (!certain.isEmpty()) {
            String on = here.certain().isEverything() && there.possible().isEmpty()
                    ? "*"
                    : certain.witness().orElse("*");
            gained.add(new Gained(action, on, List.of(more.cite(action.name()))));
            return;
        }
        Language possible = here.possible().minus(there.certain()).intersect(kind);
        if (possible.isEmpty() || (here.isExact() && there.isExact())) {
            return;
        }
        // What hangs on conditions is tried on a request.
        String on = possible.witness().orElse("*");
        Possibility can = more.can(action.name(), () -> Language.of(on), () -> List.of(on), Map.of());
        if (!(can instanceof Possibility.Allowed allowed)) {
            return;
        }
        if (less.isEmpty()) {
            gained.add(new Gained(action, on, allowed.decision().because()));
            return;
        }
        Map<String, ContextValue> carried = new TreeMap<>();
        allowed.witness().context().forEach((key, value) -> carried.put(key, ContextValue.Known.of(value)));
        Decision other = less.get().asDeployment(action.name(), on, carried);
        if (other.outcome() == Decision.Outcome.DENY) {
            gained.add(new Gained(action, on, allowed.decision().because()));
        } else if (other.outcome() == Decision.Outcome.UNKNOWN) {
            open.addAll(other.needs());
        }
    }
}
