package warden.core.azure.trace;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.azure.edge.Edge;
import warden.core.azure.edge.EdgeRule;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.site.EndpointName;
import warden.core.document.JsonPart;
import warden.core.survey.Need;
import warden.core.trace.Journal;
import warden.core.trace.Outcome;
import warden.core.trace.Outcome.Failure;
import warden.core.trace.OutcomeSet;
import warden.core.trace.Step.At;
import warden.core.trace.WebAddress;

/**
 * What an edge does with a request.
 *
 * <p>Source: Azure CDN, "Standard rules engine reference", "Configure HTTPS on an Azure CDN custom domain"; Azure Front Door, "How requests get
 * matched to a route configuration", "Understand Front Door caching and routing", "What is a rule set in Azure Front Door".
 */
final class EdgeAnswer {
    private final AzureCloud cloud;
    private final Journal journal;

    EdgeAnswer(AzureCloud cloud, Journal journal) {
        this.cloud = cloud;
        this.journal = journal;
    }

    /** A request as it comes to the edge. */
    record Arriving(Edge edge, WebAddress address, String method) {
        boolean secure() {
            return address.secure();
        }

        String host() {
            return address.host();
        }
    }

    OutcomeSet to(Arriving request) {
        Edge edge = request.edge();
        if (!edge.isModelled()) {
            journal.step(At.EDGE, "The edge is another maker's; what it does is not modelled.", edge.at());
            journal.need(new Need("cdn-profile", edge.profile(), "edges of other makers are not modelled", ""));
            journal.decides("");
            return OutcomeSet.anything();
        }
        if (isUnderWildcard(edge, request.host())) {
            journal.step(At.EDGE, "A domain with a wildcard may take this host; that is not modelled.", edge.at());
            journal.need(
                    new Need("front-door-custom-domain", edge.id(), "domains with a wildcard are not modelled", ""));
            journal.decides("");
            return OutcomeSet.anything();
        }
        OutcomeSet failed = OutcomeSet.of(Outcome.of(Failure.TLS));
        return switch (request.secure() ? failsInTls(request) : Truth.FALSE) {
            case TRUE -> failed;
            case FALSE -> served(request);
            case UNKNOWN -> served(request).or(failed);
        };
    }

    /** Returns whether the visitor is shown no certificate for the host. */
    private Truth failsInTls(Arriving request) {
        Edge edge = request.edge();
        String host = request.host();
        if (host.equals(edge.host())) {
            journal.step(At.TLS, "The edge's own certificate covers its own name.", edge.at());
            return Truth.FALSE;
        }
        Optional<Edge.Domain> domain = edge.domain(host);
        if (domain.isEmpty() && !edge.unread().isEmpty()) {
            journal.step(At.TLS, "Whether the edge has a certificate for " + host + " was not read.");
            journal.needs(edge.unread());
            return Truth.UNKNOWN;
        }
        if (domain.isEmpty()) {
            journal.step(
                    At.TLS, "The edge does not know the host " + host + " and shows its own certificate.", edge.at());
            journal.decides("Make " + host + " a custom domain of the edge, with HTTPS.");
            return Truth.TRUE;
        }
        switch (domain.get().hasCertificate()) {
            case TRUE ->
                journal.step(
                        At.TLS,
                        "The edge has a certificate for " + host + ".",
                        domain.get().at());
            case FALSE -> {
                journal.step(
                        At.TLS,
                        "The edge has no certificate in force for " + host + " ("
                                + domain.get().state() + ").",
                        domain.get().at());
                journal.decides("Switch HTTPS on for " + host + ", and wait until it is there.");
            }
            case UNKNOWN -> {
                // Until its certificate ends, what has to be validated again goes on.
                journal.step(
                        At.TLS,
                        "Whether the edge has a certificate for " + host + " is not known.",
                        domain.get().at());
                journal.needs(domain.get().unread());
            }
        }
        return domain.get().hasCertificate().not();
    }

    private static boolean isUnderWildcard(Edge edge, String host) {
        return !edge.hosts().contains(host)
                && !edge.host().equals(host)
                && edge.hosts().stream().anyMatch(each -> each.startsWith("*.") && host.endsWith(each.substring(1)));
    }

