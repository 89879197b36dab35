package warden.core.aws.checks.policy;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "policy". */
public final class PolicyChecks {
    private PolicyChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new PolicyInvalid(),
                new PolicyNamesBucketNotObjects(),
                new PolicyNamesOtherBucket(),
                new PolicyTemplateText(),
                new PolicyUnknownAction(),
                new PolicyDeadStatement(),
                new PolicyAllowNotPrincipal(),
                new PolicyStalePrincipal(),
                new PolicyWiderThanNeeded());
    }
}
