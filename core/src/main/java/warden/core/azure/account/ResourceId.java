package warden.core.azure.account;

import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Identifiers of resources. They compare without regard to case, segment by segment, save the names of containers and blobs.
 *
 * <p>Source: Azure Resource Manager, "Resource naming rules"; Blob service REST API, "Naming and referencing containers, blobs, and metadata".
 */
public final class ResourceId {
    private static final String CONTAINERS = "/blobservices/default/containers/";
    private static final String ACCOUNTS = "/providers/microsoft.storage/storageaccounts/";
    private static final String BLOBS = "/blobs/";
    /** The storage account's own container for a static website. */
    public static final String WEB = "$web";

    /** The same few identifiers of a site are compared again and again. */
    private static final int KNOWN_AT_ONCE = 8_192;

    /** By hash. An entry is one immutable object, so that whoever reads it while another is written finds one of the two, whole. */
    private static final @Nullable Known[] KNOWN = new @Nullable Known[KNOWN_AT_ONCE];

    private record Known(String id, String key) {}

    private ResourceId() {}

    /** Returns the form in which identifiers are compared. */
    public static String key(String id) {
        int place = (id.hashCode() ^ id.length()) & (KNOWN_AT_ONCE - 1);
        Known known = KNOWN[place];
        if (known == null || !known.id().equals(id)) {
            known = new Known(id, compared(id));
            KNOWN[place] = known;
        }
        return known.key();
    }

    private static String compared(String id) {
        String whole = id.toLowerCase(Locale.ROOT);
        boolean isOpen = id.length() > 1 && id.endsWith("/") && !whole.contains(BLOBS);
        String trimmed = isOpen ? id.substring(0, id.length() - 1) : id;
        String lower = isOpen ? trimmed.toLowerCase(Locale.ROOT) : whole;
        int containers = lower.indexOf(CONTAINERS);
        if (containers < 0) {
            return lower;
        }
        String names = trimmed.substring(containers + CONTAINERS.length());
        int slash = names.indexOf('/');
        if (slash < 0) {
            return lower.substring(0, containers + CONTAINERS.length()) + names;
        }
        String below = names.substring(slash);
        boolean isBlob = below.toLowerCase(Locale.ROOT).startsWith(BLOBS);
        return lower.substring(0, containers + CONTAINERS.length())
                + names.substring(0, slash)
                + (isBlob ? BLOBS + below.substring(BLOBS.length()) : below.toLowerCase(Locale.ROOT));
    }

    /** True when both name the same. */
    public static boolean same(String one, String other) {
        return key(one).equals(key(other));
    }

    /** True when a scope is a resource's own, or above it. */
    public static boolean covers(String scope, String resource) {
        return keyCovers(key(scope), key(resource));
    }

    /** As {@link #covers}, of identifiers in the form in which they are compared. */
    public static boolean keyCovers(String above, String below) {
        return above.equals("/")
                || (below.startsWith(above)
                        && (below.length() == above.length() || below.charAt(above.length()) == '/'));
    }

    /** As {@link #covers}, of a scope in which case matters nowhere: a subscription's. */
    public static boolean isBelow(String id, String subscription) {
        int length = subscription.length();
        return id.regionMatches(true, 0, subscription, 0, length)
                && (id.length() == length || id.charAt(length) == '/');
    }

    /** Returns the last segment. */
    public static String name(String id) {
        return id.substring(id.lastIndexOf('/') + 1);
    }

    /** Returns the subscription's identifier for its GUID. */
    public static String subscription(String guid) {
        return "/subscriptions/" + guid;
    }

    /** Returns the storage account that an identifier lies in, or is; absent for anything else. */
    public static Optional<String> accountIn(String id) {
        String lower = id.toLowerCase(Locale.ROOT);
        int at = lower.indexOf(ACCOUNTS);
        if (at < 0) {
            return Optional.empty();
        }
        int end = id.indexOf('/', at + ACCOUNTS.length());
        return Optional.of(end < 0 ? id : id.substring(0, end));
    }

    /** Returns the container that an identifier lies in, or is; absent for anything else. */
    public static Optional<String> containerIn(String id) {
        int at = id.toLowerCase(Locale.ROOT).indexOf(CONTAINERS);
        if (at < 0) {
            return Optional.empty();
        }
        int end = id.indexOf('/', at + CONTAINERS.length());
        return Optional.of(end < 0 ? id : id.substring(0, end));
    }

    /** Returns the name of a blob; absent for what is none. */
    public static Optional<String> blobIn(String id) {
        String lower = id.toLowerCase(Locale.ROOT);
        int at = lower.indexOf(CONTAINERS);
        int end = at < 0 ? -1 : id.indexOf('/', at + CONTAINERS.length());
        return end < 0 || !lower.startsWith(BLOBS, end) || id.length() == end + BLOBS.length()
                ? Optional.empty()
                : Optional.of(id.substring(end + BLOBS.length()));
    }

    /** Returns the identifier of a container. */
    public static String container(String account, String name) {
        return account + "/blobServices/default/containers/" + name;
    }

    /** Returns the identifier of a storage account's blob service. */
    public static String blobService(String account) {
        return account + "/blobServices/default";
    }
}
