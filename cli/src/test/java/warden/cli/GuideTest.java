package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.cli.Program.Run;

/** Runs every command line of the guide. */
class GuideTest {
    /** Files of the guide's folder, by the names that its command lines use. */
    private static final Set<String> FILES = Set.of(
            "warden.yaml",
            "warden.sarif",
            "warden.xml",
            "warden.md",
            "warden.html",
            "publish.yml",
            "public",
            "policies",
            "survey.ndjson",
            "site.yaml",
            "planned.ndjson",
            "second.ndjson",
            "surveys",
            "variables.yml",
            "last.json",
            "questions.ndjson",
            "whole.txt",
            "mended",
            "mended/after.ndjson",
            "policies/www-publisher.policy.json",
            "night.ndjson",
            "./publish.sh");

    @TempDir
    private Path folder;

    @Test
    void everyCommandLineOfTheGuideWorks() throws IOException {
        Files.copy(Program.DEMO, folder.resolve("survey.ndjson"));
        Files.copy(Path.of("..", "demo", "tides", "site.yaml"), folder.resolve("site.yaml"));
        Files.writeString(
                folder.resolve("second.ndjson"),
                "{\"survey\":1,\"provider\":\"aws\",\"account\":\"109876543210\",\"takenAt\":\"2026-11-02T08:00:00Z\",\"takenBy\":\"x\"}\n");
        Files.writeString(
                folder.resolve("publish.yml"),
                "on: push\njobs: {publish: {steps: [{run: 'aws s3 sync public s3://book.heronferry.example'}]}}\n");
        Files.writeString(
                folder.resolve("variables.yml"),
                "on: push\njobs: {publish: {steps: [{run: 'aws s3 sync public s3://$BUCKET'}]}}\n");
        Path publish = Files.writeString(folder.resolve("publish.sh"), "#!/bin/sh\nexit 0\n");
        assertThat(publish.toFile().setExecutable(true)).isTrue();
        Files.createDirectory(folder.resolve("surveys"));
        Files.copy(folder.resolve("survey.ndjson"), folder.resolve("surveys/demo.ndjson"));
        Files.copy(folder.resolve("second.ndjson"), folder.resolve("surveys/second.ndjson"));
        Files.createDirectory(folder.resolve("public"));
        Files.writeString(folder.resolve("public/index.html"), "<p>x</p>");
        Files.writeString(
                folder.resolve("questions.ndjson"),
                "{\"id\":\"q\",\"who\":\"anyone\",\"action\":\"s3:GetObject\",\"on\":\"arn:aws:s3:::book.heronferry.example/index.html\"}\n");
        List<String> lines = commandLines();
        assertThat(lines).hasSizeGreaterThan(14);
        for (String line : lines) {
            List<String> words = arguments(line);
            Run run = Program.run(words.toArray(new String[0]));
            assertThat(run.code()).as(line + "\n" + run.err()).isIn(0, 1);
            boolean quiet =
                    line.contains("--first-site-file") || line.contains("--output") || line.contains(" rehearse ");
            assertThat(run.out().isEmpty()).as(line).isEqualTo(quiet);
            assertThat(run.out().isEmpty() ? run.err() : run.out()).as(line).doesNotContain("Exception");
        }
        assertThat(folder.resolve("warden.html")).exists();
        assertThat(folder.resolve("whole.txt")).content().contains("Account ").doesNotContain("--full shows all");
        assertThat(folder.resolve("policies/www-publisher.policy.json")).exists();
    }

    /** These ask an account; the tests of such surveys run them. */
    static boolean isLive(String line) {
        return line.contains("survey --organization") || line.contains("survey --inventory");
    }

    /** Returns the words of the guide's command line that begins so, without the program's name. */
    static List<String> live(String beginning) throws IOException {
        try (Stream<String> lines = Files.lines(Path.of("..", "docs", "guide.md"))) {
            String line = lines.map(String::strip)
                    .filter(each -> each.startsWith("gentle-warden " + beginning))
                    .findFirst()
                    .orElseThrow();
            return new ArrayList<>(List.of(line.split(" ")).subList(1, line.split(" ").length));
        }
    }

    private static List<String> commandLines() throws IOException {
        try (Stream<String> lines = Files.lines(Path.of("..", "docs", "guide.md"))) {
            return lines.filter(line -> line.startsWith("    gentle-warden "))
                    .map(String::strip)
                    .filter(line -> !isLive(line))
                    .toList();
        }
    }

    private List<String> arguments(String line) {
        List<String> words = new ArrayList<>();
        for (String word : line.split(" ")) {
            int equals = word.indexOf('=');
            String name = word.substring(equals + 1);
            words.add(FILES.contains(name) ? word.substring(0, equals + 1) + folder.resolve(name) : word);
        }
        words.remove(0);
        boolean onSurvey = Set.of("audit", "trim", "reach", "trace", "rehearse").contains(words.get(0))
                && !words.contains("--survey");
        if (onSurvey) {
            words.addAll(1, List.of("--survey", folder.resolve("survey.ndjson").toString()));
        }
        return words;
    }
}
