package warden.core.azure.role;

import java.util.List;
import java.util.Map;
import warden.core.document.Json;

/** Spells custom roles as the provider's command line takes them. Source: Azure role-based access control documentation, "Azure custom roles". */
public final class CustomRole {
    private CustomRole() {}

    /**
     * Returns a definition's members, in the provider's order.
     *
     * @param actions what it grants of the control plane
     * @param dataActions what it grants of the content
     * @param scopes where it may be assigned: a list of texts
     */
    public static Map<String, Object> definition(
            String name, String description, List<String> actions, List<String> dataActions, Object scopes) {
        return Json.object(
                "Name",
                name,
                "IsCustom",
                true,
                "Description",
                description,
                "Actions",
                actions,
                "NotActions",
                List.of(),
                "DataActions",
                dataActions,
                "NotDataActions",
                List.of(),
                "AssignableScopes",
                scopes);
    }
}
