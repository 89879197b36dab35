package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import warden.cli.Program.Run;

/** What somebody sees who types {@code audit} on a terminal, and what the numbers and commands on it lead to. */
class FirstScreenTest {
    private static final String DEMO = Program.DEMO.toString();
    private static final String AT = "--at=2026-11-24";
    private static final Pattern ENTRY =
            Pattern.compile("^ *([0-9]+) (crit|high|med|low) +([a-z ]+?) {2,}([^ ]+) +(.+)$");

    @TempDir
    private Path folder;

    private static List<String> screen(int columns, String... more) {
        List<String> words = new ArrayList<>(List.of("audit", "--survey", DEMO, AT));
        words.addAll(List.of(more));
        return Program.onTerminal(columns, words.toArray(String[]::new))
                .out()
                .lines()
                .toList();
    }

    @ParameterizedTest
    @ValueSource(ints = {80, 100, 132, 200})
    void fitsTheTerminal(int columns) {
        List<String> lines = screen(columns);
        int height = lines.stream()
                .mapToInt(line -> (line.length() + columns - 1) / columns)
                .sum();
        assertThat(height).isBetween(19, 23);
        assertThat(lines)
                .filteredOn(line -> line.length() > columns)
                .allMatch(line -> line.contains("gentle-warden audit "));
    }

    @Test
    void saysWhoseAccountHowBadInGroupsAndWhatIsNext() {
        List<String> lines = screen(120);
        assertThat(lines.get(0)).isEqualTo("210987654321 · 7 sites · surveyed 3 days ago · everything could be read");
        assertThat(lines.get(1))
                .isEqualTo("  4 critical  10 high  20 medium  18 low    14 at or above the gate (high): exit code 1");
        assertThat(lines)
                .containsSubsequence("STRANGERS CAN", "A LEAKED CREDENTIAL CAN", "VISITORS CANNOT", "YOUR TEAM CANNOT");
        assertThat(lines)
                .anyMatch(line -> line.matches("  2 crit take over +crew.heronferry.example +leads to the bucket .*"))
                .anyMatch(line -> line.matches("  7 high open +notices.heronferry.example +The bucket policy opens .*"))
                .anyMatch(line -> line.startsWith("SITES  4 with findings · 2 healthy (ferry.heronferry.example, "))
                .contains("Next, the first in full: gentle-warden audit --show 1 --survey " + DEMO);
        assertThat(String.join("\n", lines)).doesNotContain(DEMO + ":");
    }

    /** A number on the screen is the number of the finding that --show shows. */
    @Test
    void eachNumberLeadsToItsFinding() {
        List<String> whole =
                Program.run("audit", "--survey", DEMO, AT).out().lines().toList();
        int entries = 0;
        for (String line : screen(200)) {
            Matcher entry = ENTRY.matcher(line);
            if (!entry.matches()) {
                continue;
            }
            entries++;
            Run shown = Program.run("audit", "--survey", DEMO, AT, "--show", entry.group(1));
            List<String> lines = shown.out().lines().toList();
            assertThat(lines.get(0)).isEqualTo("in " + DEMO);
            assertThat(lines.get(2)).matches(" *" + entry.group(1) + " [A-Z]+ +.*\\[[a-z-]+]");
            assertThat(whole).contains(lines.get(2));
            String severity = entry.group(2).equals("crit") ? "CRITICAL" : "HIGH";
            assertThat(lines.get(2)).contains(severity);
            assertThat(shown.out()).contains(" why ", " because  :", " remedy ", " replay   ");
        }
        assertThat(entries).isGreaterThan(8);
        Run none = Program.run("audit", "--survey", DEMO, AT, "--show", "53");
        assertThat(none.code()).isEqualTo(2);
        assertThat(none.err()).contains("this audit has 52 findings");
    }

