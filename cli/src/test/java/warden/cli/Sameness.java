package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import warden.core.document.JsonPart;
import warden.core.document.JsonPart.JsonArray;
import warden.core.document.JsonPart.JsonObject;
import warden.core.document.JsonPart.JsonText;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.document.Pointer;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;

/**
 * Puts a survey into a form that two surveys of the same account share: by aspect and subject, members in order, pages joined, and without
 * what only tells how a listing was cut into pages.
 */
final class Sameness {
    /** Not readable by calls: it comes from files. */
    private static final Set<String> NOT_LIVE = Set.of("pipeline-file");

    private static final Set<String> PAGING = Set.of(
            "IsTruncated",
            "NextRecordName",
            "NextRecordType",
            "NextMarker",
            "NextToken",
            "NextContinuationToken",
            "ContinuationToken",
            "MaxItems",
            "MaxKeys",
            "KeyCount",
            "Marker",
            "Prefix",
            "Delimiter",
            "EncodingType",
            "RequestCharged",
            "Quantity");
    private static final Set<String> LISTINGS =
            Set.of("zone-records", "zone-list", "bucket-objects", "bucket-list", "distribution-list");

    private Sameness() {}

    /** Returns the readings of a survey's text by aspect and subject; each as one line of text. */
    static Map<String, String> of(String survey) {
        Map<String, List<SurveyLine>> lines = new TreeMap<>();
        try {
            SurveyReader.read(new ByteArrayInputStream(survey.getBytes(StandardCharsets.UTF_8)), "survey", line -> {
                if (!NOT_LIVE.contains(line.aspect())) {
                    lines.computeIfAbsent(line.aspect() + " " + line.of(), key -> new ArrayList<>())
                            .add(line);
                }
            });
        } catch (SurveyException broken) {
            throw new AssertionError(broken);
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        Map<String, String> all = new TreeMap<>();
        lines.forEach((key, pages) -> all.put(key, of(pages)));
        return all;
    }

    /** Asserts that two surveys say the same, and shows only where they do not. */
    static void assertSame(String survey, String expected) {
        Map<String, String> are = of(survey);
        Map<String, String> should = of(expected);
        Map<String, String> differences = new TreeMap<>();
        Set<String> keys = new TreeSet<>(are.keySet());
        keys.addAll(should.keySet());
        for (String key : keys) {
            if (!Objects.equals(are.get(key), should.get(key))) {
                differences.put(key, are.get(key) + " instead of " + should.get(key));
            }
        }
        assertThat(differences).isEmpty();
    }

    private static String of(List<SurveyLine> pages) {
        SurveyLine last = pages.get(pages.size() - 1);
        return switch (last.outcome()) {
            case ABSENT -> "absent " + last.body();
            case UNREAD -> "unread " + last.obstacle();
            case FOUND -> "found " + found(pages);
        };
    }

    private static String found(List<SurveyLine> pages) {
        SurveyLine first = pages.get(0);
        if (!LISTINGS.contains(first.aspect())) {
            return spelled(first.aspect(), pages.get(pages.size() - 1).document());
        }
        List<String> items = new ArrayList<>();
        for (SurveyLine page : pages) {
            JsonPart document = page.document();
            JsonPart list = document.find("DistributionList").orElse(document);
            ((JsonObject) list).members().forEach((name, value) -> {
                if (value instanceof JsonArray array) {
                    array.items().forEach(item -> items.add(spelled(first.aspect(), item)));
                } else if (!PAGING.contains(name) && !name.equals("Name")) {
                    items.add(name + "=" + spelled(first.aspect(), value));
                }
            });
        }
        return items.stream().sorted().toList().toString();
    }

    private static String spelled(String aspect, JsonPart part) {
        return JsonSpelling.of(ordered(aspect, part));
    }

    private static JsonPart ordered(String aspect, JsonPart part) {
        if (part instanceof JsonArray array) {
            return new JsonArray(
                    Pointer.ROOT,
                    array.items().stream().map(item -> ordered(aspect, item)).toList());
        }
        if (!(part instanceof JsonObject object)) {
            return part;
        }
        Map<String, JsonPart> members = new TreeMap<>();
        object.members().forEach((name, value) -> {
            // A policy may be held as text or as a document; what it says counts.
            boolean policy = name.equals("Policy") && value instanceof JsonText;
            members.put(
                    name,
                    policy
                            ? JsonReader.read(((JsonText) value).value())
                                    .root()
                                    .map(root -> ordered(aspect, root))
                                    .orElse(value)
                            : ordered(aspect, value));
        });
        return new JsonObject(Pointer.ROOT, members);
    }
}
