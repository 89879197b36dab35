package warden.core.azure.role;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import warden.core.access.Truth;
import warden.core.azure.account.Item;
import warden.core.azure.account.ResourceId;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;

/**
 * What takes permissions away, whatever grants them.
 *
 * <p>Source: Azure role-based access control, "List Azure deny assignments".
 *
 */
public record DenyAssignment(
        String id,
        List<Named> principals,
        List<Named> excluded,
        String scope,
        boolean sparesChildren,
        List<RoleDefinition.Part> parts,
        boolean hasCondition,
        Citation at) {
    /**
     * Whom it names.
     *
     * @param objectId in lower case
     * @param mayBeGroup false where the provider says that it is no group
     */
    public record Named(String objectId, boolean mayBeGroup) {}

    private static final Set<String> NO_GROUPS =
            Set.of("user", "serviceprincipal", "device", "systemdefined", "everyone");
    private static final String EVERYONE = "00000000-0000-0000-0000-000000000000";

    public DenyAssignment {
        principals = List.copyOf(principals);
        excluded = List.copyOf(excluded);
        parts = List.copyOf(parts);
    }

    /** Returns whether all that decides whom it stops, where and from what was understood. */
    static boolean isWhole(Item item) {
        return item.text("scope").filter(scope -> !scope.isEmpty()).isPresent()
                && item.find("principals")
                        .filter(JsonPart.JsonArray.class::isInstance)
                        .isPresent()
                && item.list("principals").stream()
                        .allMatch(each -> each.text("id").isPresent())
                && item.list("excludePrincipals").stream()
                        .allMatch(each -> each.text("id").isPresent())
                && RoleDefinition.areWhole(item.find("permissions"));
    }

    static DenyAssignment of(Item item) {
        return new DenyAssignment(
                item.id(),
                ids(item.list("principals")),
                ids(item.list("excludePrincipals")),
                item.text("scope").orElse(""),
                item.flag("doNotApplyToChildScopes").orElse(false),
                item.list("permissions").stream().map(RoleDefinition::part).toList(),
                item.find("condition")
                        .filter(condition ->
                                !condition.scalar().map(String::isBlank).orElse(false))
                        .isPresent(),
                item.at());
    }

    private static List<Named> ids(List<JsonPart> principals) {
        List<Named> ids = new ArrayList<>();
        principals.forEach(principal -> principal
                .text("id")
                .ifPresent(id -> ids.add(new Named(
                        id.toLowerCase(Locale.ROOT),
                        principal
                                .text("type")
                                .filter(type -> NO_GROUPS.contains(type.toLowerCase(Locale.ROOT)))
                                .isEmpty()))));
        return ids;
    }

    /** True when it means everyone. */
    boolean isForEveryone() {
        return principals.stream().anyMatch(named -> named.objectId().equals(EVERYONE));
    }

    /** Returns whether it holds for a resource. A blob is no scope: whether it counts as a child of its container is not said. */
    Truth isAbout(String resource) {
        if (!sparesChildren) {
            return Truth.of(ResourceId.covers(scope, resource));
        }
        boolean isOfContainer = ResourceId.blobIn(resource).isPresent()
                && ResourceId.containerIn(resource)
                        .filter(container -> ResourceId.same(scope, container))
                        .isPresent();
        return isOfContainer ? Truth.UNKNOWN : Truth.of(ResourceId.same(scope, resource));
    }

    boolean denies(String action, boolean isData) {
        return parts.stream().anyMatch(part -> part.grants(action, isData));
    }
}
