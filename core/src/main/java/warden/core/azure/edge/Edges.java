package warden.core.azure.edge;

import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import warden.core.access.Truth;
import warden.core.azure.account.Item;
import warden.core.azure.account.Listed;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.Subscription;
import warden.core.document.JsonPart;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** The edges of one subscription. */
public final class Edges {
    /** What a firewall's rule may do without keeping a plain request from its answer; any other action may. */
    private static final Set<String> HARMLESS = Set.of("Allow", "Log");
    /** The words that members of a route may have; missing ones have the meaning that the documentation gives them. */
    private static final Map<String, Set<String>> WORDS = new TreeMap<>(Map.of(
            "linkToDefaultDomain", Set.of("Enabled", "Disabled"),
            "httpsRedirect", Set.of("Enabled", "Disabled"),
            "forwardingProtocol", Set.of("HttpOnly", "HttpsOnly", "MatchRequest")));

    private final Subscription subscription;
    private final List<Edge> all = new ArrayList<>();
    private final List<Need> unread = new ArrayList<>();

    public Edges(Subscription subscription) {
        this.subscription = subscription;
        Listed listed = subscription.list("cdn-profile-list", subscription.id(), "cdn-profile");
        listed.open().ifPresent(unread::add);
        for (Item profile : listed.items()) {
            String sku = profile.document().text("sku", "name").orElse("");
            if (sku.endsWith("AzureFrontDoor")) {
                frontDoor(profile);
            } else {
                classic(profile, sku.equals("Standard_Microsoft"));
            }
        }
    }

    /** Returns the edges, in the order of the lists. */
    public List<Edge> all() {
        return List.copyOf(all);
    }

    /** Returns what keeps the edges from being known as a whole; none when they are. */
    public List<Need> unread() {
        return List.copyOf(unread);
    }

    private static String lower(String text) {
        return text.toLowerCase(Locale.ROOT);
    }

    private static Optional<String> host(Optional<String> text) {
        return text.filter(name -> !name.isEmpty()).map(Edges::lower);
    }

    // --- classic ---

    private void classic(Item profile, boolean isModelled) {
        Listed endpoints = subscription.list("cdn-endpoint-list", profile.id(), "cdn-endpoint");
        endpoints.open().ifPresent(unread::add);
        endpoints.items().forEach(endpoint -> all.add(classic(profile, endpoint, isModelled)));
    }

