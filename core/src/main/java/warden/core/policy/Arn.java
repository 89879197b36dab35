package warden.core.policy;

import java.util.Optional;

/**
 * An Amazon Resource Name: {@code arn:partition:service:region:account:resource}. The resource may contain colons.
 * Source: IAM User Guide, "Identify AWS resources with Amazon Resource Names (ARNs)".
 */
public record Arn(String partition, String service, String region, String account, String resource) {
    /** Parses an ARN; absent when the text has fewer than six parts or does not begin with {@code arn}. */
    public static Optional<Arn> parse(String text) {
        String[] parts = text.split(":", 6);
        if (parts.length < 6 || !parts[0].equals("arn")) {
            return Optional.empty();
        }
        return Optional.of(new Arn(parts[1], parts[2], parts[3], parts[4], parts[5]));
    }

    /** Returns the last part of a path-like resource: the name of {@code user/harbour/anna} is {@code anna}. */
    public String name() {
        return resource.substring(resource.lastIndexOf('/') + 1);
    }

    @Override
    public String toString() {
        return "arn:" + partition + ":" + service + ":" + region + ":" + account + ":" + resource;
    }
}
