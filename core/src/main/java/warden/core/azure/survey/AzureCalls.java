package warden.core.azure.survey;

import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * The calls by which a survey reads its aspects: each a plain GET.
 *
 * <p>Source: Azure REST API reference, of each resource provider; Microsoft Graph REST API v1.0; Blob service REST API, "List Blobs", "Get Blob
 * Service Properties".
 */
public final class AzureCalls {
    private static final Pattern ALL_AT_SCOPE = Pattern.compile("\\?atScope\\(\\)$");
    private static final String STORAGE = "2025-08-01";
    private static final String CDN = "2025-06-01";

    /** Which of the provider's interfaces is asked. */
    public enum Interface {
        MANAGEMENT,
        DIRECTORY,
        BLOBS
    }

    /**
     * One call.
     *
     * @param path below the interface's address, not encoded; of blobs below the account's own address
     * @param query not encoded; empty for none
     */
    public record Request(Interface asked, String path, String query) {}

    /** What stands behind a subject's identifier, and the version of the interface. */
    private record Below(String path, String version) {}

    private static final Map<String, Below> MANAGEMENT = Map.ofEntries(
            Map.entry("subscription", new Below("", "2022-12-01")),
            Map.entry("storage-account-list", new Below("/providers/Microsoft.Storage/storageAccounts", STORAGE)),
            Map.entry("storage-account", new Below("", STORAGE)),
            Map.entry("blob-service", new Below("", STORAGE)),
            Map.entry("container-list", new Below("/containers", STORAGE)),
            Map.entry("container", new Below("", STORAGE)),
            Map.entry("management-policy", new Below("/managementPolicies/default", STORAGE)),
            Map.entry("cdn-profile-list", new Below("/providers/Microsoft.Cdn/profiles", CDN)),
            Map.entry("cdn-profile", new Below("", CDN)),
            Map.entry("cdn-endpoint-list", new Below("/endpoints", CDN)),
            Map.entry("cdn-endpoint", new Below("", CDN)),
            Map.entry("cdn-custom-domain-list", new Below("/customDomains", CDN)),
            Map.entry("cdn-custom-domain", new Below("", CDN)),
            Map.entry("front-door-endpoint-list", new Below("/afdEndpoints", CDN)),
            Map.entry("front-door-custom-domain-list", new Below("/customDomains", CDN)),
            Map.entry("front-door-origin-group-list", new Below("/originGroups", CDN)),
            Map.entry("front-door-origin-list", new Below("/origins", CDN)),
            Map.entry("front-door-rule-set-list", new Below("/ruleSets", CDN)),
            Map.entry("front-door-rule-list", new Below("/rules", CDN)),
            Map.entry("front-door-secret-list", new Below("/secrets", CDN)),
            Map.entry("front-door-security-policy-list", new Below("/securityPolicies", CDN)),
            Map.entry("front-door-route-list", new Below("/routes", CDN)),
            Map.entry("waf-policy", new Below("", "2022-05-01")),
            Map.entry("dns-zone-list", new Below("/providers/Microsoft.Network/dnszones", "2018-05-01")),
            Map.entry("dns-zone", new Below("", "2018-05-01")),
            Map.entry("dns-records", new Below("/recordsets", "2018-05-01")),
            Map.entry(
                    "role-assignment-list",
                    new Below("/providers/Microsoft.Authorization/roleAssignments", "2022-04-01")),
            Map.entry("role-assignment", new Below("", "2022-04-01")),
            Map.entry(
                    "role-definition-list",
                    new Below("/providers/Microsoft.Authorization/roleDefinitions", "2022-04-01")),
            Map.entry("role-definition", new Below("", "2022-04-01")),
            Map.entry(
                    "deny-assignment-list",
                    new Below("/providers/Microsoft.Authorization/denyAssignments", "2022-04-01")),
            Map.entry("lock-list", new Below("/providers/Microsoft.Authorization/locks", "2017-04-01")),
            Map.entry(
                    "delegated-management-list",
                    new Below("/providers/Microsoft.ManagedServices/registrationAssignments", "2022-10-01")),
            Map.entry(
                    "diagnostic-setting-list",
                    new Below("/providers/Microsoft.Insights/diagnosticSettings", "2021-05-01-preview")),
            Map.entry(
                    "managed-identity-list",
                    new Below("/providers/Microsoft.ManagedIdentity/userAssignedIdentities", "2024-11-30")),
            Map.entry("federated-credential-list", new Below("/federatedIdentityCredentials", "2024-11-30")),
            Map.entry("static-site-list", new Below("/providers/Microsoft.Web/staticSites", "2025-05-01")));

    private static final Map<String, String> DIRECTORY = Map.of(
            "service-principal",
            "?$select=id,appId,displayName,servicePrincipalType,alternativeNames,accountEnabled,passwordCredentials,keyCredentials",
            "application",
            "?$select=id,appId,displayName,passwordCredentials,keyCredentials",
            "application-owners",
            "/owners?$select=id",
            "member-of",
            "/transitiveMemberOf?$select=id",
            "federated-credential-list",
            "/federatedIdentityCredentials?");

    private AzureCalls() {}

    /** Returns the call that reads an aspect of a subject; absent for aspects that no call reads. */
    public static Optional<Request> of(String aspect, String of) {
        if (!of.startsWith("/") && DIRECTORY.containsKey(aspect)) {
            String below = DIRECTORY.get(aspect);
            int query = below.indexOf('?');
            return Optional.of(new Request(
                    Interface.DIRECTORY, "/v1.0/" + of + below.substring(0, query), below.substring(query + 1)));
        }
        if (aspect.equals("container-blobs")) {
            return Optional.of(new Request(
                    Interface.BLOBS,
                    "/" + of.substring(of.lastIndexOf('/') + 1),
                    "restype=container&comp=list&maxresults=5000"));
        }
        if (aspect.equals("static-website")) {
            return Optional.of(new Request(Interface.BLOBS, "/", "restype=service&comp=properties"));
        }
        Below below = of.startsWith("/") ? MANAGEMENT.get(aspect) : null;
        if (below == null) {
            return Optional.empty();
        }
        boolean isAtScope = ALL_AT_SCOPE.matcher(of).find();
        String filter = isAtScope
                ? "$filter=atScope()&"
                : aspect.equals("delegated-management-list") ? "$expandRegistrationDefinition=true&" : "";
        return Optional.of(new Request(
                Interface.MANAGEMENT,
                ALL_AT_SCOPE.matcher(of).replaceFirst("") + below.path(),
                filter + "api-version=" + version(aspect, of, below)));
    }

    private static String version(String aspect, String of, Below below) {
        return aspect.equals("waf-policy")
                        && of.toLowerCase(java.util.Locale.ROOT).contains("/microsoft.cdn/")
                ? CDN
                : below.version();
    }

    /** Returns how a line of a survey names the call that read it. */
    public static String called(Interface asked) {
        return switch (asked) {
            case MANAGEMENT -> "arm:GET";
            case DIRECTORY -> "graph:GET";
            case BLOBS -> "blob:ListBlobs";
        };
    }
}