    private Edge classic(Item profile, Item endpoint, boolean isModelled) {
        List<Need> open = new ArrayList<>();
        Listed domains = subscription.list("cdn-custom-domain-list", endpoint.id(), "cdn-custom-domain");
        Map<String, Edge.Domain> byHost = new LinkedHashMap<>();
        for (Item item : domains.items()) {
            host(item.text("hostName")).ifPresent(name -> byHost.put(name, classicDomain(item, name)));
        }
        // The endpoint names its hosts too, without what their HTTPS is at.
        for (JsonPart part : endpoint.list("customDomains")) {
            host(part.text("properties", "hostName"))
                    .ifPresentOrElse(
                            name -> byHost.computeIfAbsent(
                                    name,
                                    key -> new Edge.Domain(
                                            endpoint.id() + "/customDomains/"
                                                    + part.text("name").orElse(name),
                                            name,
                                            Truth.UNKNOWN,
                                            "",
                                            "",
                                            Optional.empty(),
                                            true,
                                            Optional.empty(),
                                            Optional.empty(),
                                            List.of(domains.open()
                                                    .orElse(Need.cutShort(
                                                            "cdn-custom-domain-list",
                                                            endpoint.id(),
                                                            "Microsoft.Cdn/profiles/endpoints/customDomains/read"))),
                                            endpoint.cite("customDomains"))),
                            () -> open.add(odd("cdn-endpoint", endpoint, "one of its domains has no host")));
        }
        if (endpoint.find("customDomains").isEmpty()) {
            domains.open().ifPresent(open::add);
        }
        Optional<String> ownHeader = host(endpoint.text("originHostHeader"));
        List<Edge.Origin> origins = new ArrayList<>();
        for (JsonPart part : endpoint.list("origins")) {
            String name = part.text("name").orElse("origin");
            host(part.text("properties", "hostName"))
                    .ifPresentOrElse(
                            origin -> origins.add(new Edge.Origin(
                                    endpoint.id() + "/origins/" + name,
                                    origin,
                                    host(part.text("properties", "originHostHeader"))
                                            .or(() -> ownHeader),
                                    part.flag("properties", "enabled").orElse(true),
                                    Optional.empty(),
                                    endpoint.cite("origins"))),
                            () -> open.add(odd("cdn-endpoint", endpoint, "one of its origins has no host")));
        }
        if (endpoint.find("defaultOriginGroup", "id").isPresent() && origins.size() > 1) {
            open.add(new Need(
                    "cdn-endpoint", endpoint.id(), "which of its origins a group chooses is not modelled", ""));
        }
        List<EdgeRule> rules = new ArrayList<>();
        for (JsonPart part : endpoint.list("deliveryPolicy", "rules")) {
            rules.add(EdgeRule.of(
                    endpoint.id(),
                    part.text("name").orElse("rule"),
                    part,
                    endpoint.at()
                            .at(
                                    endpoint.at().path() + part.at(),
                                    part.text("name").orElse(""))));
        }
        rules.sort(Comparator.comparing(EdgeRule::order));
        String own = host(endpoint.text("hostName")).orElse("");
        Set<String> hosts = new LinkedHashSet<>(byHost.keySet());
        hosts.add(own);
        Edge.Route route = new Edge.Route(
                endpoint.id(),
                Truth.TRUE,
                hosts,
                List.of("/*"),
                endpoint.isOn(Truth.TRUE, "isHttpAllowed"),
                endpoint.isOn(Truth.TRUE, "isHttpsAllowed"),
                Truth.FALSE,
                Edge.Forwarding.AS_VISITOR,
                origins,
                path(endpoint.text("originPath")),
                rules,
                endpoint.flag("isCompressionEnabled").orElse(false),
                true,
                isGuarded(endpoint.text("webApplicationFirewallPolicyLink", "id"), open),
                open,
                endpoint.at());
        Truth serves = endpoint.text("resourceState")
                .map(state -> switch (state) {
                    case "Running" -> Truth.TRUE;
                    case "Stopped", "Stopping" -> Truth.FALSE;
                    default -> Truth.UNKNOWN;
                })
                .orElse(Truth.UNKNOWN);
        return new Edge(
                endpoint.id(),
                profile.id(),
                Edge.Kind.CLASSIC,
                own,
                serves,
                List.copyOf(byHost.values()),
                List.of(route),
                isModelled,
                open,
                endpoint.at());
    }

    private static Edge.Domain classicDomain(Item item, String host) {
        String state = item.text("customHttpsProvisioningState").orElse("");
        boolean isManaged = item.text("customHttpsParameters", "certificateSource")
                .filter("AzureKeyVault"::equals)
                .isEmpty();
        Truth has =
                switch (state) {
                    case "Enabled" -> Truth.TRUE;
                    case "Enabling", "Disabled", "Disabling", "Failed" -> Truth.FALSE;
                    default -> Truth.UNKNOWN;
                };
        List<Need> unread = has == Truth.UNKNOWN
                ? List.of(new Need("cdn-custom-domain", item.id(), "what its HTTPS is at is not in the answer", ""))
                : List.of();
        return new Edge.Domain(
                item.id(),
                host,
                has,
                state,
                item.text("customHttpsProvisioningSubstate").orElse(""),
                item.text("customHttpsParameters", "minimumTlsVersion"),
                isManaged,
                Optional.empty(),
                Optional.empty(),
                unread,
                item.at());
    }

    private static String path(Optional<String> text) {
        String path = text.orElse("");
        String without = path.endsWith("/") ? path.substring(0, path.length() - 1) : path;
        return without.isEmpty() || without.startsWith("/") ? without : "/" + without;
    }

    // --- Front Door ---

