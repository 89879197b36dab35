package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/**
 * An account's survey, over which a description is laid: what the description manages is taken from it, all else from the account. Its things are
 * paired: buckets, users and roles by name, distributions by a host that they share, zones by name, controls by name.
 */
final class Beside {
    private final Survey survey;
    private final Set<String> subjects = new LinkedHashSet<>();

    Beside(Survey survey) {
        this.survey = survey;
        survey.lines().stream()
                .filter(line -> line.outcome() == Outcome.FOUND)
                .forEach(line -> subjects.add(line.of()));
    }

    Survey survey() {
        return survey;
    }

    /** True when the account has something of this identifier. */
    boolean has(String of) {
        return subjects.contains(of);
    }

    /** Returns the ids of the account's zones, by name without the final dot. */
    Map<String, String> zones() {
        Map<String, String> zones = new LinkedHashMap<>();
        for (SurveyLine line : found("zone")) {
            line.document()
                    .text("HostedZone", "Name")
                    .ifPresent(name -> zones.putIfAbsent(
                            name.replaceFirst("\\.$", ""),
                            line.of().substring(line.of().indexOf('/') + 1)));
        }
        return zones;
    }

    private List<SurveyLine> found(String aspect) {
        return survey.lines().stream()
                .filter(line -> line.aspect().equals(aspect) && line.outcome() == Outcome.FOUND)
                .toList();
    }

    /** Returns the account's lines with the described ones over them. */
    List<SurveyLine> under(Description described) {
        Map<String, String> names = partners(described.lines());
        Map<String, SurveyLine> over = new LinkedHashMap<>();
        for (SurveyLine line : described.lines()) {
            SurveyLine renamed = renamed(line, names);
            over.put(renamed.aspect() + " " + renamed.of(), renamed);
        }
        Set<String> removed = new LinkedHashSet<>(described.removed());
        List<SurveyLine> all = new ArrayList<>();
        Set<String> taken = new LinkedHashSet<>();
        for (SurveyLine line : described.holdings().over(survey.lines(), described.lines())) {
            String key = line.aspect() + " " + line.of();
            SurveyLine instead = over.get(key);
            if (instead == null) {
                if (!isRemoved(line.of(), removed)) {
                    all.add(withoutRecords(line, described.records()));
                }
            } else if (taken.add(key)) {
                all.add(
                        line.aspect().equals("zone-records")
                                ? merged(line.of(), instead, described.records())
                                : instead);
            }
        }
        over.forEach((key, line) -> {
            if (!taken.contains(key)) {
                all.add(line);
            }
        });
        return lists(all, removed);
    }

    private static boolean isRemoved(String of, Set<String> removed) {
        return removed.stream().anyMatch(each -> of.equals(each) || of.startsWith(each + "/"));
    }

    /** What is made stands in the account's lists, and what is taken away does not. */
    private List<SurveyLine> lists(List<SurveyLine> lines, Set<String> removed) {
        Set<String> buckets = new LinkedHashSet<>();
        lines.stream()
                .filter(line -> line.aspect().equals("bucket-location"))
                .forEach(line -> buckets.add(line.of().substring(line.of().lastIndexOf(':') + 1)));
        return lines.stream()
                .map(line -> line.outcome() != Outcome.FOUND
                        ? line
                        : switch (line.aspect()) {
                            case "bucket-list" -> withBuckets(line, buckets, removed);
                            case "distribution-list" -> without(line, "Items", "ARN", removed);
                            case "zone-list" -> without(line, "HostedZones", "Id", removed);
                            default -> line;
                        })
                .toList();
    }

    /** Returns a list without what is taken away. */
    private static SurveyLine without(SurveyLine line, String list, String name, Set<String> removed) {
        if (removed.isEmpty()) {
            return line;
        }
        return line.with(Json.text(without(line.document(), list, name, removed)));
    }

    private static Object without(JsonPart part, String list, String name, Set<String> removed) {
        if (!(part instanceof JsonPart.JsonObject object)) {
            return part;
        }
        Map<String, Object> members = new LinkedHashMap<>();
        object.members()
                .forEach((member, value) -> members.put(
                        member,
                        member.equals(list)
                                ? part.list(member).stream()
                                        .filter(item -> item.text(name)
                                                .map(id -> id.replaceFirst("^/", ""))
                                                .filter(removed::contains)
                                                .isEmpty())
                                        .toList()
                                : without(value, list, name, removed)));
        return members;
    }

    /** Returns a reading with another value of one of its document's members. */
    private static SurveyLine with(SurveyLine line, String member, List<?> value) {
        Map<String, Object> document = new LinkedHashMap<>();
        if (line.document() instanceof JsonPart.JsonObject object) {
            document.putAll(object.members());
        }
        document.put(member, value);
        return line.with(Json.text(document));
    }

    private static SurveyLine withBuckets(SurveyLine line, Set<String> buckets, Set<String> removed) {
        List<Object> all = new ArrayList<>();
        Set<String> known = new LinkedHashSet<>();
        for (JsonPart each : line.document().list("Buckets")) {
            String name = each.text("Name").orElse("");
            known.add(name);
            if (!removed.contains(Description.bucket(name))) {
                all.add(each);
            }
        }
        buckets.stream().filter(name -> !known.contains(name)).forEach(name -> all.add(Json.object("Name", name)));
        return with(line, "Buckets", all);
    }

