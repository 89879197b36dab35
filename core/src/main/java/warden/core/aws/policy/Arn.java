package warden.core.aws.policy;

import java.util.Optional;
import java.util.stream.Stream;
import warden.core.document.Placeholders;

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
        String[] parts = Placeholders.split(text, ':', 6);
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

    /** True for the twelve digits of an account's number, or what stands for it in a description. */
    static boolean isAccountNumber(String text) {
        return Placeholders.isOne(text) || text.length() == 12 && text.chars().allMatch(c -> c >= '0' && c <= '9');
    }

    /** True when the account part is an account's number: not empty, no wildcard, not the provider's own. */
    boolean hasAccountNumber() {
        return isAccountNumber(account());
    }

    /** True for a resource of this service and type, such as {@code role}, that has a name. */
    boolean isNamed(String service, String type) {
        return service().equals(service)
                && resource().startsWith(type)
                && resource().length() > type.length() + 1
                && resource().charAt(type.length()) == '/';
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