    private void frontDoor(Item profile) {
        Listed endpoints = subscription.list("front-door-endpoint-list", profile.id(), "front-door-endpoint");
        endpoints.open().ifPresent(unread::add);
        if (endpoints.items().isEmpty()) {
            return;
        }
        Listed domains = subscription.list("front-door-custom-domain-list", profile.id(), "front-door-custom-domain");
        Listed secrets = subscription.list("front-door-secret-list", profile.id(), "front-door-secret");
        Map<String, Edge.Domain> byId = new HashMap<>();
        for (Item item : domains.items()) {
            host(item.text("hostName"))
                    .ifPresent(host -> byId.put(ResourceId.key(item.id()), frontDoorDomain(item, host, secrets)));
        }
        Listed policies =
                subscription.list("front-door-security-policy-list", profile.id(), "front-door-security-policy");
        endpoints.items().forEach(endpoint -> all.add(frontDoor(profile, endpoint, domains, byId, policies)));
    }

    private Edge frontDoor(
            Item profile, Item endpoint, Listed domains, Map<String, Edge.Domain> byId, Listed policies) {
        List<Need> open = new ArrayList<>();
        String own = host(endpoint.text("hostName")).orElse("");
        Listed routes = subscription.list("front-door-route-list", endpoint.id(), "front-door-route");
        routes.open().ifPresent(open::add);
        Map<String, Edge.Domain> used = new LinkedHashMap<>();
        List<Edge.Route> all = new ArrayList<>();
        for (Item route : routes.items()) {
            all.add(route(route, own, domains, byId, used, policies, open));
        }
        return new Edge(
                endpoint.id(),
                profile.id(),
                Edge.Kind.FRONT_DOOR,
                own,
                enabled(endpoint.text("enabledState")),
                List.copyOf(used.values()),
                all,
                true,
                open,
                endpoint.at());
    }

    private static Need odd(String aspect, Item item, String why) {
        return new Need(aspect, item.id(), why, "");
    }

    private static Truth enabled(Optional<String> state) {
        return state.map(word -> switch (word) {
                    case "Enabled" -> Truth.TRUE;
                    case "Disabled" -> Truth.FALSE;
                    default -> Truth.UNKNOWN;
                })
                .orElse(Truth.TRUE);
    }

    private Edge.Route route(
            Item route,
            String own,
            Listed domains,
            Map<String, Edge.Domain> byId,
            Map<String, Edge.Domain> used,
            Listed policies,
            List<Need> unnamed) {
        List<Need> open = new ArrayList<>();
        Set<String> hosts = new LinkedHashSet<>();
        List<String> domainIds = new ArrayList<>();
        for (JsonPart part : route.list("customDomains")) {
            Optional<String> id = part.text("id");
            Optional<Edge.Domain> domain = id.map(ResourceId::key).map(byId::get);
            id.map(ResourceId::key).ifPresent(domainIds::add);
            domain.ifPresentOrElse(
                    known -> {
                        hosts.add(known.host());
                        used.putIfAbsent(known.host(), known);
                    },
                    () -> open.add(domains.open()
                            .orElse(new Need(
                                    "front-door-custom-domain",
                                    id.orElse(route.id()),
                                    id.isPresent() ? "never asked" : "one of its domains has no identifier",
                                    "Microsoft.Cdn/profiles/customDomains/read"))));
        }
        // Of the hosts that are missing here the edge as a whole does not know whether it answers them.
        unnamed.addAll(open);
        if (route.text("linkToDefaultDomain").filter("Disabled"::equals).isEmpty()) {
            hosts.add(own);
        }
        List<Edge.Origin> origins = origins(route, open);
        List<EdgeRule> rules = rules(route, open);
        List<String> protocols = route.texts("supportedProtocols");
        for (Map.Entry<String, Set<String>> member : WORDS.entrySet()) {
            if (route.find(member.getKey())
                    .filter(part ->
                            part.scalar().filter(member.getValue()::contains).isEmpty())
                    .isPresent()) {
                open.add(odd("front-door-route", route, "its " + member.getKey() + " is none that is known"));
            }
        }
        boolean guarded = guarded(policies, domainIds, open);
        String forwarding = route.text("forwardingProtocol").orElse("");
        return new Edge.Route(
                route.id(),
                enabled(route.text("enabledState")),
                hosts,
                route.texts("patternsToMatch"),
                Truth.of(protocols.isEmpty() || protocols.contains("Http")),
                Truth.of(protocols.isEmpty() || protocols.contains("Https")),
                Truth.of(route.text("httpsRedirect").filter("Enabled"::equals).isPresent()),
                switch (forwarding) {
                    case "HttpOnly" -> Edge.Forwarding.HTTP;
                    case "HttpsOnly" -> Edge.Forwarding.HTTPS;
                    default -> Edge.Forwarding.AS_VISITOR;
                },
                origins,
                path(route.text("originPath")),
                rules,
                route.flag("cacheConfiguration", "compressionSettings", "isCompressionEnabled")
                        .orElse(false),
                route.find("cacheConfiguration").isPresent(),
                guarded,
                open,
                route.at());
    }

