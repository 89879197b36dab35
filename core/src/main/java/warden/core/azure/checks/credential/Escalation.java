package warden.core.azure.checks.credential;

import java.util.List;
import java.util.Optional;
import warden.core.azure.access.Actions;
import warden.core.azure.role.RoleDefinition;

/**
 * A way from a right to more rights.
 *
 * <p>Source: Azure role-based access control, "Azure permissions for Management and governance", "Azure permissions for Identity", "Azure
 * permissions for Security".
 *
 * @param means what it makes possible, as a phrase
 */
record Escalation(String action, String means) {
    private static final String VAULTS = "Microsoft.KeyVault/vaults/";
    private static final String IDENTITY = "Microsoft.ManagedIdentity/userAssignedIdentities/";
    private static final List<Escalation> PATHS = List.of(
            new Escalation(Actions.ASSIGN, "assign itself any role there"),
            new Escalation("Microsoft.Authorization/roleDefinitions/write", "widen a custom role that it holds"),
            new Escalation("Microsoft.Authorization/elevateAccess/action", "become the owner of everything"),
            new Escalation(IDENTITY + "federatedIdentityCredentials/write", "sign in as a managed identity"),
            new Escalation(VAULTS + "write", "let itself read the secrets of a vault"),
            new Escalation(VAULTS + "accessPolicies/write", "let itself read the secrets of a vault"));
    private static final String ASSIGN_IDENTITY = IDENTITY + "*/assign/action";

    private static final List<String> RUNS_CODE = List.of(
            "Microsoft.Web/sites/write",
            "Microsoft.Compute/virtualMachines/write",
            "Microsoft.ContainerInstance/containerGroups/write",
            "Microsoft.Automation/automationAccounts/jobs/write",
            "Microsoft.Resources/deploymentScripts/write");

    /**
     * Returns the first way that a role opens; absent when it opens none.
     *
     * @param runsCode whether a role of the same principal lets it run code of its own
     */
    static Optional<Escalation> of(RoleDefinition role, boolean runsCode) {
        Optional<Escalation> plain =
                PATHS.stream().filter(path -> role.grants(path.action(), false)).findFirst();
        boolean assigns = role.grants(ASSIGN_IDENTITY, false);
        return plain.or(() -> assigns && runsCode
                ? Optional.of(new Escalation(ASSIGN_IDENTITY, "run code as a managed identity"))
                : Optional.empty());
    }

    /** True for a role that lets its holder run code of its own. */
    static boolean runsCode(RoleDefinition role) {
        return RUNS_CODE.stream().anyMatch(action -> role.grants(action, false));
    }

    /** True when it matters only where a secret of the site lies in a vault, which no survey tells. */
    boolean isOfVaults() {
        return action.startsWith(VAULTS);
    }
}
