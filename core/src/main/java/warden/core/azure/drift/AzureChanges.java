package warden.core.azure.drift;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.access.Ability;
import warden.core.access.Decision;
import warden.core.access.Extent;
import warden.core.access.Gain;
import warden.core.access.Matrix;
import warden.core.access.Truth;
import warden.core.access.Witness;
import warden.core.azure.access.Actions;
import warden.core.azure.access.Caller;
import warden.core.azure.access.RequestContext;
import warden.core.azure.account.Container;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.principal.Principal;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.WebSite;
import warden.core.cloud.Changes;
import warden.core.cloud.Changes.Allowed;
import warden.core.cloud.Changes.OfCredential;
import warden.core.cloud.Changes.OfName;
import warden.core.cloud.Changes.OfReach;
import warden.core.cloud.Changes.Presence;
import warden.core.cloud.Changes.Trusted;
import warden.core.drift.Incomparable;
import warden.core.drift.ZoneChanges;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.SurveyLine;

/** What changed between two states of the second provider's subscriptions. */
public final class AzureChanges {
    /** What the matrix does not tell of a principal: keys, roles, edges. */
    private static final List<String> CONTROL = Stream.of(
                    Actions.KEYS.stream(),
                    Actions.CHANGE_RULES.stream(),
                    Stream.of(
                            Actions.READ,
                            Actions.WRITE,
                            Actions.DELETE,
                            Actions.PURGE_CLASSIC,
                            Actions.PURGE_FRONT_DOOR))
            .flatMap(each -> each)
            .distinct()
            .toList();

    private final AzureCloud oldCloud;
    private final AzureCloud newCloud;
    private final List<OfReach> reach = new ArrayList<>();
    private final List<OfCredential> credentials = new ArrayList<>();
    private final List<OfName> names = new ArrayList<>();
    private final Incomparable open = new Incomparable();

    private AzureChanges(AzureCloud oldCloud, AzureCloud newCloud) {
        this.oldCloud = oldCloud;
        this.newCloud = newCloud;
    }

    /** The same subscription in two states. */
    private record Pair(AzureAccount old, AzureAccount now) {
        boolean isSame() {
            return old.survey().lines().stream()
                    .map(AzureChanges::text)
                    .toList()
                    .equals(now.survey().lines().stream()
                            .map(AzureChanges::text)
                            .toList());
        }
    }

    private static String text(SurveyLine line) {
        return line.aspect() + " " + line.of() + " " + line.outcome() + " " + line.body();
    }

    /**
     * Compares.
     *
     * @param publishers the identifiers of those who publish a site in either state
     */
    public static Changes between(AzureCloud oldCloud, AzureCloud newCloud, Set<String> publishers) {
        AzureChanges changes = new AzureChanges(oldCloud, newCloud);
        for (AzureAccount old : oldCloud.accounts()) {
            newCloud.accounts().stream()
                    .filter(now -> now.number().equalsIgnoreCase(old.number()))
                    .map(now -> new Pair(old, now))
                    .filter(pair -> !pair.isSame())
                    .forEach(pair -> {
                        changes.reach(pair);
                        changes.credentials(pair, publishers);
                        changes.names(pair);
                    });
        }
        return new Changes(changes.reach, changes.credentials, changes.names, changes.open.needs(), Map.of());
    }

    private void needs(Pair pair, List<Need> needs) {
        open.add(needs, pair.old().survey(), pair.now().survey());
    }

    // --- who gained, who lost

    private static Map<String, Container> containers(AzureAccount account) {
        Map<String, Container> all = new TreeMap<>();
        for (StorageAccount storage : account.subscription().accounts()) {
            storage.containers().forEach(each -> all.put(ResourceId.key(each.id()), each));
        }
        return all;
    }

    private void reach(Pair pair) {
        Map<String, Container> before = containers(pair.old());
        Map<String, Container> after = containers(pair.now());
        Set<String> keys = new TreeSet<>(before.keySet());
        keys.addAll(after.keySet());
        for (String key : keys) {
            Container one = before.get(key);
            Container other = after.get(key);
            AzureAccount without = one == null ? pair.old() : pair.now();
            Optional<Need> unlisted =
                    one != null && other != null ? Optional.empty() : unlisted(without, one == null ? other : one);
            if (unlisted.isPresent()) {
                open.add(unlisted.get());
                continue;
            }
            compare(pair, Optional.ofNullable(one), Optional.ofNullable(other));
        }
    }

    /** Returns what keeps from telling that a container is not there. */
    private static Optional<Need> unlisted(AzureAccount without, Container there) {
        Optional<Need> accounts = without.subscription().unlistedAccounts();
        if (accounts.isPresent()) {
            return accounts;
        }
        return without.subscription().account(there.id()).flatMap(storage -> storage.listed().open().stream()
                .findFirst());
    }