    private List<Edge.Origin> origins(Item route, List<Need> open) {
        Optional<String> group = route.text("originGroup", "id");
        if (group.isEmpty()) {
            open.add(new Need("front-door-route", route.id(), "its origin group is not in the answer", ""));
            return List.of();
        }
        Listed listed = subscription.list("front-door-origin-list", group.get(), "front-door-origin");
        listed.open().ifPresent(open::add);
        List<Edge.Origin> origins = new ArrayList<>();
        for (Item item : listed.items()) {
            if (enabled(item.text("enabledState")) == Truth.UNKNOWN) {
                open.add(odd("front-door-origin", item, "whether it is enabled is not known"));
            }
            host(item.text("hostName"))
                    .ifPresentOrElse(
                            name -> origins.add(new Edge.Origin(
                                    item.id(),
                                    name,
                                    host(item.text("originHostHeader")),
                                    enabled(item.text("enabledState")) != Truth.FALSE,
                                    item.find("sharedPrivateLinkResource")
                                            .map(link -> new Edge.PrivateLink(
                                                    link.text("groupId").orElse(""),
                                                    link.text("status")
                                                            .filter("Approved"::equals)
                                                            .isPresent())),
                                    item.at())),
                            () -> open.add(odd("front-door-origin", item, "it has no host")));
        }
        return origins;
    }

    private List<EdgeRule> rules(Item route, List<Need> open) {
        List<EdgeRule> rules = new ArrayList<>();
        for (JsonPart part : route.list("ruleSets")) {
            Optional<String> set = part.text("id");
            if (set.isEmpty()) {
                open.add(odd("front-door-route", route, "one of its rule sets has no identifier"));
                continue;
            }
            Listed listed = subscription.list("front-door-rule-list", set.get(), "front-door-rule");
            listed.open().ifPresent(open::add);
            listed.items().stream()
                    .map(item -> EdgeRule.of(set.get(), item.name(), item.find().orElse(item.document()), item.at()))
                    .sorted(Comparator.comparing(EdgeRule::order))
                    .forEach(rules::add);
        }
        return rules;
    }

    private Edge.Domain frontDoorDomain(Item item, String host, Listed secrets) {
        String state = item.text("domainValidationState").orElse("");
        boolean isManaged = item.text("tlsSettings", "certificateType")
                .filter("CustomerCertificate"::equals)
                .isEmpty();
        List<Need> unread = new ArrayList<>();
        Truth validated =
                switch (state) {
                    case "Approved" -> Truth.TRUE;
                    case "Submitting", "Pending", "Rejected", "TimedOut" -> Truth.FALSE;
                    default -> Truth.UNKNOWN;
                };
        if (validated == Truth.UNKNOWN) {
            unread.add(new Need("front-door-custom-domain", item.id(), "whether it is validated is not known", ""));
        }
        Optional<Edge.EdgeCertificate> certificate = Optional.empty();
        Truth covered = Truth.TRUE;
        if (!isManaged) {
            Optional<Item> secret = item.text("tlsSettings", "secret", "id").flatMap(secrets::find);
            certificate = secret.map(Edges::certificate);
            covered = certificate
                    .filter(each -> !each.names().isEmpty())
                    .map(each -> Truth.of(each.covers(host)))
                    .orElse(Truth.UNKNOWN);
            if (covered == Truth.UNKNOWN) {
                unread.add(secrets.open()
                        .orElse(new Need(
                                "front-door-secret-list",
                                item.text("tlsSettings", "secret", "id").orElse(item.id()),
                                "its certificate was not read",
                                "Microsoft.Cdn/profiles/secrets/read")));
            }
        }
        return new Edge.Domain(
                item.id(),
                host,
                validated.and(covered),
                state,
                "",
                item.text("tlsSettings", "minimumTlsVersion"),
                isManaged,
                certificate,
                item.text("validationProperties", "validationToken"),
                unread,
                item.at());
    }

