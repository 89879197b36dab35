package warden.core.aws.policy;

/** Where a policy is attached, which decides what it must and must not contain. */
public enum PolicyKind {
    /** A bucket policy. Source: S3 User Guide, "Policies and permissions in Amazon S3". */
    BUCKET("the bucket policy", true),
    /** A key policy. Source: KMS Developer Guide, "Key policies in AWS KMS". */
    KEY("the key policy", true),
    /** A role's trust policy. Source: IAM User Guide, "Roles terms and concepts". */
    TRUST("the trust policy", true),
    /** A policy of a user, group or role, managed or inline; also a permissions boundary. */
    IDENTITY("the policy", false),
    /** A service control policy. Source: AWS Organizations User Guide, "SCP syntax". */
    ORGANIZATION("the organization policy", false);

    private final String called;
    private final boolean namesPrincipals;

    PolicyKind(String called, boolean namesPrincipals) {
        this.called = called;
        this.namesPrincipals = namesPrincipals;
    }

    /** Returns how a sentence calls it. */
    public String called() {
        return called;
    }

    /** True for resource-based policies, whose statements must say whom they are about. */
    public boolean namesPrincipals() {
        return namesPrincipals;
    }
}