    private static Map<String, Map<Ability, Extent>> rows(AzureAccount account, Optional<Container> container) {
        Map<String, Map<Ability, Extent>> rows = new LinkedHashMap<>();
        container.ifPresent(each -> {
            Matrix matrix = account.reach().matrix(each, Set.of());
            matrix.rows().forEach(row -> rows.put(row.who(), row.abilities()));
        });
        return rows;
    }

    private void compare(Pair pair, Optional<Container> one, Optional<Container> other) {
        Map<String, Map<Ability, Extent>> before = rows(pair.old(), one);
        Map<String, Map<Ability, Extent>> after = rows(pair.now(), other);
        Set<String> callers = new LinkedHashSet<>(after.keySet());
        callers.addAll(before.keySet());
        Container any = other.or(() -> one).orElseThrow();
        for (String who : callers) {
            boolean isOutsider = who.equals("anyone") || who.equals("any-account");
            if (!isOutsider && !isInBoth(pair, who)) {
                // Who is new or gone is told with all that it may do.
                continue;
            }
            for (Ability ability : Ability.values()) {
                Extent then = extent(before, who, ability, pair.old(), one);
                Extent now = extent(after, who, ability, pair.now(), other);
                Optional<Gain> gained = gain(pair, pair.old(), one, who, then, now);
                Optional<Gain> lost = gain(pair, pair.now(), other, who, now, then);
                if (gained.isPresent() || lost.isPresent()) {
                    reach.add(new OfReach(any.id(), who, isOutsider, ability, gained, lost));
                }
            }
        }
    }

    private static boolean isInBoth(Pair pair, String who) {
        return !who.contains("/")
                || who.startsWith("/")
                || pair.old().reach().principals().named(who).isPresent()
                        && pair.now().reach().principals().named(who).isPresent();
    }

    private static Extent extent(
            Map<String, Map<Ability, Extent>> rows,
            String who,
            Ability ability,
            AzureAccount account,
            Optional<Container> container) {
        Map<Ability, Extent> row = rows.get(who);
        if (row != null) {
            return row.get(ability);
        }
        // A caller without a row was not weighed: it may do nothing, or nobody knows.
        return container
                .flatMap(each -> account.reach().caller(who).map(caller -> account.reach()
                        .extent(each, caller, ability)))
                .orElse(Extent.none());
    }

    /** Returns what the second extent has beyond the first, shown by a request that the first side denies. */
    private Optional<Gain> gain(
            Pair pair, AzureAccount less, Optional<Container> container, String who, Extent from, Extent to) {
        boolean mayBeMore = to.kind() == Extent.Kind.UNKNOWN || from.kind() == Extent.Kind.UNKNOWN || to.mayBeWider();
        if (!to.isSome()) {
            if (to.kind() == Extent.Kind.UNKNOWN && from.kind() != Extent.Kind.ALL) {
                needs(pair, to.needs());
            }
            return Optional.empty();
        }
        if (mayBeMore) {
            needs(pair, from.needs());
            needs(pair, to.needs());
        }
        Witness witness = to.witness().orElseThrow();
        List<Citation> because = new ArrayList<>(to.because());
        if (container.isPresent()) {
            Optional<Caller> caller = less.reach().caller(who);
            if (caller.isEmpty()) {
                return Optional.of(new Gain(to.kind(), to.which(), witness, because));
            }
            Decision decision =
                    less.reach().rules().decide(caller.get(), witness.action(), witness.on(), context(witness), false);
            if (decision.outcome() != Decision.Outcome.DENY) {
                return Optional.empty();
            }
            decision.because().stream().filter(each -> !because.contains(each)).forEach(because::add);
        }
        return Optional.of(new Gain(to.kind(), to.which(), witness, because));
    }

    private static RequestContext context(Witness witness) {
        RequestContext plain = RequestContext.PLAIN;
        String endpoint = witness.context().get("endpoint");
        return endpoint == null ? plain : plain.at(endpoint);
    }

    // --- principals

