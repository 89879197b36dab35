package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.document.Json;
import warden.core.survey.Place;

/** The records that descriptions make, by zone. Records of a zone that is not made here may be others too, so that its listing is cut short. */
final class Records {
    private final Map<String, List<Object>> byZone = new LinkedHashMap<>();
    private final Map<String, Place> places = new LinkedHashMap<>();
    private final Set<String> removed = new LinkedHashSet<>();
    private final Map<String, String> open = new LinkedHashMap<>();

    /** Adds a record of a zone. */
    void add(String zone, Place place, Object record) {
        byZone.computeIfAbsent(zone, key -> new ArrayList<>()).add(record);
        places.putIfAbsent(zone, place);
    }

    /** Says that a record is taken away, which the zone still has now. */
    void remove(String zone, String name, String type, String variant) {
        removed.add(zone + " " + key(name, type, variant));
    }

    boolean removesAny() {
        return !removed.isEmpty();
    }

    /** True for a record of a zone that is taken away. */
    boolean isRemoved(String zone, String name, String type, String variant) {
        return removed.contains(zone + " " + key(name, type, variant));
    }

    private static String key(String name, String type, String variant) {
        return Shapes.dotted(name).toLowerCase(Locale.ROOT) + " " + type + " " + variant;
    }

    /** Notes that some record of a zone is not told. */
    void unknown(String zone, Place place, String why) {
        byZone.computeIfAbsent(zone, key -> new ArrayList<>());
        places.putIfAbsent(zone, place);
        open.putIfAbsent(zone, why);
    }

    static Object record(
            String name,
            String type,
            Optional<String> ttl,
            List<String> values,
            Optional<Object> alias,
            Optional<String> variant) {
        Map<String, Object> out = new LinkedHashMap<>();
        out.put("Name", Shapes.dotted(name));
        out.put("Type", type);
        variant.ifPresent(id -> out.put("SetIdentifier", id));
        if (alias.isPresent()) {
            out.put("AliasTarget", alias.get());
        } else {
            ttl.ifPresent(time -> out.put("TTL", Shapes.number(time)));
            out.put(
                    "ResourceRecords",
                    values.stream().map(value -> Json.object("Value", value)).toList());
        }
        return out;
    }

    static Object alias(String host, Optional<String> zone) {
        return Json.object("HostedZoneId", zone, "DNSName", Shapes.dotted(host), "EvaluateTargetHealth", false);
    }

    /** Adds the readings. */
    void describe(Description all) {
        byZone.forEach((zone, records) -> {
            boolean isMade = all.has("zone", "hostedzone/" + zone);
            boolean isCut = !isMade || open.containsKey(zone);
            all.found(
                    "zone-records",
                    "hostedzone/" + zone,
                    places.get(zone),
                    () -> isCut
                            ? Json.object(
                                    "ResourceRecordSets", records, "IsTruncated", true, "NextRecordName", "{unknown}")
                            : Json.object("ResourceRecordSets", records, "IsTruncated", false));
        });
    }
}
