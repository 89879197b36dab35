package warden.bench;

import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.ObjectMapper;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** A subscription of many sites, each stamped from the healthy one of the demo: its own lines, and its own items of the subscription's lists. */
final class StampedSubscription {
    private static final Path DEMO = Path.of("demo/heron-sound-quayside.ndjson");
    private static final String OTHER_SITE = "quaysidewifi";
    /** What names the site and its parts, and what follows each name in the stamped ones. */
    private static final List<String> NAMES = List.of(
            "harbourmenu",
            "/menu",
            "\"menu",
            "b3d1c0aa-4e2f-4b8a-9c55-",
            "22222222-3333-4444-8555-",
            "4e1f6c8b-0b1d-4c9f-a1b5-",
            "6b1f0003",
            "6b1f0004");

    private StampedSubscription() {}

    /** Writes a survey; returns how many lines it has. */
    static long write(Path file, int sites) throws IOException {
        ObjectMapper mapper = JsonMapper.builder().build();
        long lines = 0;
        try (BufferedWriter out = Files.newBufferedWriter(file)) {
            for (String line : Files.readAllLines(DEMO)) {
                JsonNode reading = mapper.readTree(line);
                String of = reading.path("of").asString("");
                boolean isList = reading.path("found").path("value") instanceof ArrayNode;
                if (isOf(of)) {
                    for (int i = 0; i < sites; i++) {
                        out.write(stamped(line, i) + "\n");
                        lines++;
                    }
                } else if (of.contains(OTHER_SITE)
                        || reading.path("aspect").asString("").equals("pipeline-file")) {
                    continue;
                } else {
                    out.write((isList ? stampedList(mapper, (ObjectNode) reading, sites) : line) + "\n");
                    lines++;
                }
            }
        }
        return lines;
    }

    private static boolean isOf(String text) {
        return NAMES.stream().anyMatch(text::contains);
    }

    private static String stampedList(ObjectMapper mapper, ObjectNode reading, int sites) {
        ArrayNode items = (ArrayNode) reading.path("found").path("value");
        ArrayNode stamped = mapper.createArrayNode();
        for (JsonNode item : items) {
            String text = item.toString();
            if (!isOf(text)) {
                stamped.add(item);
                continue;
            }
            for (int i = 0; i < sites; i++) {
                stamped.add(mapper.readTree(stamped(text, i)));
            }
        }
        ((ObjectNode) reading.path("found")).set("value", stamped);
        return reading.toString();
    }

    private static String stamped(String text, int i) {
        String number = String.valueOf(100_000 + i);
        String plain = text;
        for (Map.Entry<String, String> name : Map.of(
                        "harbourmenu", "harbour" + number,
                        "\"menu\"", "\"menu" + number + "\"",
                        "menu.quayside.example", "menu" + number + ".quayside.example",
                        "menu-c5hmfgb3d0a5e4fr", "menu" + number + "-c5hmfgb3d0a5e4fr",
                        "1f7d2e3a4b5c", "1f7d2e" + number,
                        "666666666666", "666666" + number,
                        "808e2d1d0a33", "808e2d" + number,
                        "6b1f000", number + "000")
                .entrySet()) {
            plain = plain.replace(name.getKey(), name.getValue());
        }
        return plain.replaceAll("/menu(?=[\"/])", "/menu" + number);
    }
}