    private OutcomeSet served(Arriving request) {
        Edge edge = request.edge();
        if (edge.serves() == Truth.FALSE) {
            journal.step(At.EDGE, "The edge is off.", edge.at());
            journal.decides("Start the edge.");
            return OutcomeSet.of(Outcome.of(404), Outcome.of(400), Outcome.of(403));
        }
        if (edge.serves() == Truth.UNKNOWN) {
            journal.step(At.EDGE, "Whether the edge is on is not known.", edge.at());
            journal.need(new Need("cdn-endpoint", edge.id(), "its state is not known", ""));
            journal.decides("");
            return OutcomeSet.anything(routed(request));
        }
        return routed(request);
    }

    private OutcomeSet routed(Arriving request) {
        Edge edge = request.edge();
        List<Edge.Route> fitting = new ArrayList<>();
        for (Edge.Route route : edge.routes()) {
            if (route.isOn() != Truth.FALSE
                    && route.hosts().contains(request.host())
                    && matching(route, request.address().decodedPath()).isPresent()) {
                fitting.add(route);
            }
        }
        fitting.sort(Comparator.comparing(
                route -> -rank(matching(route, request.address().decodedPath()).orElseThrow())));
        Optional<Edge.Route> route = fitting.stream()
                .filter(each -> (request.secure() ? each.takesHttps() : each.takesHttp()) != Truth.FALSE)
                .findFirst();
        if (route.isEmpty()) {
            boolean isProtocol = !fitting.isEmpty();
            journal.step(
                    At.EDGE,
                    isProtocol
                            ? "The edge does not take " + (request.secure() ? "HTTPS" : "plain HTTP")
                                    + " for this host."
                            : "No route of the edge takes this host and path.",
                    isProtocol ? fitting.get(0).at() : edge.at());
            journal.decides(
                    isProtocol ? "Allow the protocol, or ask by the other." : "Add the host to a route that is on.");
            OutcomeSet refused = edge.isFrontDoor() || !isProtocol
                    ? OutcomeSet.of(Outcome.of(404), Outcome.of(400))
                    : OutcomeSet.of(Outcome.of(400), Outcome.of(403), Outcome.of(404));
            List<Need> open = new ArrayList<>(edge.unread());
            edge.routes().forEach(each -> open.addAll(each.unread()));
            if (!open.isEmpty()) {
                journal.needs(open);
                return OutcomeSet.anything(refused);
            }
            return refused;
        }
        OutcomeSet answer = through(request, route.get());
        Truth takes = request.secure() ? route.get().takesHttps() : route.get().takesHttp();
        if (route.get().isOn().and(takes) == Truth.UNKNOWN) {
            journal.need(new Need(
                    edge.isFrontDoor() ? "front-door-route" : "cdn-endpoint",
                    route.get().id(),
                    "whether it is on and takes the protocol is not known",
                    ""));
            return OutcomeSet.anything(answer);
        }
        return answer;
    }

    /** Returns the pattern of a route that takes a path. */
    private static Optional<String> matching(Edge.Route route, String path) {
        return route.patterns().stream()
                .filter(pattern -> pattern.endsWith("*")
                        ? path.toLowerCase(Locale.ROOT)
                                .startsWith(pattern.substring(0, pattern.length() - 1)
                                        .toLowerCase(Locale.ROOT))
                        : path.equalsIgnoreCase(pattern))
                .max(Comparator.comparing(EdgeAnswer::rank));
    }

    /** What is exact goes before what has a wildcard, the longest first. */
    private static int rank(String pattern) {
        return pattern.length() + (pattern.endsWith("*") ? 0 : 100_000);
    }

    private OutcomeSet through(Arriving request, Edge.Route route) {
        OutcomeSet answer = ruled(request, route);
        if (route.mayBeGuarded()) {
            journal.step(At.EDGE, "A firewall may answer in the edge's place.");
            journal.need(new Need("waf-policy", route.id(), "what its own rules let through is not modelled", ""));
            answer = OutcomeSet.anything(answer);
        }
        if (!route.unread().isEmpty()) {
            journal.needs(route.unread());
            answer = OutcomeSet.anything(answer);
        }
        return answer;
    }

