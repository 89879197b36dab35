package warden.core.azure.access;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import warden.core.access.Ability;
import warden.core.access.Decision;
import warden.core.access.Extent;
import warden.core.access.Matrix;
import warden.core.access.Truth;
import warden.core.access.Witness;
import warden.core.azure.account.Container;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.principal.Principal;
import warden.core.azure.principal.Principals;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.Roles;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Says how far abilities reach in the containers of one subscription. Safe for use by several threads. */
public final class Reach {
    private final AccessRules rules;
    private final Principals principals;
    private final Map<String, Extent> extents = new ConcurrentHashMap<>();

    public Reach(AccessRules rules) {
        this.rules = rules;
        this.principals = new Principals(rules.subscription(), rules.roles());
    }

    public AccessRules rules() {
        return rules;
    }

    public Principals principals() {
        return principals;
    }

    /** Returns how far an ability of a caller reaches in a container. */
    public Extent extent(Container container, Caller who, Ability ability) {
        return extents.computeIfAbsent(
                container.id() + " " + who.spelled() + " " + ability, key -> computed(container, who, ability));
    }

    private Extent computed(Container container, Caller who, Ability ability) {
        if (who.kind() == Caller.Kind.ANYONE) {
            return anonymous(container, ability);
        }
        boolean isListing = ability == Ability.LIST;
        RequestContext context = isListing ? RequestContext.PLAIN.listing() : RequestContext.PLAIN;
        List<String> allowed = new ArrayList<>();
        Set<String> paths = new LinkedHashSet<>();
        List<Need> open = new ArrayList<>();
        List<Citation> because = new ArrayList<>();
        Optional<Witness> witness = Optional.empty();
        for (String action : Actions.of(ability)) {
            boolean onBlobs = ability != Ability.CHANGE_RULES;
            String resource = onBlobs && !isListing
                    ? container.blob(sample(container))
                    : onBlobs ? container.id() : Actions.resource(action, container.id());
            // A condition on paths leaves out some blobs: asked of none in particular it is open, and then tried with
            // one that fits.
            Decision whole = rules.decide(who, action, onBlobs ? container.id() : resource, context, false);
            if (whole.outcome() == Decision.Outcome.ALLOW) {
                allowed.add(action);
                because.addAll(whole.because());
                witness = witness.or(() -> Optional.of(new Witness(who.spelled(), action, resource, Map.of())));
            } else if (whole.outcome() == Decision.Outcome.UNKNOWN) {
                Optional<String> path = onBlobs && !isListing ? fittingPath(who, action, container) : Optional.empty();
                Optional<Decision> there =
                        path.map(name -> rules.decide(who, action, container.blob(name), context, false));
                if (there.filter(each -> each.outcome() == Decision.Outcome.ALLOW)
                        .isPresent()) {
                    paths.addAll(patterns(who, action, container));
                    because.addAll(there.get().because());
                    witness = witness.or(() ->
                            Optional.of(new Witness(who.spelled(), action, container.blob(path.get()), Map.of())));
                } else {
                    open.addAll(whole.needs());
                }
            }
        }
        if (witness.isEmpty()) {
            return open.isEmpty() ? Extent.none() : Extent.unknown(Need.spelled(distinct(open)), distinct(open));
        }
        List<String> all = Actions.of(ability);
        boolean isAll =
                switch (ability) {
                    case READ, LIST -> !allowed.isEmpty();
                    // To add is to make new names only.
                    case WRITE -> allowed.contains(Actions.WRITE);
                    case DELETE -> allowed.contains(Actions.DELETE);
                    case CHANGE_RULES -> allowed.size() == all.size();
                };
        List<String> which = isAll
                ? List.of("*")
                : ability == Ability.CHANGE_RULES
                        ? allowed
                        : allowed.isEmpty()
                                ? List.copyOf(paths)
                                : allowed.stream().map(Reach::meaning).toList();
        Extent.Kind kind = isAll ? Extent.Kind.ALL : Extent.Kind.SOME;
        List<Need> wider = isAll ? List.of() : distinct(open);
        return new Extent(kind, which, witness, distinct(because), wider, wider.isEmpty() ? "" : Need.spelled(wider));
    }

    private static <T> List<T> distinct(List<T> all) {
        return all.stream().distinct().toList();
    }

    private static String meaning(String action) {
        return action.equals(Actions.ADD) ? "new names only (" + action + ")" : action;
    }

    private static String sample(Container container) {
        return container.blobs().names().stream().findFirst().orElse("index.html");
    }

    private Optional<String> fittingPath(Caller who, String action, Container container) {
        return limiting(who, container).stream()
                .flatMap(each -> each.condition().orElseThrow().fittingPath(action).stream())
                .findFirst();
    }

