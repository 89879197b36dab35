package warden.core.azure.role;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.azure.account.Item;
import warden.core.azure.account.Listed;
import warden.core.azure.account.Page;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.Subscription;
import warden.core.document.JsonPart;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** The roles of one subscription: definitions, assignments and what denies. Safe for use by several threads. */
public final class Roles {
    private static final String ASSIGNMENTS = "role-assignment-list";
    private static final String DENIES = "deny-assignment-list";
    private static final String AT_SCOPE = "?atScope()";

    private final Subscription subscription;
    private final Map<String, RoleDefinition> definitions;
    private final List<Assignment> assignments;
    private final Map<String, List<Own>> toOne;
    private final List<Own> toGroups;
    private final Map<String, OwnAssignments> ownByPrincipal = new ConcurrentHashMap<>();
    private final List<DenyAssignment> denies;
    private final Optional<Need> malformedAssignment;
    private final Optional<Need> malformedDeny;
    private final Optional<Need> openAssignments;
    private final Optional<Need> openDenies;
    private final boolean asksDenies;
    private final Map<String, Reading<Set<String>>> groups = new ConcurrentHashMap<>();

    public Roles(Subscription subscription) {
        this.subscription = subscription;
        this.definitions = new HashMap<>();
        this.toOne = new HashMap<>();
        this.toGroups = new ArrayList<>();
        Listed listed = subscription.list("role-definition-list", subscription.id(), "");
        listed.items().stream()
                .filter(Roles::isWholeDefinition)
                .forEach(item -> definitions.put(RoleDefinition.guid(item.id()), RoleDefinition.of(item)));
        for (String subject : subscription.survey().subjects("role-definition")) {
            subscription
                    .one("role-definition", subject)
                    .found()
                    .filter(Roles::isWholeDefinition)
                    .ifPresent(item -> definitions.put(RoleDefinition.guid(subject), RoleDefinition.of(item)));
        }
        Map<String, Item> items = new LinkedHashMap<>();
        Listed all = subscription.list(ASSIGNMENTS, subscription.id(), "role-assignment");
        Listed above = subscription.list(ASSIGNMENTS, subscription.id() + AT_SCOPE, "");
        Stream.concat(all.items().stream(), above.items().stream())
                .forEach(item -> items.putIfAbsent(ResourceId.key(item.id()), item));
        this.assignments = items.values().stream().map(this::assignment).toList();
        for (int i = 0; i < assignments.size(); i++) {
            Assignment each = assignments.get(i);
            Own own = new Own(i, each, Truth.TRUE, ResourceId.key(each.scope()));
            if (each.isToOne()) {
                toOne.computeIfAbsent(each.principalId(), key -> new ArrayList<>())
                        .add(own);
            } else {
                toGroups.add(own);
            }
        }
        this.malformedAssignment = items.values().stream()
                .filter(item -> !isWholeAssignment(item))
                .findFirst()
                .map(item -> new Need(
                        ASSIGNMENTS,
                        item.id(),
                        "to whom or where it is assigned is not in the answer",
                        "Microsoft.Authorization/roleAssignments/read"));
        this.asksDenies = subscription.asked(DENIES, subscription.id());
        List<Item> denied = subscription.list(DENIES, subscription.id(), "").items();
        this.denies = denied.stream()
                .filter(DenyAssignment::isWhole)
                .map(DenyAssignment::of)
                .toList();
        this.malformedDeny = denied.stream()
                .filter(item -> !DenyAssignment.isWhole(item))
                .findFirst()
                .map(item -> new Need(
                        DENIES,
                        item.id(),
                        "whom, where or what it denies is not in the answer",
                        "Microsoft.Authorization/denyAssignments/read"));
        this.openAssignments = openInAssignments();
        this.openDenies = openInDenies();
    }

    private Roles(Roles seen) {
        this.subscription = seen.subscription;
        this.definitions = seen.definitions;
        this.assignments = seen.assignments;
        this.toOne = seen.toOne;
        this.toGroups = seen.toGroups;
        this.malformedAssignment = seen.malformedAssignment;
        this.asksDenies = seen.asksDenies;
        this.denies = seen.denies;
        this.malformedDeny = seen.malformedDeny;
        this.openAssignments = openInAssignments();
        this.openDenies = openInDenies();
    }

    /** Returns these roles with what keeps them from being known told anew: it hangs on what the survey's reader may see. */
    public Roles withReaderKnown() {
        return new Roles(this);
    }

    private Optional<Need> openInAssignments() {
        Listed all = subscription.list(ASSIGNMENTS, subscription.id(), "role-assignment");
        Listed above = subscription.list(ASSIGNMENTS, subscription.id() + AT_SCOPE, "");
        return all.open().or(above::open).or(() -> malformedAssignment);
    }