    /** Of a zone whose records are only in part managed here, the account has the rest. */
    private SurveyLine merged(String of, SurveyLine described, Records records) {
        Optional<Survey.Listing> live = survey.listing("zone-records", of).found();
        if (live.isEmpty() || described.outcome() != Outcome.FOUND) {
            return described;
        }
        Map<String, JsonPart> all = new TreeMap<>();
        live.get().pages().forEach(page -> page.value().list("ResourceRecordSets").stream()
                .filter(each -> !isRemoved(of, each, records))
                .forEach(each -> all.put(key(each), each)));
        described.document().list("ResourceRecordSets").forEach(each -> all.put(key(each), each));
        return described.with(Json.text(Json.object(
                "ResourceRecordSets", all.values(), "IsTruncated", !live.get().complete())));
    }

    private static boolean isRemoved(String zone, JsonPart record, Records records) {
        return records.isRemoved(
                zone.substring(zone.indexOf('/') + 1),
                record.text("Name").orElse("").replace("\\052", "*"),
                record.text("Type").orElse(""),
                record.text("SetIdentifier").orElse(""));
    }

    /** Returns the records of a zone without those that are taken away; any other reading as it is. */
    private static SurveyLine withoutRecords(SurveyLine line, Records records) {
        if (!line.aspect().equals("zone-records") || line.outcome() != Outcome.FOUND) {
            return line;
        }
        List<JsonPart> there = line.document().list("ResourceRecordSets");
        List<JsonPart> kept = there.stream()
                .filter(each -> !isRemoved(line.of(), each, records))
                .toList();
        if (kept.size() == there.size()) {
            return line;
        }
        return with(line, "ResourceRecordSets", kept);
    }

    private static String key(JsonPart record) {
        return record.text("Name").orElse("") + " " + record.text("Type").orElse("") + " "
                + record.text("SetIdentifier").orElse("");
    }

    // --- partners

    private Map<String, String> partners(List<SurveyLine> described) {
        Map<String, String> names = new LinkedHashMap<>();
        Map<String, SurveyLine> byHost = new LinkedHashMap<>();
        for (SurveyLine line : found("distribution")) {
            aliases(line).forEach(host -> byHost.putIfAbsent(host, line));
        }
        Map<String, String> controls = new LinkedHashMap<>();
        for (SurveyLine line : found("origin-control")) {
            controlName(line).ifPresent(name -> controls.putIfAbsent(name, line.of()));
        }
        Map<String, String> zones = zones();
        for (SurveyLine line : described) {
            if (line.outcome() != Outcome.FOUND) {
                continue;
            }
            switch (line.aspect()) {
                case "distribution" ->
                    aliases(line)
                            .map(byHost::get)
                            .filter(java.util.Objects::nonNull)
                            .findFirst()
                            .ifPresent(live -> {
                                String id = line.of().substring(line.of().lastIndexOf('/') + 1);
                                live.document()
                                        .text("Distribution", "DomainName")
                                        .ifPresent(domain -> names.put(id + ".cloudfront.net", domain));
                                names.put(id, live.of().substring(live.of().lastIndexOf('/') + 1));
                            });
                case "origin-control" ->
                    controlName(line)
                            .map(controls::get)
                            .ifPresent(of -> names.put(
                                    line.of().substring(line.of().indexOf('/') + 1),
                                    of.substring(of.indexOf('/') + 1)));
                case "zone" ->
                    line.document()
                            .text("HostedZone", "Name")
                            .map(name -> zones.get(name.replaceFirst("\\.$", "")))
                            .ifPresent(id ->
                                    names.put(line.of().substring(line.of().indexOf('/') + 1), id));
                default -> {}
            }
        }
        return names;
    }

    private static Stream<String> aliases(SurveyLine line) {
        JsonPart document = line.document();
        return Stream.concat(
                document.texts("Distribution", "DistributionConfig", "Aliases", "Items").stream(),
                document.texts("DistributionConfig", "Aliases", "Items").stream());
    }

    private static Optional<String> controlName(SurveyLine line) {
        return line.document().text("OriginAccessControl", "OriginAccessControlConfig", "Name");
    }

    private static String spelled(String text) {
        String quoted = Json.text(text);
        return quoted.substring(1, quoted.length() - 1);
    }

    private static SurveyLine renamed(SurveyLine line, Map<String, String> names) {
        String of = line.of();
        @Nullable String body = line.body();
        for (Map.Entry<String, String> name : names.entrySet()) {
            of = of.replace(name.getKey(), name.getValue());
            // A document may hold another as a text. Names hold quotes where there are several of a block.
            String spelled = spelled(name.getKey());
            body = body.replace(spelled, name.getValue()).replace(spelled(spelled), name.getValue());
        }
        return new SurveyLine(
                line.file(), line.line(), line.aspect(), of, line.call(), line.outcome(), body, line.from());
    }
}