    private List<String> patterns(Caller who, String action, Container container) {
        return limiting(who, container).stream()
                .flatMap(each -> each.condition().orElseThrow().paths(action).stream())
                .toList();
    }

    private List<Assignment> limiting(Caller who, Container container) {
        return rules.roles().of(who.objectId(), container.id()).stream()
                .filter(own -> own.means() == Truth.TRUE)
                .map(Roles.Own::assignment)
                .filter(each -> each.condition()
                        .filter(condition -> condition.isUnderstood())
                        .isPresent())
                .toList();
    }

    private Extent anonymous(Container container, Ability ability) {
        if (ability != Ability.READ && ability != Ability.LIST) {
            return Extent.none();
        }
        boolean isListing = ability == Ability.LIST;
        String on = isListing ? container.id() : container.blob(sample(container));
        RequestContext context = isListing ? RequestContext.PLAIN.listing() : RequestContext.PLAIN;
        Optional<String> address = rules.strangersFrom(container).flatMap(words -> rules.admittedAddress(container));
        RequestContext from = address.isPresent()
                ? new RequestContext(Optional.empty(), true, address, isListing, Optional.empty())
                : context;
        Decision decision = rules.decide(Caller.ANYONE, Actions.READ, on, from, false);
        return switch (decision.outcome()) {
            case DENY -> Extent.none();
            case UNKNOWN ->
                Extent.unknown(
                        decision.needs().isEmpty() ? "it is not settled" : Need.spelled(decision.needs()),
                        decision.needs());
            case ALLOW ->
                new Extent(
                        address.isPresent() ? Extent.Kind.SOME : Extent.Kind.ALL,
                        address.isPresent()
                                ? List.of(rules.strangersFrom(container).orElseThrow())
                                : List.of("*"),
                        Optional.of(new Witness(
                                "anyone",
                                isListing ? "list" : Actions.READ,
                                on,
                                address.map(ip -> Map.of("sourceIp", ip)).orElse(Map.of()))),
                        decision.because(),
                        List.of(),
                        "");
        };
    }

    /**
     * Returns who can do what with a container.
     *
     * @param always principals that get a row even without an ability
     */
    public Matrix matrix(Container container, Set<String> always) {
        List<Matrix.Row> rows = new ArrayList<>();
        rows.add(row(container, Caller.ANYONE, Matrix.Kind.STRANGERS));
        rows.add(row(container, Caller.ANY_ACCOUNT, Matrix.Kind.STRANGERS));
        StorageAccount account = container.account();
        if (account.acceptsSharedKeys().isPossible()) {
            rows.add(row(container, Caller.key(account.id()), Matrix.Kind.NAMED));
        }
        for (Principal principal : principals.all()) {
            Matrix.Row row = row(container, Caller.principal(principal.id()), Matrix.Kind.NAMED);
            if (row.hasAny() || always.contains(principal.id())) {
                rows.add(row);
            }
        }
        List<Matrix.Row> unread = new ArrayList<>();
        rules.roles().openAssignments().ifPresent(need -> unread.add(unread(need.of(), need)));
        if (account.hasLocalUsers() == Truth.TRUE) {
            unread.add(unread(
                    account.id() + "#localUsers",
                    new Need("storage-account", account.id(), "its local users are not read", "")));
        }
        return new Matrix(container.id(), account.name() + "/" + container.name(), rows, unread);
    }

    private Matrix.Row row(Container container, Caller who, Matrix.Kind kind) {
        Map<Ability, Extent> abilities = new EnumMap<>(Ability.class);
        for (Ability ability : Ability.values()) {
            abilities.put(ability, extent(container, who, ability));
        }
        return new Matrix.Row(who.spelled(), kind, abilities);
    }

    private static Matrix.Row unread(String who, Need need) {
        Map<Ability, Extent> abilities = new LinkedHashMap<>();
        for (Ability ability : Ability.values()) {
            abilities.put(ability, Extent.unknown(Need.spelled(List.of(need)), List.of(need)));
        }
        return new Matrix.Row(who, Matrix.Kind.NAMED, abilities);
    }

    /** Returns the caller that a word names; absent when it names nobody. */
    public Optional<Caller> caller(String word) {
        if (word.startsWith("applications/") || !word.contains("/")) {
            Optional<Principal> known = principals.named(word);
            if (known.isPresent()) {
                return known.map(principal -> Caller.principal(principal.id()));
            }
        }
        return Caller.parse(word).or(() -> principals.named(word).map(principal -> Caller.principal(principal.id())));
    }

    /** True for an identifier of the subscription, or of something in it. */
    public boolean holds(String id) {
        return ResourceId.isBelow(id, rules.subscription().id());
    }
}
