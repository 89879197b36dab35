package warden.core.azure.role;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The program's own copy of some built-in roles, for surveys that do not hold their definitions.
 *
 * <p>Source: Azure role-based access control, "Azure built-in roles". Of the rows marked as uncertain the identifier is from memory, so that they
 * serve only where the assignment prints the role's name too.
 */
public final class BuiltInRoles {
    private static final String ST = "Microsoft.Storage/storageAccounts/";
    private static final String CONTAINERS = ST + "blobServices/containers/";
    private static final String BLOBS = CONTAINERS + "blobs/";
    private static final String KEY = ST + "blobServices/generateUserDelegationKey/action";
    private static final String AU = "Microsoft.Authorization/";
    /** What most roles of one service hold beside it. */
    private static final List<String> USUAL = List.of(
            AU + "*/read",
            "Microsoft.Insights/alertRules/*",
            "Microsoft.Resources/deployments/*",
            "Microsoft.Resources/subscriptions/resourceGroups/read",
            "Microsoft.Support/*");

    private record Row(RoleDefinition role, boolean certain) {}

    private static final Map<String, Row> ROWS = Stream.of(
                    certain("Owner", "8e3af657-a8ff-443c-a75c-2fe8c4bcb635", List.of("*"), List.of(), List.of()),
                    certain(
                            "Contributor",
                            "b24988ac-6180-42a0-ab88-20f7382dd24c",
                            List.of("*"),
                            List.of(
                                    AU + "*/Delete",
                                    AU + "*/Write",
                                    AU + "elevateAccess/Action",
                                    "Microsoft.Blueprint/blueprintAssignments/write",
                                    "Microsoft.Blueprint/blueprintAssignments/delete",
                                    "Microsoft.Compute/galleries/share/action",
                                    "Microsoft.Purview/consents/write",
                                    "Microsoft.Purview/consents/delete",
                                    "Microsoft.Resources/deploymentStacks/manageDenySetting/action"),
                            List.of()),
                    certain("Reader", "acdd72a7-3385-48ef-bd42-f606fba81ae7", List.of("*/read"), List.of(), List.of()),
                    certain(
                            "Managed Identity Operator",
                            "f1a07417-d97a-45cb-824c-7a7467783830",
                            with(
                                    "Microsoft.ManagedIdentity/userAssignedIdentities/*/read",
                                    "Microsoft.ManagedIdentity/userAssignedIdentities/*/assign/action"),
                            List.of(),
                            List.of()),
                    uncertain(
                            "Managed Identity Contributor",
                            "e40ec5ca-96e0-45a2-b4ff-59039f2c2b59",
                            with("Microsoft.ManagedIdentity/userAssignedIdentities/*"),
                            List.of()),
                    uncertain(
                            "User Access Administrator",
                            "18d7d88d-d35e-4fb5-a5c3-7773c20a72d9",
                            List.of("*/read", AU + "*", "Microsoft.Support/*"),
                            List.of()),
                    uncertain(
                            "Role Based Access Control Administrator",
                            "f58310d9-a9f6-439a-9e8d-f62e7b41a168",
                            List.of(
                                    AU + "roleAssignments/write",
                                    AU + "roleAssignments/delete",
                                    "*/read",
                                    "Microsoft.Support/*"),
                            List.of()),
                    uncertain(
                            "Storage Account Contributor",
                            "17d1049b-9a84-46fb-8f53-869881c3d3ab",
                            with(
                                    "Microsoft.Insights/diagnosticSettings/*",
                                    "Microsoft.Network/virtualNetworks/subnets/joinViaServiceEndpoint/action",
                                    "Microsoft.ResourceHealth/availabilityStatuses/read",
                                    ST + "*"),
                            List.of()),
                    uncertain(
                            "Storage Account Key Operator Service Role",
                            "81a9662b-bebf-436f-a333-f67b29880f12",
                            List.of(ST + "listkeys/action", ST + "regeneratekey/action"),
                            List.of()),
                    uncertain(
                            "Reader and Data Access",
                            "c12c1c16-33a1-487b-954d-41c89c60f349",
                            List.of(ST + "listKeys/action", ST + "ListAccountSas/action", ST + "read"),
                            List.of()),
                    uncertain(
                            "Storage Blob Data Owner",
                            "b7e6dc6d-f1e8-4753-8033-0f276bb0955b",
                            List.of(CONTAINERS + "*", KEY),
                            List.of(BLOBS + "*")),
                    uncertain(
                            "Storage Blob Data Contributor",
                            "ba92f5b4-2d11-453d-a403-e96b0029c9fe",
                            List.of(CONTAINERS + "delete", CONTAINERS + "read", CONTAINERS + "write", KEY),
                            List.of(
                                    BLOBS + "delete",
                                    BLOBS + "read",
                                    BLOBS + "write",
                                    BLOBS + "move/action",
                                    BLOBS + "add/action")),
                    uncertain(
                            "Storage Blob Data Reader",
                            "2a2b9908-6ea1-4ae2-8e65-a410df84e7d1",
                            List.of(CONTAINERS + "read", KEY),
                            List.of(BLOBS + "read")),
                    uncertain(
                            "Storage Blob Delegator", "db58b8e5-c6ad-4a2a-8342-4190687cbf4a", List.of(KEY), List.of()),
                    uncertain(
                            "CDN Endpoint Contributor",
                            "426e0c7f-0c7e-4658-b36f-ff54d6c29b45",
                            with(
                                    "Microsoft.Cdn/edgenodes/read",
                                    "Microsoft.Cdn/operationresults/*",
                                    "Microsoft.Cdn/profiles/endpoints/*"),
                            List.of()),
                    uncertain(
                            "CDN Profile Contributor",
                            "ec156ff8-a8d1-4d15-830c-5b80698ca432",
                            with(
                                    "Microsoft.Cdn/edgenodes/read",
                                    "Microsoft.Cdn/operationresults/*",
                                    "Microsoft.Cdn/profiles/*"),
                            List.of()),
                    uncertain(
                            "DNS Zone Contributor",
                            "befefa01-2a29-4197-83a8-272ff33ce314",
                            with("Microsoft.Network/dnsZones/*"),
                            List.of()),
                    uncertain(
                            "Website Contributor",
                            "de139f84-1756-47ae-9be6-808fbbe84772",
                            with(
                                    "Microsoft.Insights/components/*",
                                    "Microsoft.Web/certificates/*",
                                    "Microsoft.Web/listSitesAssignedToHostName/read",
                                    "Microsoft.Web/serverFarms/join/action",
                                    "Microsoft.Web/serverFarms/read",
                                    "Microsoft.Web/sites/*"),
                            List.of()))
            .collect(Collectors.toMap(row -> row.role().guid(), Function.identity()));