    private OutcomeSet ruled(Arriving request, Edge.Route route) {
        WebAddress address = request.address();
        if (!request.secure() && route.redirectsToHttps() == Truth.TRUE) {
            journal.step(At.EDGE, "The edge sends plain HTTP to HTTPS.", route.at());
            String location = "https://" + address.host() + pathAndQuery(address);
            return OutcomeSet.of(
                    Outcome.redirect(307, location),
                    Outcome.redirect(301, location),
                    Outcome.redirect(302, location),
                    Outcome.redirect(308, location));
        }
        String path = address.decodedPath();
        Optional<EdgeRule> stopped = Optional.empty();
        for (EdgeRule rule : route.rules()) {
            EdgeRule.Asked asked =
                    new EdgeRule.Asked(scheme(address), address.host(), request.method(), path, query(address));
            Truth holds = rule.holds(asked);
            if (holds == Truth.FALSE) {
                continue;
            }
            if (stopped.isPresent()) {
                if (stopped.get().set().equals(rule.set())) {
                    continue;
                }
                return unknownRule(rule, "whether a rule that stops ends later rule sets too is not said");
            }
            if (holds == Truth.UNKNOWN || !rule.isModelled()) {
                return unknownRule(rule, "the rule " + rule.name() + " is not modelled");
            }
            for (JsonPart redirect : rule.actions("UrlRedirect")) {
                journal.step(At.EDGE, "The rule " + rule.name() + " redirects.", rule.at());
                return OutcomeSet.of(redirected(redirect, address));
            }
            for (JsonPart rewrite : rule.actions("UrlRewrite")) {
                String next = rewritten(rewrite, path);
                if (!next.equals(path)) {
                    journal.step(At.EDGE, "The rule " + rule.name() + " rewrites the path to " + next + ".", rule.at());
                }
                path = next;
            }
            if (rule.stops()) {
                stopped = Optional.of(rule);
            }
        }
        return toOrigin(request, route, path);
    }

    private OutcomeSet unknownRule(EdgeRule rule, String why) {
        journal.step(At.EDGE, "What the edge does is not known: " + why + ".", rule.at());
        journal.need(new Need("front-door-rule", rule.set() + "/" + rule.name(), why, ""));
        journal.decides("");
        return OutcomeSet.anything();
    }

    private static String scheme(WebAddress address) {
        return address.secure() ? "https" : "http";
    }

    private static String query(WebAddress address) {
        return address.query().orElse("");
    }

    private static String pathAndQuery(WebAddress address) {
        return address.path() + address.query().map(query -> "?" + query).orElse("");
    }

    private static Outcome redirected(JsonPart action, WebAddress address) {
        int status =
                switch (action.text("redirectType").orElse("Found")) {
                    case "Moved" -> 301;
                    case "TemporaryRedirect" -> 307;
                    case "PermanentRedirect" -> 308;
                    default -> 302;
                };
        String protocol = action.text("destinationProtocol")
                .map(each -> each.toLowerCase(Locale.ROOT))
                .orElse(scheme(address));
        String host =
                action.text("customHostname").filter(each -> !each.isEmpty()).orElse(address.host());
        String path = pathAndQuery(address);
        int mark = path.indexOf('?');
        Optional<String> other = action.text("customPath").filter(each -> !each.isEmpty());
        if (other.isPresent()) {
            String slashed = other.get().startsWith("/") ? other.get() : "/" + other.get();
            path = slashed + (mark < 0 ? "" : path.substring(mark));
        }
        return Outcome.redirect(status, protocol + "://" + host + path);
    }

    /** Returns the path that a rewrite makes of one; the same where its pattern does not fit. */
    static String rewritten(JsonPart action, String path) {
        String pattern = action.text("sourcePattern").orElse("/");
        String destination = action.text("destination").orElse("/");
        boolean keepsRest = action.flag("preserveUnmatchedPath").orElse(true);
        if (!path.startsWith(pattern)) {
            return path;
        }
        String rest = path.substring(pattern.length());
        if (!keepsRest || rest.isEmpty()) {
            return destination;
        }
        String joined =
                destination.endsWith("/") || rest.startsWith("/") ? destination + rest : destination + "/" + rest;
        return joined.startsWith("/") ? joined : "/" + joined;
    }

