package warden.core.aws.policy;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import warden.core.access.Truth;
import warden.core.algebra.Addresses;
import warden.core.aws.policy.Operator.Family;

/**
 * The provider's own definition of a public bucket policy, on which the public access block acts.
 * Source: S3 User Guide, "Blocking public access to your Amazon S3 storage", section "The meaning of 'public'".
 */
public final class PublicPolicy {
    private static final String SOURCE_IP = "aws:sourceip";
    private static final String ACCESS_POINT = "s3:dataaccesspointarn";
    private static final Set<String> PINNING_KEYS = Set.of(
            SOURCE_IP,
            "aws:sourcearn",
            "aws:sourcevpc",
            "aws:sourcevpce",
            "aws:sourceowner",
            "aws:sourceaccount",
            "aws:principalorgid",
            "aws:principalorgpaths",
            "aws:userid",
            "s3:x-amz-server-side-encryption-aws-kms-key-id",
            "s3:dataaccesspointaccount",
            ACCESS_POINT);
    private static final Set<Operator> PINNING_OPERATORS = Set.of(
            Operator.STRING_EQUALS,
            Operator.STRING_EQUALS_IGNORE_CASE,
            Operator.STRING_LIKE,
            Operator.ARN_EQUALS,
            Operator.ARN_LIKE,
            Operator.IP_ADDRESS);
    private static final Set<String> SOURCE_ORGANIZATION = Set.of("aws:sourceorgid", "aws:sourceorgpaths");
    private static final int WIDEST_IPV4 = 8;
    private static final int WIDEST_IPV6 = 32;

    /** The keys that say who the caller is, and how a value looks that names an account or an organization. */
    private static final Map<String, Pattern> NAMING = Map.of(
            "aws:principalarn", Pattern.compile("arn:[a-z-]+:(iam|sts)::([0-9]{12}|\\{[^{}]+\\}):.*"),
            "aws:principalaccount", Pattern.compile("([0-9]{12}|\\{[^{}]+\\})"),
            "aws:principalorgid", Pattern.compile("o-[a-z0-9]+"),
            "aws:principalorgpaths", Pattern.compile("o-[a-z0-9]+/.*"),
            "aws:sourceaccount", Pattern.compile("([0-9]{12}|\\{[^{}]+\\})"));

    private PublicPolicy() {}

    /** Returns whether the policy is public. Denies do not make it less so; an opaque statement may be public. */
    public static Truth isPublic(PolicyDocument document) {
        Truth result = Truth.of(document.isOpaque()).and(Truth.UNKNOWN);
        for (Statement statement : document.statements()) {
            result = result.or(isPublic(statement));
        }
        return result;
    }

    /** Returns whether one statement makes its policy public. */
    public static Truth isPublic(Statement statement) {
        if (statement.isOpaque()) {
            return Truth.UNKNOWN;
        }
        boolean toEveryone = statement.effect() == Effect.ALLOW
                && statement
                        .principals()
                        .filter(PrincipalClause::reachesEveryone)
                        .isPresent();
        return Truth.of(toEveryone && statement.conditions().stream().noneMatch(PublicPolicy::pins));
    }

    /** True when the condition fixes who may come by one of the keys that the provider lists. */
    public static boolean pins(Condition condition) {
        return PINNING_KEYS.contains(condition.lowerCaseKey())
                && PINNING_OPERATORS.contains(condition.operator())
                && !condition.ifExists()
                && condition.quantifier() != Condition.Quantifier.ALL
                && condition.values().stream().allMatch(value -> isFixed(condition, value));
    }

    /** True when a negated condition names only fixed values, so that a deny with it spares only those. */
    public static boolean sparesFixed(Condition condition) {
        return condition.values().stream()
                .allMatch(value -> condition.operator() == Operator.NOT_IP_ADDRESS
                        ? Addresses.range(value).filter(PublicPolicy::isNarrow).isPresent()
                        : !value.contains("${") && value.indexOf('*') < 0 && value.indexOf('?') < 0);
    }

    /** True for the keys by which a policy can be kept from being public. */
    public static boolean isPinningKey(String lowerCaseKey) {
        return PINNING_KEYS.contains(lowerCaseKey) || SOURCE_ORGANIZATION.contains(lowerCaseKey);
    }

    private static boolean isFixed(Condition condition, String value) {
        if (condition.operator() == Operator.IP_ADDRESS) {
            Optional<Addresses.Range> range = Addresses.range(value);
            return condition.lowerCaseKey().equals(SOURCE_IP)
                    && range.filter(PublicPolicy::isNarrow).isPresent();
        }
        if (value.contains("${")) {
            return false;
        }
        if (condition.lowerCaseKey().equals(ACCESS_POINT)) {
            return Arn.parse(value).filter(arn -> arn.hasAccountNumber()).isPresent();
        }
        return value.indexOf('*') < 0 && value.indexOf('?') < 0;
    }

    /**
     * True when the condition says for whom a service may act: by a fixed account in the source's ARN, or by the source's
     * organization. Wider than {@link #pins}, since a service's caller cannot choose these.
     */
    public static boolean pinsSource(Condition condition) {
        boolean byOrganization = SOURCE_ORGANIZATION.contains(condition.lowerCaseKey())
                && condition.values().stream().noneMatch(value -> value.contains("${") || value.startsWith("*"));
        boolean byArn = condition.lowerCaseKey().equals("aws:sourcearn")
                && condition.values().stream().allMatch(value -> Arn.parse(value)
                        .filter(arn -> arn.hasAccountNumber() || arn.service().equals("s3"))
                        .isPresent());
        return (byOrganization || byArn)
                && !condition.ifExists()
                && !condition.operator().isNegated()
                && condition.quantifier() != Condition.Quantifier.ALL;
    }

    /** True when the range is narrow enough to count as fixed. */
    public static boolean isNarrow(Addresses.Range range) {
        return range.length() >= (range.bits() == 32 ? WIDEST_IPV4 : WIDEST_IPV6);
    }

    /** True for a condition that only callers meet who are named by account or organization. */
    public static boolean demandsNamedCallers(Condition condition) {
        return comparesWithNamedCallers(condition)
                && !condition.operator().isNegated()
                && !condition.ifExists()
                && condition.quantifier() != Condition.Quantifier.ALL;
    }

    /** True for a comparison with fixed accounts or organizations; that a key is there, or begins so, says nothing about whose it is. */
    public static boolean comparesWithNamedCallers(Condition condition) {
        Pattern naming = NAMING.get(condition.lowerCaseKey());
        Family family = condition.operator().family();
        return naming != null
                && (family == Family.TEXT
                        || family == Family.TEXT_IGNORING_CASE
                        || family == Family.PATTERN
                        || family == Family.ARN)
                && condition.values().stream()
                        .allMatch(value -> naming.matcher(value).matches());
    }
}