    private BuiltInRoles() {}

    private static List<String> with(String... more) {
        return Stream.concat(USUAL.stream(), Stream.of(more)).toList();
    }

    private static Row certain(
            String name, String guid, List<String> actions, List<String> notActions, List<String> dataActions) {
        return new Row(role(name, guid, actions, notActions, dataActions), true);
    }

    private static Row uncertain(String name, String guid, List<String> actions, List<String> dataActions) {
        return new Row(role(name, guid, actions, List.of(), dataActions), false);
    }

    private static RoleDefinition role(
            String name, String guid, List<String> actions, List<String> notActions, List<String> dataActions) {
        RoleDefinition.Part part = new RoleDefinition.Part(actions, notActions, dataActions, List.of());
        return new RoleDefinition(
                guid,
                "/providers/Microsoft.Authorization/roleDefinitions/" + guid,
                name,
                false,
                List.of(part),
                Optional.empty());
    }

    /**
     * Returns the copy of a role.
     *
     * @param printedName the role's name as the assignment prints it; absent where it prints none
     */
    static Optional<RoleDefinition> named(String guid, Optional<String> printedName) {
        return Optional.ofNullable(ROWS.get(guid.toLowerCase(Locale.ROOT)))
                .filter(row -> row.certain()
                        || printedName
                                .filter(row.role().name()::equalsIgnoreCase)
                                .isPresent())
                .map(Row::role);
    }

    /** Returns the name of a built-in role, for people to read; absent for one that is not in the copy. */
    public static Optional<String> nameOf(String guid) {
        return Optional.ofNullable(ROWS.get(guid.toLowerCase(Locale.ROOT)))
                .map(row -> row.role().name());
    }
}
