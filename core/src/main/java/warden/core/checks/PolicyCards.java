package warden.core.checks;

import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;

/** The catalogue entries of questions about policy that are put to the sites of every provider. */
public final class PolicyCards {
    private PolicyCards() {}

    public static final CheckCard POLICY_UNKNOWN_ACTION = new CheckCard(
            "policy-unknown-action",
            Area.POLICY,
            Severity.MEDIUM,
            "an action that does not exist (nearest name offered)",
            "bucket-policy, key-policy, organization-policy, iam-user, iam-group, iam-role, iam-policy",
            "What was meant is neither granted nor denied.",
            "Correct the action's name.",
            "Service Authorization Reference, \"Actions, resources, and condition keys for AWS services\"");

    public static final CheckCard POLICY_STALE_PRINCIPAL = new CheckCard(
            "policy-stale-principal",
            Area.POLICY,
            Severity.LOW,
            "names a deleted principal or origin identity",
            "bucket-policy, origin-identity",
            "The statement does nothing, and hides from readers what the policy does.",
            "Remove the principal, or put the new one in its place.",
            "IAM User Guide, \"AWS JSON policy elements: Principal\"");
}
