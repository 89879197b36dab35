package warden.core.aws.policy;

/** What a statement does when it matches. Source: IAM User Guide, "IAM JSON policy elements: Effect". */
public enum Effect {
    ALLOW,
    DENY
}
