package warden.standin.aws;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.survey.Survey;

/**
 * A token that an identity provider made for a pipeline. Its signature is not looked at, since everything here is made up; its claims are, and so
 * is what the role's trust policy asks of them.
 *
 * <p>Source: STS API Reference, "AssumeRoleWithWebIdentity"; IAM User Guide, "IAM and AWS STS condition context keys", section "Available keys for
 * AWS web identity federation".
 *
 * @param issuer the provider's address without its scheme
 * @param audiences whom the token is for
 * @param claims texts by name
 * @param expires absent when the token does not say
 */
record IdentityToken(String issuer, List<String> audiences, Map<String, String> claims, Optional<Instant> expires) {
    private static final List<String> KEYS = List.of("sub", "amr", "email", "oaud");

    /** Parses a token of three parts; absent for a text that is none. */
    static Optional<IdentityToken> parse(String token) {
        String[] parts = token.split("\\.", -1);
        if (parts.length != 3) {
            return Optional.empty();
        }
        String payload;
        try {
            payload = new String(Base64.getUrlDecoder().decode(parts[1]), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException notEncoded) {
            return Optional.empty();
        }
        return JsonReader.read(payload).root().flatMap(root -> root.text("iss").map(issuer -> {
            List<String> audiences = root.text("aud").map(List::of).orElseGet(() -> root.list("aud").stream()
                    .flatMap(each -> each.scalar().stream())
                    .toList());
            Map<String, String> claims = new HashMap<>();
            KEYS.forEach(key -> root.text(key).ifPresent(value -> claims.put(key, value)));
            Optional<Instant> expires = root.text("exp")
                    .filter(text -> text.matches("[0-9]{1,11}"))
                    .map(text -> Instant.ofEpochSecond(Long.parseLong(text)));
            return new IdentityToken(issuer.replaceFirst("^https://", ""), audiences, claims, expires);
        }));
    }

    /** Returns whether the account knows the provider, for one of the token's audiences, as far as the survey tells. */
    boolean isOfKnownProvider(Survey survey, String account) {
        String arn = "arn:aws:iam::" + account + ":oidc-provider/" + issuer;
        Optional<JsonPart> provider = survey.reading("oidc-provider", arn).found();
        List<String> clients = provider.stream()
                .flatMap(answer -> answer.list("ClientIDList").stream())
                .flatMap(each -> each.scalar().stream())
                .toList();
        return provider.isEmpty() || clients.isEmpty() || audiences.stream().anyMatch(clients::contains);
    }

    /** Returns whether a trust policy lets whoever holds the token assume the role: surely, and without a deny that may hold. */
    boolean isTrustedBy(PolicyDocument trust, String account) {
        Map<String, ContextValue> values = new HashMap<>();
        values.put(issuer + ":aud", new ContextValue.Known(audiences));
        claims.forEach((name, value) -> values.put(issuer + ":" + name, ContextValue.Known.of(value)));
        values.put(
                "aws:FederatedProvider", ContextValue.Known.of("arn:aws:iam::" + account + ":oidc-provider/" + issuer));
        Context context = Context.given(values);
        return Verdicts.surelyAllows(
                trust,
                statement -> isAbout(statement)
                        ? statement.covers("sts:assumerolewithwebidentity", "*", context)
                        : Truth.FALSE);
    }

    private boolean isAbout(Statement statement) {
        return statement
                .principals()
                .filter(clause -> clause.negated() != clause.elements().stream().anyMatch(this::isProvider))
                .isPresent();
    }

    private boolean isProvider(PrincipalElement element) {
        return element instanceof PrincipalElement.Federated federated
                && (federated.provider().equals(issuer) || federated.provider().endsWith(":oidc-provider/" + issuer));
    }
}