    private static Edge.EdgeCertificate certificate(Item secret) {
        List<String> names = new ArrayList<>(secret.texts("parameters", "subjectAlternativeNames"));
        secret.text("parameters", "subject")
                .map(subject -> subject.replaceFirst("(?i)^.*CN=", "").replaceFirst(",.*$", ""))
                .filter(name -> !name.isEmpty())
                .ifPresent(names::add);
        return new Edge.EdgeCertificate(
                names,
                secret.text("parameters", "expirationDate").flatMap(Edges::instant),
                secret.flag("parameters", "useLatestVersion").orElse(false),
                secret.at());
    }

    private static Optional<Instant> instant(String text) {
        try {
            return Optional.of(Instant.parse(text));
        } catch (DateTimeParseException noTime) {
            return Optional.empty();
        }
    }

    // --- firewalls ---

    private boolean guarded(Listed policies, List<String> domainIds, List<Need> open) {
        boolean guarded = false;
        if (policies.open().isPresent()) {
            open.add(policies.open().get());
            guarded = true;
        }
        for (Item policy : policies.items()) {
            boolean isMeant = policy.list("parameters", "associations").stream()
                    .flatMap(each -> each.list("domains").stream())
                    .flatMap(each -> each.text("id").stream())
                    .map(ResourceId::key)
                    .anyMatch(id -> domainIds.contains(id) || id.contains("/afdendpoints/"));
            if (isMeant) {
                guarded |= isGuarded(policy.text("parameters", "wafPolicy", "id"), open);
            }
        }
        return guarded;
    }

    /** Returns whether a firewall may answer a plain request. Managed rules alone let it through. */
    private boolean isGuarded(Optional<String> policy, List<Need> open) {
        if (policy.isEmpty()) {
            return false;
        }
        Reading<Item> read = subscription.one("waf-policy", policy.get());
        if (read.found().isEmpty()) {
            read.missing().ifPresent(open::add);
            return true;
        }
        Item item = read.found().get();
        boolean isOn = item.text("policySettings", "enabledState")
                .filter("Disabled"::equals)
                .isEmpty();
        boolean prevents =
                item.text("policySettings", "mode").filter("Detection"::equals).isEmpty();
        boolean blocks = item.list("customRules", "rules").stream()
                .filter(rule ->
                        rule.text("enabledState").filter("Disabled"::equals).isEmpty())
                .anyMatch(rule -> rule.text("action").filter(HARMLESS::contains).isEmpty());
        return isOn && prevents && blocks;
    }

    /** Returns the edges by the hosts that they answer for, their own names among them. */
    public Map<String, List<Edge>> byHost() {
        Map<String, List<Edge>> byHost = new HashMap<>();
        for (Edge edge : all) {
            Set<String> hosts = new LinkedHashSet<>(edge.hosts());
            hosts.add(edge.host());
            hosts.forEach(host ->
                    byHost.computeIfAbsent(host, key -> new ArrayList<>()).add(edge));
        }
        return byHost;
    }

    /** Returns the edges by their identifiers. */
    public Map<String, Edge> byId() {
        return all.stream()
                .collect(Collectors.toMap(edge -> ResourceId.key(edge.id()), Function.identity(), (a, b) -> a));
    }
}
