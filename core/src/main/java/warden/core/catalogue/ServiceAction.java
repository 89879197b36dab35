package warden.core.catalogue;

/**
 * One action of a service.
 *
 * @param name with the service's prefix, as the provider spells it: {@code s3:GetObject}
 * @param level what kind of access it gives
 * @param resourceType the kind of resource that it is asked of; {@code *} where it is asked of none in particular
 */
public record ServiceAction(String name, Level level, String resourceType) {
    /** The provider's access levels. */
    public enum Level {
        LIST,
        READ,
        WRITE,
        TAGGING,
        PERMISSIONS
    }

    /** Returns the name in lower case, in which actions are compared. */
    public String lowerCaseName() {
        return name.toLowerCase(java.util.Locale.ROOT);
    }
}