    private OutcomeSet toOrigin(Arriving request, Edge.Route route, String path) {
        if (route.origins().isEmpty() && !route.unread().isEmpty()) {
            return OutcomeSet.anything();
        }
        List<Edge.Origin> live = route.live();
        if (live.isEmpty()) {
            journal.step(At.ORIGIN, "No origin of the edge is on.", route.at());
            journal.decides("Switch an origin on.");
            return OutcomeSet.of(Outcome.of(502), Outcome.of(503));
        }
        if (!route.originPath().isEmpty() && route.patterns().stream().noneMatch("/*"::equals)) {
            journal.step(At.ORIGIN, "How an origin path and a pattern are put together is not said.", route.at());
            journal.need(new Need("front-door-route", route.id(), "it is not documented", ""));
            journal.decides("");
            return OutcomeSet.anything();
        }
        OutcomeSet first = toOrigin(request, route, live.get(0), path);
        for (Edge.Origin other : live.subList(1, live.size())) {
            OutcomeSet next = toOrigin(request, route, other, path);
            if (!next.equals(first)) {
                journal.need(new Need("front-door-origin", other.id(), "which origin answers is not known", ""));
                return OutcomeSet.anything(first.or(next));
            }
        }
        return first;
    }

    private OutcomeSet toOrigin(Arriving request, Edge.Route route, Edge.Origin origin, String path) {
        boolean secure =
                switch (route.forwarding()) {
                    case AS_VISITOR -> request.secure();
                    case HTTP -> false;
                    case HTTPS -> true;
                };
        Optional<AzureCloud.Storage> storage = cloud.storage(origin.host());
        if (storage.isEmpty()) {
            return elsewhere(origin);
        }
        String header = origin.hostHeader().orElse(request.host());
        journal.step(
                At.ORIGIN,
                "The edge asks " + origin.host() + (header.equals(origin.host()) ? "" : " as " + header)
                        + (secure ? "" : ", over plain HTTP") + ".",
                origin.at());
        Optional<Edge.PrivateLink> link = origin.privateLink();
        boolean isPrivate = link.filter(Edge.PrivateLink::approved).isPresent();
        if (link.isPresent() && !isPrivate) {
            journal.step(At.ORIGIN, "The private link to the origin is not approved.", origin.at());
            journal.decides("Approve the private link at the storage account.");
            return OutcomeSet.of(Outcome.of(502), Outcome.of(503));
        }
        if (isPrivate && storage.get().isWeb() && !link.get().groupId().equals("web")) {
            journal.step(
                    At.ORIGIN, "The private link leads to another part of the account than its website.", origin.at());
            journal.decides("Make the private link one to the group web.");
            return OutcomeSet.of(Outcome.of(502), Outcome.of(503));
        }
        return new StorageAnswer(journal)
                .to(new StorageAnswer.Arriving(
                        storage.get().account(),
                        storage.get().isWeb(),
                        header,
                        secure,
                        route.originPath() + path,
                        isPrivate));
    }

    private OutcomeSet elsewhere(Edge.Origin origin) {
        Optional<EndpointName> name = EndpointName.parse(origin.host());
        if (name.filter(EndpointName::isStorage).isPresent()) {
            List<Need> open = unlisted();
            if (open.isEmpty()) {
                journal.step(
                        At.ORIGIN,
                        "The origin " + origin.host()
                                + " is of a storage account that is not in the surveyed subscriptions.",
                        origin.at());
                journal.need(new Need("storage-account-list", origin.host(), "another subscription may hold it", ""));
                journal.decides("Create the account again, or take the origin out.");
                return OutcomeSet.anything(OutcomeSet.of(Outcome.of(502), Outcome.of(503)));
            }
            journal.needs(open);
        } else {
            journal.need(new Need("front-door-origin", origin.id(), "a server elsewhere is not surveyed", ""));
        }
        journal.step(At.ORIGIN, "What answers at " + origin.host() + " is not part of a survey.", origin.at());
        journal.decides("");
        return OutcomeSet.anything();
    }

    private List<Need> unlisted() {
        return cloud.accounts().stream()
                .map(AzureAccount::subscription)
                .flatMap(subscription -> subscription.unlistedAccounts().stream())
                .toList();
    }
}
