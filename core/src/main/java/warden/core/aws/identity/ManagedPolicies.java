package warden.core.aws.identity;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;
import warden.core.survey.Citation;

/**
 * The built-in copies of policies that the provider manages, for surveys that do not hold them.
 * Source: AWS Managed Policy Reference Guide.
 */
final class ManagedPolicies {
    private static final String PREFIX = "arn:aws:iam::aws:policy/";
    /** The services for which the copy of ReadOnlyAccess is complete; the original names some hundred more. */
    private static final Set<String> READ_ONLY_SPEAKS_FOR = Set.of(
            "s3",
            "cloudfront",
            "acm",
            "route53",
            "route53domains",
            "iam",
            "sts",
            "kms",
            "lambda",
            "codepipeline",
            "codebuild",
            "amplify");

    private static final Map<String, Set<String>> SPEAK_FOR = Map.of(
            "AdministratorAccess", Set.of(),
            "PowerUserAccess", Set.of(),
            "AmazonS3FullAccess", Set.of(),
            "AmazonS3ReadOnlyAccess", Set.of(),
            "AmazonEC2FullAccess", Set.of(),
            "CloudFrontFullAccess", Set.of(),
            "IAMFullAccess", Set.of(),
            "service-role/AWSLambdaBasicExecutionRole", Set.of(),
            "ReadOnlyAccess", READ_ONLY_SPEAKS_FOR);

    /** The documents never change, so each is parsed once. */
    private static final Map<String, PolicyDocument> PARSED = new ConcurrentHashMap<>();

    private ManagedPolicies() {}

    /** Returns the copy of the policy with this ARN, cited at the line that attaches it; absent when there is no copy. */
    static Optional<HeldPolicy> copyOf(String arn, Citation attachedAt) {
        if (!arn.startsWith(PREFIX)) {
            return Optional.empty();
        }
        String name = arn.substring(PREFIX.length());
        Set<String> speaksFor = SPEAK_FOR.get(name);
        if (speaksFor == null) {
            return Optional.empty();
        }
        String plain = name.substring(name.lastIndexOf('/') + 1);
        return Optional.of(new HeldPolicy(
                plain, PARSED.computeIfAbsent(plain, ManagedPolicies::read), attachedAt, true, speaksFor));
    }

    private static PolicyDocument read(String name) {
        try (InputStream in = ManagedPolicies.class.getResourceAsStream("managed/" + name + ".json")) {
            if (in == null) {
                throw new IllegalStateException("the copy of " + name + " is not in the program");
            }
            String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
            return PolicyParser.parse(text, PolicyKind.IDENTITY, Pointer.ROOT);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    /** Reads the default version out of an element of get-account-authorization-details' Policies. */
    static Optional<PolicyDocument> defaultVersion(JsonPart policy) {
        String wanted = policy.text("DefaultVersionId").orElse("");
        return policy.list("PolicyVersionList").stream()
                .filter(version -> version.flag("IsDefaultVersion")
                        .orElse(version.text("VersionId").orElse("").equals(wanted)))
                .findFirst()
                .flatMap(version -> version.find("Document"))
                .map(document -> PolicyParser.parse(document, PolicyKind.IDENTITY, document.at()));
    }
}
