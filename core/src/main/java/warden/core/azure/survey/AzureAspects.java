package warden.core.azure.survey;

import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.survey.Aspects;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/**
 * The aspects of this provider's surveys.
 *
 * <p>Source: Azure REST API reference of each call; Azure role-based access control, "Azure permissions"; Microsoft Graph, "Permissions
 * reference".
 */
public final class AzureAspects implements Aspects {
    /** The word by which headers of surveys, and steps of pipelines, name the provider. */
    public static final String PROVIDER = "azure";

    public static final AzureAspects TABLE = new AzureAspects();
    private static final String STORAGE = "Microsoft.Storage/storageAccounts/";
    private static final String CDN = "Microsoft.Cdn/profiles/";
    private static final String AUTHORIZATION = "Microsoft.Authorization/";
    private static final String GRAPH = "Graph Application.Read.All";
    /** Without it no list of a group's resources answers. */
    private static final String GROUPS = "Microsoft.Resources/subscriptions/resourceGroups/read";

    private static final Map<String, String> BY_ASPECT = Map.ofEntries(
            Map.entry("subscription", "Microsoft.Resources/subscriptions/read"),
            Map.entry("storage-account-list", STORAGE + "read"),
            Map.entry("storage-account", STORAGE + "read"),
            Map.entry("blob-service", STORAGE + "blobServices/read"),
            Map.entry("static-website", STORAGE + "blobServices/read"),
            Map.entry("container-list", STORAGE + "blobServices/containers/read"),
            Map.entry("container", STORAGE + "blobServices/containers/read"),
            Map.entry("container-blobs", STORAGE + "blobServices/containers/blobs/read"),
            Map.entry("management-policy", STORAGE + "managementPolicies/read"),
            Map.entry("cdn-profile-list", CDN + "read"),
            Map.entry("cdn-profile", CDN + "read"),
            Map.entry("cdn-endpoint-list", CDN + "endpoints/read"),
            Map.entry("cdn-endpoint", CDN + "endpoints/read"),
            Map.entry("cdn-custom-domain-list", CDN + "endpoints/customDomains/read"),
            Map.entry("cdn-custom-domain", CDN + "endpoints/customDomains/read"),
            Map.entry("front-door-endpoint-list", CDN + "afdEndpoints/read"),
            Map.entry("front-door-custom-domain-list", CDN + "customDomains/read"),
            Map.entry("front-door-origin-group-list", CDN + "originGroups/read"),
            Map.entry("front-door-origin-list", CDN + "originGroups/origins/read"),
            Map.entry("front-door-rule-set-list", CDN + "ruleSets/read"),
            Map.entry("front-door-rule-list", CDN + "ruleSets/rules/read"),
            Map.entry("front-door-secret-list", CDN + "secrets/read"),
            Map.entry("front-door-security-policy-list", CDN + "securityPolicies/read"),
            Map.entry("front-door-route-list", CDN + "afdEndpoints/routes/read"),
            Map.entry("waf-policy", "Microsoft.Network/frontDoorWebApplicationFirewallPolicies/read"),
            Map.entry("dns-zone-list", "Microsoft.Network/dnsZones/read"),
            Map.entry("dns-zone", "Microsoft.Network/dnsZones/read"),
            Map.entry("dns-records", "Microsoft.Network/dnsZones/recordsets/read"),
            Map.entry("role-assignment-list", AUTHORIZATION + "roleAssignments/read"),
            Map.entry("role-assignment", AUTHORIZATION + "roleAssignments/read"),
            Map.entry("role-definition-list", AUTHORIZATION + "roleDefinitions/read"),
            Map.entry("role-definition", AUTHORIZATION + "roleDefinitions/read"),
            Map.entry("deny-assignment-list", AUTHORIZATION + "denyAssignments/read"),
            Map.entry("lock-list", AUTHORIZATION + "locks/read"),
            Map.entry("delegated-management-list", "Microsoft.ManagedServices/registrationAssignments/read"),
            Map.entry("diagnostic-setting-list", "Microsoft.Insights/diagnosticSettings/read"),
            Map.entry("managed-identity-list", "Microsoft.ManagedIdentity/userAssignedIdentities/read"),
            Map.entry(
                    "federated-credential-list",
                    "Microsoft.ManagedIdentity/userAssignedIdentities/federatedIdentityCredentials/read"),
            Map.entry("service-principal", GRAPH),
            Map.entry("application", GRAPH),
            Map.entry("application-owners", GRAPH),
            Map.entry("member-of", "Graph GroupMember.Read.All"),
            Map.entry("static-site-list", "Microsoft.Web/staticSites/read"));

