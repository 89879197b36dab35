package warden.core.azure.principal;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * Somebody to whom roles can be assigned.
 *
 * @param id {@code servicePrincipals/OBJECTID}, {@code users/…} or {@code groups/…}
 * @param name as people know it; empty where it was not read, and for people, whose names are not stored
 * @param clientId the application's id, by which pipelines name it; absent where it was not read
 * @param secrets passwords and certificates, those of its application among them
 * @param federated the tokens of others that it takes instead
 * @param unread what keeps the secrets and tokens from being known
 * @param gone true when the directory says that there is no such principal
 * @param at where it stands; absent when it was not read
 */
public record Principal(
        String id,
        String name,
        Optional<String> clientId,
        Optional<String> application,
        boolean isManagedIdentity,
        List<Secret> secrets,
        List<Federated> federated,
        List<Need> unread,
        boolean gone,
        Optional<Citation> at) {
    public Principal {
        secrets = List.copyOf(secrets);
        federated = List.copyOf(federated);
        unread = List.copyOf(unread);
    }

    /** A password or a certificate; never its value. */
    public record Secret(
            String keyId, boolean isPassword, Optional<Instant> start, Optional<Instant> end, Citation at) {
        /** True when it is not known to have ended. */
        public boolean isAlive(Instant now) {
            return end.isEmpty() || end.get().isAfter(now);
        }
    }

    /**
     * A token of somebody else that is taken.
     *
     * @param subject absent where an expression stands in its place
     * @param expression what stands in the subject's place; absent where there is a subject
     */
    public record Federated(
            String name,
            String issuer,
            Optional<String> subject,
            Optional<String> expression,
            List<String> audiences,
            Citation at) {
        public Federated {
            audiences = List.copyOf(audiences);
        }
    }

    /** Returns the object id, in lower case. */
    public String objectId() {
        return id.substring(id.indexOf('/') + 1);
    }

    /** Returns how it is called: its name, or else its identifier. */
    public String called() {
        return name.isEmpty() ? id : name;
    }
}
