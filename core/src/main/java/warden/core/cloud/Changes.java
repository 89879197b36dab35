package warden.core.cloud;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import warden.core.access.Ability;
import warden.core.access.Gain;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * What changed between two states of one provider's accounts.
 *
 * @param reach who gained or lost what, store by store
 * @param credentials whose rights, or whose own way in, changed
 * @param names zones, records and certificates
 * @param incomparable what one side does not know
 * @param partners what things of the new state are called in the old one, where that is another identifier
 */
public record Changes(
        List<OfReach> reach,
        List<OfCredential> credentials,
        List<OfName> names,
        List<Need> incomparable,
        Map<String, String> partners) {
    public Changes {
        reach = List.copyOf(reach);
        credentials = List.copyOf(credentials);
        names = List.copyOf(names);
        incomparable = List.copyOf(incomparable);
        partners = Map.copyOf(partners);
    }

    /**
     * What one caller gained or lost in one store.
     *
     * @param who as questions spell it, or an edge's identifier
     * @param isOutsider false for the account's own principals
     */
    public record OfReach(
            String store,
            String who,
            boolean isOutsider,
            Ability ability,
            Optional<Gain> gained,
            Optional<Gain> lost) {}

    /** Whether something is there in both states. */
    public enum Presence {
        NEW,
        GONE,
        CHANGED
    }

    /**
     * What changed of a credential.
     *
     * @param publishes true for one that publishes a site in either state
     * @param gained actions that it may do now on something on which it could not, worst first
     * @param trustGained who may work as it now and could not
     */
    public record OfCredential(
            String credential,
            Presence presence,
            boolean publishes,
            List<Allowed> gained,
            List<Allowed> lost,
            List<Trusted> trustGained,
            List<Trusted> trustLost) {
        public OfCredential {
            gained = List.copyOf(gained);
            lost = List.copyOf(lost);
            trustGained = List.copyOf(trustGained);
            trustLost = List.copyOf(trustLost);
        }

        /** True when somebody else may work as it, or a publisher may do more than before. */
        public boolean isWorse() {
            return !trustGained.isEmpty() || (publishes && !gained.isEmpty());
        }

        /** True when something of it changed. */
        public boolean isTold() {
            return presence != Presence.CHANGED
                    || !gained.isEmpty()
                    || !lost.isEmpty()
                    || !trustGained.isEmpty()
                    || !trustLost.isEmpty();
        }
    }

    /** An action that is allowed, on a resource that shows it. */
    public record Allowed(String action, String on, List<Citation> because) {
        public Allowed {
            because = List.copyOf(because);
        }
    }

    /**
     * Somebody who may work as a credential.
     *
     * @param who a principal as questions spell it, or a token's issuer
     * @param claims what a token carries, by claim; none for principals
     */
    public record Trusted(String who, Map<String, String> claims, List<Citation> because) {
        public Trusted {
            claims = Map.copyOf(claims);
            because = List.copyOf(because);
        }
    }

    /** The kinds of what has a name. */
    public enum NameKind {
        HOST,
        RECORD,
        ZONE,
        CERTIFICATE
    }

    /** What became of a name. */
    public enum NameChange {
        NEW,
        GONE,
        MOVED,
        ENDS_SOONER;

        /** Returns the word that reports use. */
        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /** What changed of a name. */
    public record OfName(
            String name, NameKind kind, NameChange change, Optional<String> before, Optional<String> after) {}
}
