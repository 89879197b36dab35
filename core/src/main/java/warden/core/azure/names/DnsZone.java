package warden.core.azure.names;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import warden.core.azure.account.Item;
import warden.core.azure.account.Page;
import warden.core.azure.account.Subscription;
import warden.core.document.JsonPart;
import warden.core.names.HostRecord;
import warden.core.names.Zone;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/**
 * One zone and its records. Member names are matched without case: the provider and its official command print them differently. Safe for use
 * by several threads.
 *
 * <p>Source: Azure DNS REST API, "Record Sets - List By DNS Zone"; Azure DNS, "Alias records overview".
 */
public final class DnsZone implements Zone {
    private static final String TO_READ = "Microsoft.Network/dnsZones/recordsets/read";

    private final Subscription subscription;
    private final Item item;
    private final Function<String, Optional<String>> hostOfResource;
    private @Nullable Reading<Records> records;

    private record Records(List<HostRecord> all, boolean complete) {}

    /**
     * Makes a zone.
     *
     * @param hostOfResource gives the host that an alias record's target has, by the target's identifier; absent where it is not known
     */
    public DnsZone(Subscription subscription, Item item, Function<String, Optional<String>> hostOfResource) {
        this.subscription = subscription;
        this.item = item;
        this.hostOfResource = hostOfResource;
    }

    @Override
    public String id() {
        return item.id();
    }

    public Citation at() {
        return item.at();
    }

    public Subscription subscription() {
        return subscription;
    }

    @Override
    public Optional<String> name() {
        return Optional.of(HostRecord.canonical(item.name()));
    }

    @Override
    public boolean isPrivate() {
        return item.text("zoneType").filter("Private"::equalsIgnoreCase).isPresent();
    }

    @Override
    public Reading<List<HostRecord>> records() {
        return read().map(Records::all);
    }

    @Override
    public boolean isComplete() {
        return read().found().map(Records::complete).orElse(false);
    }

    @Override
    public Optional<Need> unlisted() {
        return read().missing()
                .or(() -> isComplete() ? Optional.empty() : Optional.of(Need.cutShort("dns-records", id(), TO_READ)));
    }

    @Override
    public Optional<List<String>> nameServers() {
        List<String> servers =
                item.texts("nameServers").stream().map(HostRecord::canonical).toList();
        return servers.isEmpty() ? Optional.empty() : Optional.of(servers);
    }

    private synchronized Reading<Records> read() {
        if (records == null) {
            records = subscription
                    .survey()
                    .listing("dns-records", subscription.spelled("dns-records", id()))
                    .map(listing -> new Records(parse(listing), listing.complete() && isUnderstood(listing)));
        }
        return records;
    }

    /** A set without name or type may be about any host. */
    private static boolean isUnderstood(Survey.Listing listing) {
        return listing.pages().stream()
                .allMatch(page -> Page.isWhole(page.value(), "name") && Page.isWhole(page.value(), "type"));
    }

    private List<HostRecord> parse(Survey.Listing listing) {
        List<HostRecord> all = new ArrayList<>();
        for (Reading.Found<JsonPart> page : listing.pages()) {
            for (JsonPart set : Page.elements(page.value()).orElse(List.of())) {
                Citation at = page.at().at(set);
                record(set, at).ifPresent(all::add);
            }
        }
        return all;
    }

    private Optional<HostRecord> record(JsonPart set, Citation at) {
        String name = set.text("name").orElse("");
        String type = set.text("type").orElse("");
        String kind = type.substring(type.lastIndexOf('/') + 1).toUpperCase(Locale.ROOT);
        if (name.isEmpty() || kind.isEmpty()) {
            return Optional.empty();
        }
        JsonPart properties = set.find("properties").orElse(set);
        String zone = HostRecord.canonical(item.name());
        String host = name.equals("@") ? zone : HostRecord.canonical(name) + "." + zone;
        Optional<String> resource = member(properties, "targetResource").flatMap(part -> part.text("id"));
        Optional<String> alias = resource.flatMap(hostOfResource);
        return Optional.of(new HostRecord(
                id(),
                host,
                kind,
                alias,
                resource,
                resource.isPresent() ? List.of() : values(properties, kind),
                "",
                at));
    }

    private static List<String> values(JsonPart properties, String kind) {
        return switch (kind) {
            case "A" -> texts(properties, "ARecords", "ipv4Address");
            case "AAAA" -> texts(properties, "AAAARecords", "ipv6Address");
            case "NS" -> texts(properties, "NSRecords", "nsdname");
            case "CNAME" ->
                member(properties, "CNAMERecord").flatMap(part -> part.text("cname")).stream()
                        .toList();
            case "TXT" ->
                list(properties, "TXTRecords").stream()
                        .map(part -> String.join("", part.texts("value")))
                        .toList();
            case "CAA" ->
                list(properties, "caaRecords").stream()
                        .map(part -> part.text("flags").orElse("0") + " "
                                + part.text("tag").orElse("") + " \""
                                + part.text("value").orElse("") + "\"")
                        .toList();
            default -> List.of();
        };
    }

    private static List<String> texts(JsonPart properties, String list, String member) {
        return list(properties, list).stream()
                .flatMap(part -> member(part, member).flatMap(JsonPart::scalar).stream())
                .toList();
    }

    private static List<JsonPart> list(JsonPart properties, String name) {
        return member(properties, name)
                .map(part -> part instanceof JsonPart.JsonArray array ? array.items() : List.<JsonPart>of())
                .orElse(List.of());
    }

    private static Optional<JsonPart> member(JsonPart part, String name) {
        if (!(part instanceof JsonPart.JsonObject object)) {
            return Optional.empty();
        }
        return object.members().entrySet().stream()
                .filter(entry -> entry.getKey().equalsIgnoreCase(name))
                .map(Map.Entry::getValue)
                .filter(value -> !(value instanceof JsonPart.JsonNull))
                .findFirst();
    }
}
