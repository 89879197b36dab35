package warden.core.policy;

import java.util.Optional;
import java.util.stream.Stream;

/**
 * An Amazon Resource Name: {@code arn:partition:service:region:account:resource}. The resource may contain colons. Two are equal when
 * their texts are.
 * Source: IAM User Guide, "Identify AWS resources with Amazon Resource Names (ARNs)".
 */
public final class Arn {
    private final String text;
    private final String[] parts;

    private Arn(String text, String[] parts) {
        this.text = text;
        this.parts = parts;
    }

    /** Parses an ARN; absent when the text has fewer than six parts or does not begin with {@code arn}. */
    public static Optional<Arn> parse(String text) {
        String[] parts = text.split(":", 6);
        if (parts.length < 6 || !parts[0].equals("arn")) {
            return Optional.empty();
        }
        return Optional.of(new Arn(text, parts));
    }

    /** Puts an ARN together. */
    static Arn of(String... parts) {
        return new Arn(
                "arn:" + String.join(":", parts),
                Stream.concat(Stream.of("arn"), Stream.of(parts)).toArray(String[]::new));
    }

    public String partition() {
        return parts[1];
    }

    public String service() {
        return parts[2];
    }

    public String region() {
        return parts[3];
    }

    public String account() {
        return parts[4];
    }

    public String resource() {
        return parts[5];
    }

    /** Returns the last part of a path-like resource: the name of {@code user/harbour/anna} is {@code anna}. */
    public String name() {
        return resource().substring(resource().lastIndexOf('/') + 1);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Arn arn && text.equals(arn.text);
    }

    @Override
    public int hashCode() {
        return text.hashCode();
    }

    @Override
    public String toString() {
        return text;
    }
}