    private Optional<Need> openInDenies() {
        return asksDenies
                ? subscription.list(DENIES, subscription.id(), "").open().or(() -> malformedDeny)
                : Optional.empty();
    }

    private static boolean isWholeDefinition(Item item) {
        return RoleDefinition.areWhole(item.find("permissions"));
    }

    private static boolean isWholeAssignment(Item item) {
        return item.text("principalId").filter(id -> !id.isEmpty()).isPresent()
                && item.text("scope").filter(scope -> !scope.isEmpty()).isPresent();
    }

    private Assignment assignment(Item item) {
        String role = item.text("roleDefinitionId").orElse("");
        String guid = RoleDefinition.guid(role);
        Optional<RoleDefinition> definition = definition(
                guid, item.text("roleDefinitionName").or(() -> item.document().text("roleDefinitionName")));
        Optional<Need> unread = definition.isPresent()
                ? Optional.empty()
                : Optional.of(new Need(
                        "role-definition",
                        role.isEmpty() ? item.id() : role,
                        "what the role grants was not read",
                        "Microsoft.Authorization/roleDefinitions/read"));
        return new Assignment(
                item.id(),
                item.text("principalId").orElse("").toLowerCase(Locale.ROOT),
                item.text("principalType").orElse(""),
                item.text("scope").orElse(""),
                guid,
                definition,
                unread,
                item.find("condition").flatMap(condition -> condition(condition, item)),
                item.at());
    }

    private static Optional<AssignmentCondition> condition(JsonPart condition, Item item) {
        if (!(condition instanceof JsonPart.JsonText text)) {
            return Optional.of(AssignmentCondition.notUnderstood());
        }
        return text.value().isBlank()
                ? Optional.empty()
                : Optional.of(AssignmentCondition.parse(
                        text.value(), item.text("conditionVersion").orElse("2.0")));
    }

    public Subscription subscription() {
        return subscription;
    }

    /** Returns what a role grants, by its identifier; absent where it was not read. */
    public Optional<RoleDefinition> definition(String roleDefinitionId) {
        return definition(RoleDefinition.guid(roleDefinitionId), Optional.empty());
    }

    private Optional<RoleDefinition> definition(String guid, Optional<String> printedName) {
        return Optional.ofNullable(definitions.get(guid)).or(() -> BuiltInRoles.named(guid, printedName));
    }

    /** Returns the assignments that were read, in the order of the lists. */
    public List<Assignment> assignments() {
        return assignments;
    }

    /** Returns what keeps the assignments from being known as a whole; absent when they are. */
    public Optional<Need> openAssignments() {
        return openAssignments;
    }

    /** Returns what keeps what denies from being known; absent when it is known, or was never asked for. */
    public Optional<Need> openDenies() {
        return openDenies;
    }

    /** True when what denies was asked for. */
    public boolean asksDenies() {
        return asksDenies;
    }

    /** Returns whether an assignment's scope is a resource's own, or above it. */
    public boolean covers(Assignment assignment, String resource) {
        return covers(ResourceId.key(assignment.scope()), ResourceId.key(resource));
    }

    /** True for the scope of everything, or of a management group, in the form in which scopes are compared. */
    public static boolean isAboveSubscriptions(String scope) {
        return scope.equals("/") || scope.startsWith("/providers/microsoft.management/managementgroups/");
    }

    /** As {@link #covers(Assignment, String)}, of identifiers in the form in which they are compared. */
    public static boolean covers(String scope, String resource) {
        // The list of a subscription holds what is assigned above it; the tree above need not be known.
        return isAboveSubscriptions(scope) || (!scope.isEmpty() && ResourceId.keyCovers(scope, resource));
    }

    /**
     * An assignment that may be somebody's own.
     *
     * @param place in the list of all
     * @param means whether it is
     * @param scope as scopes are compared
     */
    public record Own(int place, Assignment assignment, Truth means, String scope) {}

    /** Returns the assignments that are, or may be, to a principal, in the order of the lists. */
    public List<Own> of(String objectId) {
        return own(objectId).all();
    }

    /** Returns those of them whose scope is a resource's own, or above it. */
    public List<Own> of(String objectId, String resource) {
        return own(objectId).covering(ResourceId.key(resource));
    }

    private OwnAssignments own(String objectId) {
        return ownByPrincipal.computeIfAbsent(objectId.toLowerCase(Locale.ROOT), this::findOwn);
    }

    private OwnAssignments findOwn(String objectId) {
        List<Own> own = new ArrayList<>(toOne.getOrDefault(objectId, List.of()));
        for (Own each : toGroups) {
            Truth means = isTo(each.assignment(), objectId);
            if (means != Truth.FALSE) {
                own.add(new Own(each.place(), each.assignment(), means, each.scope()));
            }
        }
        return new OwnAssignments(own);
    }

