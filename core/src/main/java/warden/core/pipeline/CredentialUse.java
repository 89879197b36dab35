package warden.core.pipeline;

import java.util.Optional;
import java.util.Set;

/**
 * The credential that steps work with.
 *
 * @param name a role's ARN or name, an access key's id, a principal's client id, a managed identity's id; for a key or signed URL, the name of
 *     what holds it
 * @param region the region that is set with it; absent when none is
 * @param line where it is chosen, counted from 1
 */
public record CredentialUse(Kind kind, PipelineValue name, Optional<PipelineValue> region, int line) {
    /** How the pipeline gets it. */
    public enum Kind {
        /** A role, assumed by the pipeline's own short-lived token. */
        ROLE_BY_TOKEN,
        /** A role that the machine or service has. */
        ROLE,
        /** A user's access key, kept as a secret. */
        ACCESS_KEY,
        /** A principal that signs in by the pipeline's own short-lived token. */
        PRINCIPAL_BY_TOKEN,
        /** A principal that signs in by a password. */
        PRINCIPAL_BY_PASSWORD,
        /** A principal that signs in by a certificate. */
        PRINCIPAL_BY_CERTIFICATE,
        /** The identity that the machine or service has. */
        MANAGED_IDENTITY,
        /** Whatever the forge's administrator put behind a name. */
        SERVICE_CONNECTION,
        /** The key of a whole storage account. */
        STORE_KEY,
        /** A URL signed with the account's key, for the account or for one container. */
        SIGNED_BY_KEY,
        /** A URL signed by a principal that signed in, for a week at most. */
        SIGNED_BY_PRINCIPAL,
        /** A signed URL; by what is not known. */
        SIGNED;

        /** True for principals, whatever they sign in by. */
        public boolean isPrincipal() {
            return PRINCIPALS.contains(this);
        }

        /** True for what is as good as the account's key, or may be. */
        public boolean isByStoreKey() {
            return BY_STORE_KEY.contains(this);
        }
    }

    private static final Set<Kind> PRINCIPALS = Set.of(
            Kind.PRINCIPAL_BY_TOKEN,
            Kind.PRINCIPAL_BY_PASSWORD,
            Kind.PRINCIPAL_BY_CERTIFICATE,
            Kind.MANAGED_IDENTITY,
            Kind.SERVICE_CONNECTION);
    private static final Set<Kind> BY_STORE_KEY = Set.of(Kind.STORE_KEY, Kind.SIGNED_BY_KEY, Kind.SIGNED);

    /** Returns the role's ARN or name; absent for other credentials, and where only the running pipeline knows it. */
    public Optional<String> knownRole() {
        return (kind == Kind.ROLE || kind == Kind.ROLE_BY_TOKEN) && name.isKnown()
                ? Optional.of(name.text())
                : Optional.empty();
    }
}
