package warden.core.aws.storage;

import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.document.Placeholders;

/**
 * A host name of the storage service.
 * Source: S3 User Guide, "Website endpoints", "Virtual hosting of general purpose buckets", "Making requests to Amazon
 * S3 over IPv6", "Configuring fast, secure file transfers using Amazon S3 Transfer Acceleration"; AWS General Reference,
 * "Amazon Simple Storage Service endpoints".
 *
 * @param bucket the bucket in front of the service's name; absent for the service's own name, as path-style addresses and alias
 *     records have it
 * @param region absent for the global name
 * @param isWebsite true for a website endpoint, false for the REST endpoint
 */
public record StorageEndpoint(Optional<String> bucket, Optional<String> region, boolean isWebsite) {
    private static final String DOMAIN = ".amazonaws.com";
    private static final String REGION = "([a-z]{2}(?:-[a-z]+)+-[0-9]|\\{[^{}]+\\})";
    private static final String SUFFIX = "\\.amazonaws\\.com(?:\\.cn)?";
    private static final Pattern WEBSITE = Pattern.compile("(?:(.+)\\.)?s3-website[.-]" + REGION + SUFFIX);
    private static final Pattern REST =
            Pattern.compile("(?:(.+)\\.)?s3(?:[.-]dualstack|-fips(?:\\.dualstack)?)?(?:[.-]" + REGION + ")?" + SUFFIX);
    private static final Pattern ACCELERATED = Pattern.compile("(?:(.+)\\.)?s3-accelerate(?:\\.dualstack)?" + SUFFIX);

    /** Recognises a host name, with or without a final dot, in any case; absent for other hosts. */
    public static Optional<StorageEndpoint> parse(String host) {
        String name = Placeholders.lower(host);
        name = name.endsWith(".") ? name.substring(0, name.length() - 1) : name;
        if (!name.contains(DOMAIN)) {
            return Optional.empty();
        }
        Matcher website = WEBSITE.matcher(name);
        if (website.matches()) {
            return Optional.of(
                    new StorageEndpoint(Optional.ofNullable(website.group(1)), Optional.of(website.group(2)), true));
        }
        Matcher rest = REST.matcher(name);
        if (rest.matches() && !name.startsWith("s3-accelerate")) {
            return Optional.of(
                    new StorageEndpoint(Optional.ofNullable(rest.group(1)), Optional.ofNullable(rest.group(2)), false));
        }
        Matcher accelerated = ACCELERATED.matcher(name);
        if (accelerated.matches() && accelerated.group(1) != null) {
            return Optional.of(new StorageEndpoint(Optional.of(accelerated.group(1)), Optional.empty(), false));
        }
        return Optional.empty();
    }

    /**
     * Returns the host of a region's website endpoint: the older regions write it with a dash, the newer ones with a dot. Source: AWS General
     * Reference, "Amazon S3 website endpoints".
     */
    public static String websiteHost(String region) {
        boolean dash = Set.of(
                        "us-east-1",
                        "us-west-1",
                        "us-west-2",
                        "ap-southeast-1",
                        "ap-southeast-2",
                        "ap-northeast-1",
                        "eu-west-1",
                        "sa-east-1",
                        "us-gov-west-1")
                .contains(region);
        return "s3-website" + (dash ? "-" : ".") + region + ".amazonaws.com";
    }
}
