package warden.core.aws.site;

import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.TooComplexException;
import warden.core.aws.account.Account;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Operator.Family;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.storage.Bucket;
import warden.core.document.LatePattern;
import warden.core.survey.Survey;

/**
 * Values that only the edge and the bucket are to know: a custom header of an origin, and the referer or user agent that a policy asks for. Whoever
 * reads one can ask the bucket directly.
 *
 * <p>Source: CloudFront Developer Guide, "Restrict access to files on custom origins"; S3 User Guide, "Restricting access to a specific HTTP
 * referer".
 */
public final class SharedSecrets {
    private static final Set<String> KEYS = Set.of("aws:referer", "aws:useragent");
    /** What headers say that keeps nobody out. */
    private static final LatePattern PLAIN = LatePattern.of(
            "(?i)(true|false|yes|no|on|off|https?|prod|production|stag(e|ing)|test|dev|development|html|json|gzip|none|"
                    + "[a-z]{2}-[a-z]+-[0-9]|[0-9]{1,3})");
    /** Programs call themselves so, and everybody can. */
    private static final LatePattern AGENT = LatePattern.of(
            "(?i)\\*?(mozilla|curl|wget|aws-|amazon|boto|python|java|go-http|google|bing|terraform|chrome|safari|firefox).*");

    /** What the policies of users and roles are read from. */
    private static final List<String> IDENTITIES = List.of("iam-user", "iam-role", "iam-group", "iam-policy");

    private final Set<String> names = new LinkedHashSet<>();
    /** The domains above the names, that of the top left out. */
    private final Set<String> parents = new HashSet<>();

    private final Set<String> values = new LinkedHashSet<>();

    private SharedSecrets(AwsCloud cloud) {
        for (BucketSite site : cloud.sites()) {
            site.hosts().forEach(host -> names.add(host.toLowerCase(Locale.ROOT)));
        }
        for (Account account : cloud.accounts()) {
            account.buckets().forEach(bucket -> names.add(bucket.name()));
            account.edges().distributions().forEach(each -> names.addAll(each.aliases()));
        }
        for (String name : names) {
            for (int dot = name.indexOf('.'); dot >= 0; dot = name.indexOf('.', dot + 1)) {
                parents.add(name.substring(dot + 1));
            }
        }
        parents.removeIf(parent -> parent.indexOf('.') < 0);
    }

    /** Returns the values of all accounts; a pattern, and the shortest text that fits it, are values too. */
    public static Set<String> of(AwsCloud cloud) {
        SharedSecrets secrets = new SharedSecrets(cloud);
        for (Account account : cloud.accounts()) {
            account.edges().distributions().forEach(edge -> edge.origins()
                    .forEach(origin -> origin.headers().values().forEach(secrets::header)));
            Survey survey = account.survey();
            for (Bucket bucket : account.buckets()) {
                if (survey.hasText("bucket-policy", bucket.arn(), SharedSecrets::mayName)) {
                    bucket.policy().found().ifPresent(secrets::inPolicy);
                }
            }
            if (IDENTITIES.stream().anyMatch(aspect -> survey.subjects(aspect).stream()
                    .anyMatch(of -> survey.hasText(aspect, of, SharedSecrets::mayName)))) {
                for (Principal principal : account.directory().principals()) {
                    principal.trust().ifPresent(secrets::inPolicy);
                    principal.holdings().policies().forEach(policy -> secrets.inPolicy(policy.document()));
                }
            }
        }
        return secrets.values;
    }

    /**
     * True when a document may name one of the keys, as far as its text tells: most name none, and need not be understood before anything can be
     * said. A letter may be written as an escape of JSON, or percent-encoded, or both; what has such a letter may name anything.
     */
    static boolean mayName(String text) {
        String lower = text.toLowerCase(Locale.ROOT);
        return lower.contains("referer")
                || lower.contains("useragent")
                || lower.contains("\\u")
                || lower.contains("%5cu")
                || hasEncodedLetter(lower);
    }

    private static boolean hasEncodedLetter(String lower) {
        for (int at = lower.indexOf('%'); at >= 0 && at + 2 < lower.length(); at = lower.indexOf('%', at + 1)) {
            int high = Character.digit(lower.charAt(at + 1), 16);
            int low = Character.digit(lower.charAt(at + 2), 16);
            if (high >= 4 && low >= 0 && Character.isLetter(high * 16 + low)) {
                return true;
            }
        }
        return false;
    }

    private void inPolicy(PolicyDocument policy) {
        policy.statements().stream()
                .flatMap(statement -> statement.conditions().stream())
                .filter(condition -> KEYS.contains(condition.lowerCaseKey()))
                .filter(condition -> condition.operator().family() != Family.PRESENCE)
                .forEach(this::inCondition);
    }

    private void inCondition(Condition condition) {
        for (String value : condition.values()) {
            if (isAddress(value) || AGENT.matcher(value).matches()) {
                continue;
            }
            values.add(value);
            example(value).ifPresent(values::add);
            // What stands between wildcards says enough.
            values.addAll(List.of(value.split("[*?]+")));
        }
    }

    private static Optional<String> example(String value) {
        if (value.indexOf('*') < 0 && value.indexOf('?') < 0) {
            return Optional.empty();
        }
        try {
            return Language.matching(Glob.parse(value)).witness();
        } catch (TooComplexException many) {
            return Optional.empty();
        }
    }

    private void header(String value) {
        boolean named = names.contains(value.toLowerCase(Locale.ROOT));
        if (!PLAIN.matcher(value).matches() && !named && !isAddress(value)) {
            values.add(value);
        }
    }

    /** True for an address of one of one's own hosts, or a pattern of such: everybody who looks at a page knows it. */
    private boolean isAddress(String value) {
        String plain = value.toLowerCase(Locale.ROOT)
                .replaceFirst("^\\*+(?=https?:)", "")
                .replaceFirst("^(https?|\\*)://", "");
        String host =
                plain.replaceFirst("[/:?].*$", "").replaceFirst("^\\*+\\.?", "").replaceFirst("\\*+$", "");
        return host.indexOf('.') > 0
                && (parents.contains(host)
                        || Stream.iterate(
                                        host,
                                        name -> !name.isEmpty(),
                                        name -> name.substring(
                                                name.indexOf('.') < 0 ? name.length() : name.indexOf('.') + 1))
                                .anyMatch(names::contains));
    }
}
