package warden.core.azure.checks.policy;

import java.util.List;
import warden.core.audit.Check;

/** The checks of this area. */
public final class PolicyChecks {
    private PolicyChecks() {}

    /** Returns the area's checks. */
    public static List<Check> all() {
        return List.of(new PolicyStalePrincipal(), new PolicyUnknownAction());
    }
}