    private void credentials(Pair pair, Set<String> publishers) {
        Map<String, Principal> before = principals(pair.old());
        Map<String, Principal> after = principals(pair.now());
        Set<String> ids = new TreeSet<>(before.keySet());
        ids.addAll(after.keySet());
        Set<String> places = new TreeSet<>(places(oldCloud));
        places.addAll(places(newCloud));
        for (String id : ids) {
            Principal one = before.get(id);
            Principal other = after.get(id);
            Principal any = other == null ? one : other;
            List<Allowed> gained = new ArrayList<>();
            List<Allowed> lost = new ArrayList<>();
            boolean holdsRoles = false;
            for (String place : places) {
                for (String action : CONTROL) {
                    Optional<String> resource = resource(action, place);
                    if (resource.isEmpty()) {
                        continue;
                    }
                    Truth then = may(pair, pair.old(), any, action, resource.get());
                    Truth now = may(pair, pair.now(), any, action, resource.get());
                    holdsRoles |= then.isPossible() || now.isPossible();
                    if (then == Truth.FALSE && now == Truth.TRUE) {
                        gained.add(new Allowed(action, place, cited(other)));
                    } else if (then == Truth.TRUE && now == Truth.FALSE) {
                        lost.add(new Allowed(action, place, cited(one)));
                    }
                }
            }
            Presence presence = one == null ? Presence.NEW : other == null ? Presence.GONE : Presence.CHANGED;
            if (presence != Presence.CHANGED && !holdsRoles) {
                // Principals are read where they hold a role; one without any is no news.
                continue;
            }
            List<Trusted> trustGained = new ArrayList<>();
            List<Trusted> trustLost = new ArrayList<>();
            trusted(pair, one, other, trustGained);
            trusted(pair, other, one, trustLost);
            OfCredential change = new OfCredential(
                    any.id(), presence, publishers.contains(any.id()), gained, lost, trustGained, trustLost);
            if (change.isTold()) {
                credentials.add(change);
            }
        }
    }

    private static List<Citation> cited(Principal principal) {
        return principal == null ? List.of() : principal.at().stream().toList();
    }

    private static Map<String, Principal> principals(AzureAccount account) {
        Map<String, Principal> all = new TreeMap<>();
        account.reach().principals().all().forEach(each -> all.put(each.objectId(), each));
        return all;
    }

    /** Returns the sites' containers and edges. */
    private static Set<String> places(AzureCloud cloud) {
        Set<String> places = new TreeSet<>();
        for (WebSite site : cloud.sites()) {
            site.container().ifPresent(container -> places.add(container.id()));
            site.edges().forEach(edge -> places.add(edge.id()));
        }
        return places;
    }

    private static Optional<String> resource(String action, String place) {
        boolean isStorage = action.startsWith(Actions.STORAGE) || action.equals(Actions.ASSIGN);
        boolean isContainer = ResourceId.containerIn(place).isPresent();
        if (isContainer) {
            return !isStorage
                    ? Optional.empty()
                    : Optional.of(ActionPattern.isData(action) ? place + "/blobs/x" : Actions.resource(action, place));
        }
        boolean isFrontDoor = place.toLowerCase(Locale.ROOT).contains("/afdendpoints/");
        boolean isPurge = action.equals(isFrontDoor ? Actions.PURGE_FRONT_DOOR : Actions.PURGE_CLASSIC);
        return isPurge ? Optional.of(place) : Optional.empty();
    }

    private Truth may(Pair pair, AzureAccount account, Principal principal, String action, String resource) {
        List<Need> needs = new ArrayList<>();
        Truth truth = account.reach().rules().byRoles(principal.objectId(), action, resource, needs);
        needs(pair, needs);
        return truth;
    }

    /** Finds the tokens that the second takes and the first does not; where the first's were not read, nobody knows. */
    private void trusted(Pair pair, Principal from, Principal to, List<Trusted> found) {
        if (to == null) {
            return;
        }
        if (from != null && !from.unread().isEmpty()) {
            needs(pair, from.unread());
            return;
        }
        Set<String> known = from == null
                ? Set.of()
                : from.federated().stream().map(AzureChanges::spelled).collect(Collectors.toSet());
        for (Principal.Federated each : to.federated()) {
            if (!known.contains(spelled(each))) {
                Map<String, String> claims = new TreeMap<>();
                each.subject().ifPresent(subject -> claims.put("sub", subject));
                each.expression().ifPresent(expression -> claims.put("expression", expression));
                found.add(new Trusted(each.issuer(), claims, List.of(each.at())));
            }
        }
    }

    private static String spelled(Principal.Federated federated) {
        return federated.issuer() + "\n" + federated.subject().orElse("") + "\n"
                + federated.expression().orElse("") + "\n"
                + federated.audiences().stream().sorted().toList();
    }

    // --- names

    private void names(Pair pair) {
        ZoneChanges zones = ZoneChanges.between(
                pair.old().zones(),
                pair.old().unlistedZones(),
                pair.now().zones(),
                pair.now().unlistedZones(),
                name -> name);
        names.addAll(zones.changes());
        needs(pair, zones.open());
    }
}
