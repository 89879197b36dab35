package warden.core.azure.edge;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * One endpoint of an edge, of either kind.
 *
 * <p>Source: Azure CDN REST API, "Endpoints - Get", "Custom Domains - Get"; Azure Front Door REST API, "AFD Endpoints - Get", "Routes - Get".
 *
 * @param host the name that the provider gave it, in lower case
 * @param serves whether it is on
 * @param domains the hosts of the customer's own
 * @param routes a classic endpoint has one, for everything
 * @param isModelled false for edges of other makers, past which nothing is known
 * @param unread what keeps its parts from being known
 */
public record Edge(
        String id,
        String profile,
        Kind kind,
        String host,
        Truth serves,
        List<Domain> domains,
        List<Route> routes,
        boolean isModelled,
        List<Need> unread,
        Citation at) {
    /** The kinds of edges. */
    public enum Kind {
        CLASSIC,
        FRONT_DOOR
    }

    public Edge {
        domains = List.copyOf(domains);
        routes = List.copyOf(routes);
        unread = List.copyOf(unread);
    }

    /**
     * A host of the customer's own.
     *
     * @param host in lower case
     * @param hasCertificate whether visitors are shown a certificate in force that covers it
     * @param state the provider's word for how far its HTTPS is
     * @param detail what the provider says beside that; empty where it says nothing
     * @param minimumTls absent where it is not set, or not read
     * @param isManaged true where the provider renews the certificate
     * @param certificate the customer's own, where that was read
     * @param validationToken what the name has to show for the provider to believe in it; absent where nothing is asked
     */
    public record Domain(
            String id,
            String host,
            Truth hasCertificate,
            String state,
            String detail,
            Optional<String> minimumTls,
            boolean isManaged,
            Optional<EdgeCertificate> certificate,
            Optional<String> validationToken,
            List<Need> unread,
            Citation at) {
        public Domain {
            unread = List.copyOf(unread);
        }
    }

    /** A certificate of the customer's own at an edge. */
    public record EdgeCertificate(List<String> names, Optional<Instant> expires, boolean useLatest, Citation at) {
        public EdgeCertificate {
            names = List.copyOf(names);
        }

        /** Returns whether one of its names stands for a host. */
        public boolean covers(String host) {
            return names.stream()
                    .anyMatch(name -> name.equalsIgnoreCase(host)
                            || (name.startsWith("*.")
                                    && host.indexOf('.') > 0
                                    && host.substring(host.indexOf('.') + 1).equalsIgnoreCase(name.substring(2))));
        }
    }

    /** What the visitor's protocol becomes on the way to the origin. */
    public enum Forwarding {
        AS_VISITOR,
        HTTP,
        HTTPS
    }

    /**
     * What is done with some hosts and paths.
     *
     * @param hosts in lower case; the endpoint's own among them where it answers to it
     * @param redirectsToHttps whether plain HTTP is sent to HTTPS before any rule
     * @param originPath what is put before the path; empty for nothing
     * @param mayBeGuarded true where a firewall may answer in its place
     */
    public record Route(
            String id,
            Truth isOn,
            Set<String> hosts,
            List<String> patterns,
            Truth takesHttp,
            Truth takesHttps,
            Truth redirectsToHttps,
            Forwarding forwarding,
            List<Origin> origins,
            String originPath,
            List<EdgeRule> rules,
            boolean compresses,
            boolean caches,
            boolean mayBeGuarded,
            List<Need> unread,
            Citation at) {
        public Route {
            hosts = Collections.unmodifiableSet(new LinkedHashSet<>(hosts));
            patterns = List.copyOf(patterns);
            origins = List.copyOf(origins);
            rules = List.copyOf(rules);
            unread = List.copyOf(unread);
        }

        /** Returns the origins that are on. */
        public List<Origin> live() {
            return origins.stream().filter(Origin::enabled).toList();
        }
    }

    /**
     * Where the edge fetches from.
     *
     * @param host in lower case
     * @param hostHeader what it sends as the host, in lower case; absent: what the visitor sent
     * @param privateLink absent where the origin is asked over the internet
     */
    public record Origin(
            String id,
            String host,
            Optional<String> hostHeader,
            boolean enabled,
            Optional<PrivateLink> privateLink,
            Citation at) {}

    /** A private way to the origin. */
    public record PrivateLink(String groupId, boolean approved) {}

    /** True for Front Door, whose origins may be asked by private ways. */
    public boolean isFrontDoor() {
        return kind == Kind.FRONT_DOOR;
    }

    /** True when it surely keeps pages: the classic edge does unless told otherwise, the other where a route is told to. */
    public boolean keepsPages() {
        return routes.stream().anyMatch(route -> route.isOn() == Truth.TRUE && (!isFrontDoor() || route.caches()));
    }

    /** Returns all origins that are on, of all routes that are. */
    public List<Origin> liveOrigins() {
        List<Origin> all = new ArrayList<>();
        routes.stream()
                .filter(route -> route.isOn() != Truth.FALSE)
                .flatMap(route -> route.live().stream())
                .filter(origin -> all.stream().noneMatch(other -> other.id().equals(origin.id())))
                .forEach(all::add);
        return all;
    }

    /** Returns what keeps its parts, and those of its routes, from being known. */
    public List<Need> unknowns() {
        return Stream.concat(unread.stream(), routes.stream().flatMap(route -> route.unread().stream()))
                .toList();
    }

    /** Returns the customer's own hosts. */
    public List<String> hosts() {
        return domains.stream().map(Domain::host).toList();
    }

    /** Returns the domain of a host; absent where it has none. */
    public Optional<Domain> domain(String asked) {
        return domains.stream().filter(each -> each.host().equals(asked)).findFirst();
    }
}
