package warden.core.azure.role;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.azure.account.Item;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;

/**
 * What a role grants: the union over its parts of what each grants less what the same part takes away.
 *
 * <p>Source: Azure role-based access control, "Understand Azure role definitions".
 *
 * @param guid what identifies it, whatever stands before it
 * @param isCustom true for a role that the customer wrote
 * @param at where it stands; absent for the program's own copy
 */
public record RoleDefinition(
        String guid, String id, String name, boolean isCustom, List<Part> parts, Optional<Citation> at) {
    public RoleDefinition {
        parts = List.copyOf(parts);
    }

    /** One of its parts. */
    public record Part(
            List<String> actions, List<String> notActions, List<String> dataActions, List<String> notDataActions) {
        public Part {
            actions = List.copyOf(actions);
            notActions = List.copyOf(notActions);
            dataActions = List.copyOf(dataActions);
            notDataActions = List.copyOf(notDataActions);
        }

        /** Returns whether it grants an action. */
        public boolean grants(String action, boolean isData) {
            return ActionPattern.matchesAny(isData ? dataActions : actions, action)
                    && !ActionPattern.matchesAny(isData ? notDataActions : notActions, action);
        }
    }

    /** Returns whether a list of permissions is one: each of its parts an object, and each of their members a list of texts, or missing. */
    static boolean areWhole(Optional<JsonPart> permissions) {
        return permissions
                .filter(JsonPart.JsonArray.class::isInstance)
                .filter(list -> list.list().stream().allMatch(RoleDefinition::isWhole))
                .isPresent();
    }

    private static boolean isWhole(JsonPart permission) {
        return permission instanceof JsonPart.JsonObject
                && Stream.of("actions", "notActions", "dataActions", "notDataActions")
                        .flatMap(member -> permission.find(member).stream())
                        .allMatch(list -> list instanceof JsonPart.JsonArray array
                                && array.items().stream().allMatch(JsonPart.JsonText.class::isInstance));
    }

    static RoleDefinition of(Item item) {
        List<Part> parts =
                item.list("permissions").stream().map(RoleDefinition::part).toList();
        return new RoleDefinition(
                guid(item.id()),
                item.id(),
                item.text("roleName").orElse(item.name()),
                item.text("type").filter("CustomRole"::equalsIgnoreCase).isPresent(),
                parts,
                Optional.of(item.at()));
    }

    static Part part(JsonPart permission) {
        return new Part(
                permission.texts("actions"),
                permission.texts("notActions"),
                permission.texts("dataActions"),
                permission.texts("notDataActions"));
    }

    /** Returns the last segment of an identifier, in lower case. */
    public static String guid(String id) {
        return id.substring(id.lastIndexOf('/') + 1).toLowerCase(Locale.ROOT);
    }

    /** Returns whether it grants an action. */
    public boolean grants(String action, boolean isData) {
        for (Part part : parts) {
            if (part.grants(action, isData)) {
                return true;
            }
        }
        return false;
    }

    /** True when it grants every action of control. */
    public boolean grantsAllControl() {
        return parts.stream()
                .anyMatch(part ->
                        part.actions().contains("*") && part.notActions().isEmpty());
    }
}