    /** Each replay is a command that works; a witness is a request that the decision allows. */
    @Test
    void eachReplayShowsItAgain() throws IOException {
        List<String> replays = Program.run("audit", "--survey", DEMO, AT)
                .out()
                .lines()
                .filter(line -> line.contains(" replay   "))
                .map(line -> line.substring(line.indexOf(" replay   ") + 10))
                .toList();
        assertThat(replays).hasSize(52);
        int witnesses = 0;
        for (String replay : replays.stream().distinct().toList()) {
            int pipe = replay.indexOf("' | gentle-warden ");
            String command = pipe < 0 ? replay : replay.substring(pipe + 4);
            String question = pipe < 0 ? "" : replay.substring("printf '%s\\n' '".length(), pipe);
            assertThat(command).startsWith("gentle-warden ").doesNotContain("…");
            String[] words = command.substring("gentle-warden ".length()).split(" ");
            Run run = Program.runOn(question.replace("'\\''", "'"), words);
            assertThat(run.code()).as(replay + run.err()).isIn(0, 1, 5);
            if (pipe >= 0) {
                witnesses++;
                assertThat(run.out()).as(replay).contains("\"decision\":\"allow\"");
            } else if (command.contains(" --only ")) {
                String check = command.replaceAll(".* --only ([a-z-]+).*", "$1");
                assertThat(run.out()).as(replay).contains("[" + check + "]");
            }
        }
        assertThat(witnesses).isGreaterThan(3);
    }

    @Test
    void aHealthySiteIsNotToldThatAnythingIsWrong() {
        List<String> lines = screen(100, "--site", "www.heronferry.example");
        assertThat(lines.get(1)).contains("0 critical  0 high", "nothing at or above the gate (high): exit code 0");
        assertThat(lines).contains("SITES  1 healthy (heronferry.example)").noneMatch(line -> line.contains("CAN"));
    }

    @Test
    void saysWhatCouldNotBeToldLast() throws IOException {
        String unread = Program.demo()
                .lines()
                .map(line -> line.contains("\"aspect\":\"bucket-policy\"")
                        ? line.replaceAll("\"found\":.*", "\"unread\":{\"code\":\"AccessDenied\"}}")
                        : line)
                .collect(Collectors.joining("\n"));
        Path survey = Files.writeString(folder.resolve("s.ndjson"), unread);
        List<String> lines = Program.onTerminal(100, "audit", "--survey", survey.toString(), AT)
                .out()
                .lines()
                .toList();
        assertThat(lines).hasSizeLessThanOrEqualTo(23);
        assertThat(lines.get(0)).endsWith(" · not everything could be read");
        String last =
                lines.stream().dropWhile(line -> !line.startsWith("Not told: ")).collect(Collectors.joining(" "));
        assertThat(last)
                .contains("for want of bucket-policy", "\"s3:GetBucketPolicy\"")
                .endsWith("\"Resource\":\"*\"}");
    }

    @Test
    void saysHowOldTheSurveyIs() {
        assertThat(Program.onTerminal(100, "audit", "--survey", DEMO, "--at=2026-12-30")
                        .out())
                .contains("surveyed 39 days ago: take it again");
        assertThat(Program.run("audit", "--survey", DEMO, "--at=2026-12-30").out())
                .contains(", 39 days ago: take it again, in ");
        assertThat(Program.run("reach", "--survey", DEMO, "--at=2026-12-30").err())
                .contains("was surveyed 39 days ago: take it again");
        assertThat(Program.run("reach", "--survey", DEMO, "--at=2026-12-19").err())
                .isEmpty();
    }

    @Test
    void isTheWholeTextWhenItIsWrittenSomewhere() {
        Path file = folder.resolve("out.txt");
        assertThat(Program.onTerminal(100, "audit", "--survey", DEMO, AT, "-o", file.toString())
                        .out())
                .isEmpty();
        assertThat(Program.read(file))
                .isEqualTo(Program.run("audit", "--survey", DEMO, AT).out());
        assertThat(Program.onTerminal(100, "audit", "--survey", DEMO, AT, "--full")
                        .out())
                .contains(" 52 LOW")
                .doesNotContain("STRANGERS CAN");
    }
}
