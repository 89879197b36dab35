package warden.core.pipeline;

import java.util.Optional;

/**
 * The credential that steps work with.
 *
 * @param name the role's ARN or name, or the access key's id or the name of the secret that holds it
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
        ACCESS_KEY
    }

    /** Returns the role's ARN or name; absent for access keys, and where only the running pipeline knows it. */
    public Optional<String> knownRole() {
        return kind != Kind.ACCESS_KEY && name.isKnown() ? Optional.of(name.text()) : Optional.empty();
    }
}
