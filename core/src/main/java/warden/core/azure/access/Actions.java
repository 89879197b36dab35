package warden.core.azure.access;

import java.util.List;
import java.util.Locale;
import warden.core.access.Ability;
import warden.core.azure.account.ResourceId;

/**
 * The actions that matter, and which of them each ability stands for.
 *
 * <p>Source: "Azure permissions for Storage", "Azure permissions for Networking"; Storage documentation, "Authorize access to data in Azure
 * Storage".
 */
public final class Actions {
    public static final String STORAGE = "Microsoft.Storage/storageAccounts/";
    public static final String CONTAINERS = STORAGE + "blobServices/containers/";
    public static final String READ = CONTAINERS + "blobs/read";
    public static final String WRITE = CONTAINERS + "blobs/write";
    public static final String DELETE = CONTAINERS + "blobs/delete";
    public static final String ADD = CONTAINERS + "blobs/add/action";
    public static final String MOVE = CONTAINERS + "blobs/move/action";
    public static final String DELETE_VERSION = CONTAINERS + "blobs/deleteBlobVersion/action";
    public static final String PERMANENT_DELETE = CONTAINERS + "blobs/permanentDelete/action";
    public static final String LIST_KEYS = STORAGE + "listKeys/action";
    public static final String ACCOUNT_READ = STORAGE + "read";
    public static final String ACCOUNT_WRITE = STORAGE + "write";
    public static final String ASSIGN = "Microsoft.Authorization/roleAssignments/write";
    public static final String PURGE_CLASSIC = "Microsoft.Cdn/profiles/endpoints/Purge/action";
    public static final String PURGE_FRONT_DOOR = "Microsoft.Cdn/profiles/afdEndpoints/Purge/action";

    /** Each of them gives every right on every container, by key or signed URL. */
    public static final List<String> KEYS = List.of(
            LIST_KEYS,
            STORAGE + "regenerateKey/action",
            STORAGE + "ListAccountSas/action",
            STORAGE + "ListServiceSas/action");

    /** Each of them makes a local user, or tells one's password, who works with every container over SFTP. */
    public static final List<String> LOCAL_USERS =
            List.of(STORAGE + "localUsers/write", STORAGE + "localUsers/listKeys/action");

    /** What changes who may do what with a container, or how it serves and keeps its blobs. */
    public static final List<String> CHANGE_RULES = List.of(
            ACCOUNT_WRITE,
            STORAGE + "delete",
            STORAGE + "blobServices/write",
            CONTAINERS + "write",
            CONTAINERS + "delete",
            CONTAINERS + "setLegalHold/action",
            CONTAINERS + "immutabilityPolicies/write",
            CONTAINERS + "immutabilityPolicies/delete",
            CONTAINERS + "immutabilityPolicies/extend/action",
            CONTAINERS + "immutabilityPolicies/lock/action",
            STORAGE + "managementPolicies/write",
            STORAGE + "managementPolicies/delete",
            STORAGE + "objectReplicationPolicies/write",
            STORAGE + "restoreBlobRanges/action",
            STORAGE + "localUsers/write",
            STORAGE + "networkSecurityPerimeterConfigurations/action",
            STORAGE + "privateEndpointConnections/write",
            STORAGE + "privateEndpointConnections/delete",
            ASSIGN);

    private Actions() {}

    /** Returns the actions of an ability, the plainest first. */
    public static List<String> of(Ability ability) {
        return switch (ability) {
            case READ, LIST -> List.of(READ);
            case WRITE -> List.of(WRITE, MOVE, ADD);
            case DELETE -> List.of(DELETE, DELETE_VERSION, PERMANENT_DELETE);
            case CHANGE_RULES -> CHANGE_RULES;
        };
    }

    /** Returns the resource that an action of control on a container is asked of: the container, the blob service or the account. */
    public static String resource(String action, String container) {
        String account = ResourceId.accountIn(container).orElse(container);
        String lower = action.toLowerCase(Locale.ROOT);
        if (lower.startsWith(CONTAINERS.toLowerCase(Locale.ROOT)) || lower.equals(ASSIGN.toLowerCase(Locale.ROOT))) {
            return container;
        }
        return lower.startsWith((STORAGE + "blobServices/").toLowerCase(Locale.ROOT))
                ? ResourceId.blobService(account)
                : account;
    }
}
