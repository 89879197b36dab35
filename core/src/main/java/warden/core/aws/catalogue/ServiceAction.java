package warden.core.aws.catalogue;

import java.util.List;
import java.util.Locale;

/**
 * One action of a service.
 *
 * @param name with the service's prefix, as the provider spells it: {@code s3:GetObject}
 * @param lowerCaseName the same in lower case, in which actions are compared
 * @param level what kind of access it gives
 * @param resourceType the kind of resource that it is asked of; {@code *} where it is asked of none in particular
 * @param conditionKeys the service's own condition keys that its requests carry or may carry, beside the global ones; a part in angle
 *     brackets stands for a name that the caller chooses: {@code s3:ExistingObjectTag/<key>}
 */
public record ServiceAction(
        String name, String lowerCaseName, Level level, String resourceType, List<String> conditionKeys) {
    public ServiceAction {
        conditionKeys = List.copyOf(conditionKeys);
    }

    /** The provider's access levels. */
    public enum Level {
        LIST,
        READ,
        WRITE,
        TAGGING,
        PERMISSIONS
    }

    /** Returns the prefix of the service, in lower case: {@code s3}. */
    public String service() {
        return lowerCaseName.substring(0, name.indexOf(':'));
    }

    /** True when requests with this action carry, or may carry, a condition key of the service; any case. */
    public boolean carries(String key) {
        String lower = key.toLowerCase(Locale.ROOT);
        for (String listed : conditionKeys) {
            int chosen = listed.indexOf('<');
            String fixed = chosen < 0 ? listed : listed.substring(0, chosen);
            boolean same = fixed.equalsIgnoreCase(lower);
            boolean begins = chosen >= 0 && lower.startsWith(fixed.toLowerCase(Locale.ROOT));
            if (same || begins) {
                return true;
            }
        }
        return false;
    }
}
