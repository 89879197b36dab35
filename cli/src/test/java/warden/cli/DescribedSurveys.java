package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import warden.cli.Program.Run;

/** What tests of surveys that are made of descriptions share: writing one, and the readings that come of it. */
abstract class DescribedSurveys {
    static final JsonMapper JSON = JsonMapper.builder().build();

    @TempDir
    Path folder;

    Map<String, JsonNode> survey(String template, String... more) throws IOException {
        return read(template, "site.yaml", more);
    }

    Map<String, JsonNode> read(String template, String name, String... more) throws IOException {
        return readings(Files.writeString(folder.resolve(name), template), more);
    }

    Map<String, JsonNode> sources(Map<String, String> files, String... more) throws IOException {
        Path root = Files.createDirectories(folder.resolve("source"));
        for (Map.Entry<String, String> file : files.entrySet()) {
            Path path = root.resolve(file.getKey());
            Files.createDirectories(path.getParent());
            Files.writeString(path, file.getValue());
        }
        List<String> words = new ArrayList<>(List.of("--account", "210987654321"));
        words.addAll(List.of(more));
        return readings(root, words.toArray(String[]::new));
    }

    private Map<String, JsonNode> readings(Path described, String... more) throws IOException {
        Path out = folder.resolve("planned.ndjson");
        List<String> words = new ArrayList<>(List.of(
                "survey",
                "--template",
                described.toString(),
                "--force",
                "--output",
                out.toString(),
                "--at",
                "2026-11-24"));
        words.addAll(List.of(more));
        Run run = Program.run(words.toArray(String[]::new));
        assertThat(run.code()).as(run.err()).isZero();
        Map<String, JsonNode> readings = new HashMap<>();
        for (String line : Files.readAllLines(out)) {
            JsonNode node = JSON.readTree(line);
            Program.assertValid("survey-line", line);
            readings.put(
                    node.path("aspect").asString("header") + " "
                            + node.path("of").asString(""),
                    node);
        }
        return readings;
    }

    Run refused(String template, String... more) throws IOException {
        Path file = Files.writeString(folder.resolve("site.yaml"), template);
        List<String> words = new ArrayList<>(List.of(
                "survey",
                "--template",
                file.toString(),
                "--output",
                folder.resolve("none.ndjson").toString()));
        words.addAll(List.of(more));
        Run run = Program.run(words.toArray(String[]::new));
        assertThat(folder.resolve("none.ndjson")).doesNotExist();
        return run;
    }
}