    /** Returns whether an assignment is to a principal: by its own id, or by a group that it is in. */
    public Truth isTo(Assignment assignment, String objectId) {
        return isOne(assignment.principalId(), assignment.isToOne(), objectId);
    }

    private Truth isOne(String principal, boolean surelyNoGroup, String objectId) {
        if (principal.equals(objectId.toLowerCase(Locale.ROOT))) {
            return Truth.TRUE;
        }
        return surelyNoGroup ? Truth.FALSE : isIn(objectId, principal);
    }

    /** Returns whether a principal is in a group, directly or through others. */
    private Truth isIn(String objectId, String group) {
        return groups(objectId)
                .fold(
                        found -> Truth.of(found.value().contains(group)),
                        absent -> Truth.UNKNOWN,
                        unread -> Truth.UNKNOWN);
    }

    /** Returns the groups that a principal is in, by object id in lower case. */
    public Reading<Set<String>> groups(String objectId) {
        return groups.computeIfAbsent(objectId.toLowerCase(Locale.ROOT), key -> readGroups(objectId));
    }

    private Reading<Set<String>> readGroups(String objectId) {
        for (String kind : List.of("servicePrincipals/", "users/", "groups/")) {
            String of = subscription.spelled("member-of", kind + objectId);
            if (subscription.survey().asked("member-of", of)) {
                Reading<Survey.Listing> listing = subscription.survey().listing("member-of", of);
                boolean cut = listing.found()
                        .filter(pages -> !pages.complete()
                                || !pages.pages().stream().allMatch(page -> Page.isWhole(page.value(), "id")))
                        .isPresent();
                return cut
                        ? new Reading.Unread<>(Need.cutShort("member-of", of, "Graph GroupMember.Read.All"))
                        : listing.map(Roles::members);
            }
        }
        return new Reading.Unread<>(
                new Need("member-of", "servicePrincipals/" + objectId, "never asked", "Graph GroupMember.Read.All"));
    }

    private static Set<String> members(Survey.Listing listing) {
        return listing.pages().stream()
                .flatMap(page -> Page.elements(page.value()).orElse(List.of()).stream())
                .flatMap((JsonPart part) -> part.text("id").stream())
                .map(id -> id.toLowerCase(Locale.ROOT))
                .collect(Collectors.toSet());
    }

    /**
     * Returns whether something denies an action.
     *
     * @param because takes where what denies stands
     */
    public Truth denies(String objectId, String action, boolean isData, String resource, List<DenyAssignment> because) {
        return deniedByWhatWasRead(objectId, action, isData, resource, because)
                .or(openDenies.isPresent() ? Truth.UNKNOWN : Truth.FALSE);
    }

    private Truth deniedByWhatWasRead(
            String objectId, String action, boolean isData, String resource, List<DenyAssignment> because) {
        Truth denied = Truth.FALSE;
        for (DenyAssignment deny : denies) {
            Truth about = deny.isAbout(resource);
            if (about == Truth.FALSE || !deny.denies(action, isData)) {
                continue;
            }
            Truth means = deny.isForEveryone() ? Truth.TRUE : anyOf(deny.principals(), objectId);
            Truth spared = anyOf(deny.excluded(), objectId);
            Truth here = about.and(means).and(spared.not());
            if (deny.hasCondition()) {
                here = here.and(Truth.UNKNOWN);
            }
            if (here.isPossible()) {
                because.add(deny);
            }
            denied = denied.or(here);
        }
        return denied;
    }

    private Truth anyOf(List<DenyAssignment.Named> principals, String objectId) {
        Truth any = Truth.FALSE;
        for (DenyAssignment.Named principal : principals) {
            any = any.or(isOne(principal.objectId(), !principal.mayBeGroup(), objectId));
        }
        return any;
    }

    /** Returns the object ids of everybody to whom something is assigned, in the order of the lists. */
    public List<String> principals() {
        List<String> all = new ArrayList<>();
        assignments.stream()
                .map(Assignment::principalId)
                .filter(id -> !id.isEmpty())
                .distinct()
                .forEach(all::add);
        return all;
    }

    /**
     * Returns whether the survey's own principal may surely take an action in the whole subscription.
     *
     * @param takenBy {@code servicePrincipals/OID} or {@code users/OID}; empty when the header does not say
     */
    public boolean mayReadAll(String takenBy, String action) {
        String objectId = ResourceId.name(takenBy);
        if (!takenBy.contains("/") || objectId.isEmpty()) {
            return false;
        }
        boolean denied = deniedByWhatWasRead(objectId, action, false, subscription.id(), new ArrayList<>())
                .isPossible();
        return !denied
                && of(objectId, subscription.id()).stream()
                        .filter(own -> own.means() == Truth.TRUE)
                        .map(Own::assignment)
                        .filter(each -> each.condition().isEmpty())
                        .anyMatch(each -> each.definition()
                                .filter(role -> role.grants(action, false))
                                .isPresent());
    }
}
