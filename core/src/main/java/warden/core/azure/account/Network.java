package warden.core.azure.account;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.algebra.Addresses;
import warden.core.document.JsonPart;

/**
 * Who gets through to an account's endpoints, the web endpoint included.
 *
 * <p>Source: Storage documentation, "Configure Azure Storage firewalls and virtual networks", "Use private endpoints for Azure Storage".
 *
 * @param reach what the settings come to
 * @param ranges the IPv4 and IPv6 addresses and networks that are let through where only some are
 * @param hasVirtualNetworks true where virtual networks or other resources are let through too, whose callers cannot be told
 * @param hasPrivateEndpoints true where an approved private endpoint leads around these settings
 */
public record Network(Reach reach, List<String> ranges, boolean hasVirtualNetworks, boolean hasPrivateEndpoints) {
    /** How far the endpoints can be reached. */
    public enum Reach {
        /** From everywhere. */
        OPEN,
        /** From some addresses or networks. */
        SOME,
        /** By private endpoints, if at all. */
        CLOSED,
        /** It was not read, or stands in rules that are not modelled. */
        UNKNOWN
    }

    public Network {
        ranges = List.copyOf(ranges);
    }

    static Network of(Optional<Item> settings) {
        if (settings.isEmpty()) {
            return new Network(Reach.UNKNOWN, List.of(), false, false);
        }
        Item item = settings.get();
        boolean hasPrivate = item.list("privateEndpointConnections").stream()
                .anyMatch(each -> each.text("properties", "privateLinkServiceConnectionState", "status")
                        .filter(status -> status.equalsIgnoreCase("Approved"))
                        .isPresent());
        String access = item.text("publicNetworkAccess").orElse("Enabled");
        if (access.equals("Disabled")) {
            return new Network(Reach.CLOSED, List.of(), false, hasPrivate);
        }
        Optional<String> action = item.text("networkAcls", "defaultAction");
        if (!access.equals("Enabled") || action.isEmpty()) {
            return new Network(Reach.UNKNOWN, List.of(), false, hasPrivate);
        }
        if (action.get().equals("Allow")) {
            return new Network(Reach.OPEN, List.of(), false, hasPrivate);
        }
        if (!action.get().equals("Deny")) {
            return new Network(Reach.UNKNOWN, List.of(), false, hasPrivate);
        }
        List<String> ranges = new ArrayList<>();
        boolean understood = true;
        for (String rules : List.of("ipRules", "ipv6Rules")) {
            understood &= item.find("networkAcls", rules)
                    .map(JsonPart.JsonArray.class::isInstance)
                    .orElse(true);
            for (JsonPart rule : item.list("networkAcls", rules)) {
                Optional<String> value = rule.text("value").filter(Network::isRange);
                value.ifPresent(ranges::add);
                understood &= value.isPresent();
            }
        }
        // A rule that is not understood may admit anybody, as one about a network may.
        boolean virtual = !understood
                || !item.list("networkAcls", "virtualNetworkRules").isEmpty()
                || !item.list("networkAcls", "resourceAccessRules").isEmpty();
        Reach reach = ranges.isEmpty() && !virtual ? Reach.CLOSED : Reach.SOME;
        return new Network(reach, ranges, virtual, hasPrivate);
    }

    /** Returns whether the internet as a whole gets through: from everywhere, or from networks so wide that they are the same. */
    public Truth admitsInternet() {
        return switch (reach) {
            case OPEN -> Truth.TRUE;
            case SOME -> Truth.of(ranges.stream().anyMatch(Network::isWide));
            case CLOSED -> Truth.FALSE;
            case UNKNOWN -> Truth.UNKNOWN;
        };
    }

    private static boolean isWide(String range) {
        int slash = range.indexOf('/');
        return slash >= 0 && range.substring(slash + 1).matches("[0-8]");
    }

    /** Returns whether somebody without a place that is known gets through. */
    public Truth admitsSomebody() {
        return switch (reach) {
            case OPEN -> Truth.TRUE;
            case SOME -> ranges.isEmpty() ? Truth.UNKNOWN : Truth.TRUE;
            case CLOSED -> hasPrivateEndpoints ? Truth.UNKNOWN : Truth.FALSE;
            case UNKNOWN -> Truth.UNKNOWN;
        };
    }

    private static boolean isRange(String value) {
        return Addresses.address(value).isPresent() || Addresses.range(value).isPresent();
    }

    private static boolean contains(String range, String address) {
        Optional<BigDecimal> number = Addresses.address(address);
        return number.isPresent()
                && (Addresses.address(range).equals(number)
                        || Addresses.range(range)
                                .filter(found -> found.contains(number.get()))
                                .isPresent());
    }

    /** Returns whether a caller from this address gets through. */
    public Truth admits(String address) {
        return switch (reach) {
            case OPEN -> Truth.TRUE;
            case SOME ->
                ranges.stream().anyMatch(range -> contains(range, address))
                        ? Truth.TRUE
                        : hasVirtualNetworks || hasPrivateEndpoints ? Truth.UNKNOWN : Truth.FALSE;
            case CLOSED -> hasPrivateEndpoints ? Truth.UNKNOWN : Truth.FALSE;
            case UNKNOWN -> Truth.UNKNOWN;
        };
    }
}
