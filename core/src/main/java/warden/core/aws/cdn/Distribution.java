package warden.core.aws.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.Placeholders;
import warden.core.survey.Citation;
import warden.core.survey.Reading;

/**
 * One distribution. Source: CloudFront API Reference, GetDistribution.
 *
 * @param domain its own name, in lower case
 * @param aliases the hosts that it answers for, in lower case
 * @param rootObject empty when none is set
 * @param behaviors the default behaviour last, as it is matched last
 * @param certificate what viewers are shown over TLS
 */
public record Distribution(
        String arn,
        String domain,
        List<String> aliases,
        boolean enabled,
        String status,
        String rootObject,
        List<Origin> origins,
        List<Behavior> behaviors,
        List<ErrorResponse> errorResponses,
        ViewerCertificate certificate,
        JsonPart config,
        Citation at) {
    public Distribution {
        aliases = List.copyOf(aliases);
        origins = List.copyOf(origins);
        behaviors = List.copyOf(behaviors);
        errorResponses = List.copyOf(errorResponses);
    }

    /** Hashes the ARN only: the parts are whole documents. */
    @Override
    public int hashCode() {
        return arn.hashCode();
    }

    /** Reads the answer of get-distribution. */
    public static Distribution parse(String arn, Reading.Found<JsonPart> found) {
        JsonPart distribution = found.value().find("Distribution").orElse(found.value());
        JsonPart config = distribution.find("DistributionConfig").orElse(distribution);
        List<Behavior> behaviors = new ArrayList<>();
        config.list("CacheBehaviors", "Items").forEach(part -> behaviors.add(Behavior.parse(part)));
        config.find("DefaultCacheBehavior").ifPresent(part -> behaviors.add(Behavior.parse(part)));
        return new Distribution(
                arn,
                Placeholders.lower(distribution.text("DomainName").orElse("")),
                config.texts("Aliases", "Items").stream()
                        .map(Placeholders::lower)
                        .toList(),
                config.flag("Enabled").orElse(true),
                distribution.text("Status").orElse(""),
                config.text("DefaultRootObject").orElse(""),
                config.list("Origins", "Items").stream().map(Origin::parse).toList(),
                behaviors,
                config.list("CustomErrorResponses", "Items").stream()
                        .flatMap(part -> ErrorResponse.parse(part).stream())
                        .toList(),
                ViewerCertificate.parse(config),
                config,
                found.at());
    }

    /** Returns the id, the last part of the ARN. */
    public String id() {
        return arn.substring(arn.lastIndexOf('/') + 1);
    }

    /** Returns the behaviour for paths that no pattern matches; absent when the answer is cut short. */
    public Optional<Behavior> defaultBehavior() {
        return behaviors.stream()
                .filter(behavior -> behavior.pathPattern().isEmpty())
                .findFirst();
    }

    /** Returns the group of origins that a behaviour names; absent where it names an origin. */
    public Optional<OriginGroup> group(Behavior behavior) {
        return group(behavior.originId());
    }

    private Optional<OriginGroup> group(String id) {
        return config.list("OriginGroups", "Items").stream()
                .map(OriginGroup::parse)
                .filter(group -> group.id().equals(id))
                .findFirst();
    }

    /** Returns the origin with this id; of a group the first one, which is asked first. */
    public Optional<Origin> origin(String id) {
        return single(id).or(() -> group(id)
                .filter(group -> !group.members().isEmpty())
                .flatMap(group -> single(group.members().get(0))));
    }

    private Optional<Origin> single(String id) {
        return origins.stream().filter(origin -> origin.id().equals(id)).findFirst();
    }

    /** Returns the origins that a behaviour fetches from, in the order in which they are asked; without those that are not in the answer. */
    public List<Origin> originsOf(Behavior behavior) {
        return group(behavior)
                .map(group -> group.members().stream()
                        .flatMap(id -> single(id).stream())
                        .toList())
                .orElseGet(() -> single(behavior.originId()).stream().toList());
    }

    /** Returns the origin that pages come from: the default behaviour's. */
    public Optional<Origin> defaultOrigin() {
        return defaultBehavior().flatMap(behavior -> origin(behavior.originId()));
    }

    /** Cites a place in the answer. */
    public Citation cite(JsonPart part) {
        return at.at(part);
    }

    /** Cites the place of an origin. */
    public Citation cite(Origin origin) {
        return at.at(origin.at().toString(), origin.domain());
    }

    /** Returns the behaviour for a path, which begins with a slash: the first whose pattern fits, else the default. */
    public Optional<Behavior> behaviorFor(String path) {
        return behaviors.stream().filter(behavior -> behavior.isFor(path)).findFirst();
    }

    /** Returns what is answered instead of an origin's error with this status. */
    public Optional<ErrorResponse> errorResponse(int status) {
        return errorResponses.stream()
                .filter(response -> response.code() == status && response.page().isPresent())
                .findFirst();
    }

    /** True when one of its aliases is the host, or a wildcard that covers it. */
    public boolean lists(String host) {
        return aliases.stream().anyMatch(alias -> coversHost(alias, host));
    }

    /**
     * True when {@code pattern} is the host, or a wildcard that the host lies under, however many labels down. Source: CloudFront
     * Developer Guide, "Use custom URLs by adding alternate domain names (CNAMEs)", section "Using wildcards".
     */
    public static boolean coversHost(String pattern, String host) {
        return pattern.equals(host)
                || (pattern.startsWith("*.")
                        && host.length() >= pattern.length()
                        && host.endsWith(pattern.substring(1)));
    }

    /** Returns how closely it is meant for a host: the length of the nearest alias, the host itself being nearest; 0 when it is not. */
    public int nearness(String host) {
        if (domain.equals(host) || aliases.contains(host)) {
            return Integer.MAX_VALUE;
        }
        return aliases.stream()
                .filter(alias -> coversHost(alias, host))
                .mapToInt(String::length)
                .max()
                .orElse(0);
    }

    /** True when it answers over IPv6 too. */
    public boolean hasIpv6() {
        return config.flag("IsIPV6Enabled").orElse(false);
    }

    /** Cites a place in the configuration by member names; the whole answer where it is missing. */
    public Citation cite(String... path) {
        return config.find(path).map(this::cite).orElse(at);
    }

    /** Cites the place of a behaviour. */
    public Citation cite(Behavior behavior) {
        return at.at(behavior.at().toString(), behavior.called());
    }
}
