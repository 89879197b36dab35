package warden.core.azure.site;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A name that the provider gives to an endpoint.
 *
 * <p>Source: Storage documentation, "Storage account overview", "Storage account endpoints"; Azure CDN and Front Door documentation, endpoint names.
 *
 * @param kind what answers there
 * @param account the storage account's name; empty for other kinds
 */
public record EndpointName(Kind kind, String account) {
    /** What answers. */
    public enum Kind {
        WEB,
        BLOB,
        CLASSIC_EDGE,
        FRONT_DOOR,
        /** Front Door of the kind before, which is not read. */
        FRONT_DOOR_CLASSIC,
        STATIC_SITE,
        /** Something else of the provider that is out of scope. */
        OTHER
    }

    private static final String VARIANTS = "(?:-secondary|-microsoftrouting|-internetrouting)?";
    private static final Pattern WEB = Pattern.compile(
            "([a-z0-9]{3,24})" + VARIANTS
                    + "\\.z\\d+\\.web\\.(?:core\\.windows\\.net|storage\\.azure\\.net|core\\.chinacloudapi\\.cn|core\\.usgovcloudapi\\.net)");
    private static final Pattern BLOB = Pattern.compile(
            "([a-z0-9]{3,24})" + VARIANTS
                    + "(?:\\.z\\d+)?\\.blob\\.(?:core\\.windows\\.net|storage\\.azure\\.net|core\\.chinacloudapi\\.cn|core\\.usgovcloudapi\\.net)");

    /** Understands a host, in lower case; absent for names that are not the provider's. */
    public static Optional<EndpointName> parse(String host) {
        Matcher web = WEB.matcher(host);
        if (web.matches()) {
            return Optional.of(new EndpointName(Kind.WEB, web.group(1)));
        }
        Matcher blob = BLOB.matcher(host);
        if (blob.matches()) {
            return Optional.of(new EndpointName(Kind.BLOB, blob.group(1)));
        }
        Kind kind = null;
        if (host.endsWith(".azureedge.net")) {
            kind = Kind.CLASSIC_EDGE;
        } else if (host.endsWith(".azurefd.net")) {
            kind = host.matches("[^.]+\\.z\\d+\\.azurefd\\.net") ? Kind.FRONT_DOOR : Kind.FRONT_DOOR_CLASSIC;
        } else if (host.endsWith(".azurestaticapps.net")) {
            kind = Kind.STATIC_SITE;
        } else if (host.endsWith(".cloudapp.azure.com")
                || host.endsWith(".azurewebsites.net")
                || host.endsWith(".trafficmanager.net")) {
            kind = Kind.OTHER;
        }
        return Optional.ofNullable(kind).map(known -> new EndpointName(known, ""));
    }

    /** True for the storage's own endpoints. */
    public boolean isStorage() {
        return kind == Kind.WEB || kind == Kind.BLOB;
    }
}