    /** Permissions of the directory, which an administrator consents to; the others stand in a role. */
    private static final String OF_DIRECTORY = "Graph ";
    /** A data action, which stands in a role of its own. */
    public static final String READ_BLOBS = STORAGE + "blobServices/containers/blobs/read";

    private static final Set<String> ABSENT = Set.of(
            "ResourceNotFound",
            "ResourceGroupNotFound",
            "ParentResourceNotFound",
            "NotFound",
            "ManagementPolicyNotFound",
            "RoleDefinitionDoesNotExist",
            "ContainerNotFound",
            "BlobNotFound",
            "Request_ResourceNotFound");

    /** The members by which a page names the one that follows: of the management API, the directory and the storage. */
    private static final List<String> MORE = List.of("nextLink", "@odata.nextLink", "nextMarker");

    private AzureAspects() {}

    @Override
    public String permission(String aspect) {
        return BY_ASPECT.getOrDefault(aspect, "");
    }

    @Override
    public String permission(SurveyLine line) {
        return line.aspect().equals("federated-credential-list") && line.of().startsWith("applications/")
                ? GRAPH
                : permission(line.aspect());
    }

    @Override
    public boolean meansAbsent(String aspect, String code) {
        return ABSENT.contains(code);
    }

    @Override
    public boolean saysMoreFollows(SurveyLine line) {
        if (line.outcome() != Outcome.FOUND || MORE.stream().noneMatch(line.body()::contains)) {
            return false;
        }
        JsonPart page = line.document();
        return MORE.stream().map(page::text).flatMap(Optional::stream).anyMatch(more -> !more.isEmpty());
    }

    /** Returns the actions that the survey's role holds, without those of the directory and of blobs. */
    public List<String> actions() {
        return Stream.concat(BY_ASPECT.values().stream(), Stream.of(GROUPS))
                .filter(permission -> !permission.startsWith(OF_DIRECTORY) && !permission.equals(READ_BLOBS))
                .distinct()
                .sorted()
                .toList();
    }

    /** Returns the directory's permissions that a survey takes. */
    public List<String> ofDirectory() {
        return BY_ASPECT.values().stream()
                .filter(permission -> permission.startsWith(OF_DIRECTORY))
                .map(permission -> permission.substring(OF_DIRECTORY.length()))
                .distinct()
                .sorted()
                .toList();
    }

    @Override
    public List<String> permissions() {
        Set<String> all = new TreeSet<>(BY_ASPECT.values());
        all.add(GROUPS);
        return List.copyOf(all);
    }

    @Override
    public boolean isPermission(String permission) {
        return permission.startsWith(OF_DIRECTORY) || permission.indexOf('/') > 0;
    }

    /** A part of a role's definition; what the directory grants stands behind it. */
    @Override
    public String grant(Collection<String> permissions) {
        List<String> actions = permissions.stream()
                .filter(each -> !each.startsWith(OF_DIRECTORY) && !each.equals(READ_BLOBS))
                .toList();
        List<String> data = permissions.stream().filter(READ_BLOBS::equals).toList();
        String directory = permissions.stream()
                .filter(each -> each.startsWith(OF_DIRECTORY))
                .collect(Collectors.joining(", "));
        String role = actions.isEmpty() && data.isEmpty()
                ? ""
                : Json.text(Json.object(
                        "Actions", actions, "NotActions", List.of(), "DataActions", data, "NotDataActions", List.of()));
        return role + (role.isEmpty() || directory.isEmpty() ? "" : ", ") + directory;
    }
}
