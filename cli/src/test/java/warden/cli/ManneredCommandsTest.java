package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.cli.Program.run;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.cli.Program.Run;

/** How commands take what people type, and what their help shows. */
class ManneredCommandsTest {
    private static final String DEMO = Program.DEMO.toString();

    @TempDir
    private Path folder;

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "adit | perhaps audit was meant",
                "audit --ful | there is no option --ful here; perhaps --full was meant",
                "audit --format jsn | --format takes text, json, not \"jsn\"; perhaps json was meant",
                "audit --gate hihg | perhaps high was meant",
                "audit --report htm=x | perhaps html was meant",
                "audit --only key-odl | perhaps key-old was meant",
                "audit --site timetabels.heronferry.example | perhaps timetables.heronferry.example was meant",
                "trim --credential book-deployr | perhaps book-deployer was meant",
                "audit --set BUCKET | --set takes NAME=VALUE",
                "audit --show 0 | --show takes the number of a finding",
                "trace http://x.example/ --expect 99 | --expect takes an HTTP status",
                "checks key-old key-unused | is one word too many",
                "demo --survey x | there is no option --survey here"
            })
    void namesTheNearestWord(String line, String says) {
        String command = line.startsWith("audit") || line.startsWith("trim") ? line + " --survey " + DEMO : line;
        Run wrong = run(command.split(" "));
        assertThat(wrong.code()).isEqualTo(2);
        assertThat(wrong.err()).contains(says);
        assertThat(wrong.out()).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(strings = {"demo", "survey", "audit", "trace", "reach", "trim", "checks", "stand-in", "completion"})
    void helpHasGroupsAndExamplesAndNoExitCodes(String command) {
        String help = run(command, "--help").out();
        assertThat(help).contains("\nExamples:\n  gentle-warden " + command).doesNotContain("Exit codes");
        assertThat(run("--help").out()).contains("Exit codes:\n  0    done");
        if (!List.of("checks", "completion").contains(command)) {
            assertThat(help).contains("\nWhat comes out:\n");
        }
    }

    @Test
    void helpShowsNoOptionThatTheCommandDoesNotUse() {
        assertThat(run("survey", "--help").out()).doesNotContain("--format", "--color", "--site-file", "--survey=");
        assertThat(run("demo", "--help").out()).doesNotContain("--survey", "--site-file");
        assertThat(run("stand-in", "--help").out()).contains("--survey").doesNotContain("--format", "--at=");
        // What is harmless, and the same everywhere, is still taken.
        assertThat(run("survey", "--permissions", "--color", "never").code()).isZero();
    }

    @Test
    void understandsShortNamesWhereTheyAreUnique() throws IOException {
        assertThat(run("audit", "--survey", DEMO, "--site", "timetables", "--gate", "never")
                        .out())
                .contains("timetables.heronferry.example   ")
                .doesNotContain("book.heronferry.example");
        assertThat(run("reach", "--survey", DEMO, "--site", "notices").out()).contains("notices.heronferry.example");
        assertThat(run("trace", "--all", "--survey", DEMO, "--site", "book").out())
                .contains("book.heronferry.example");
        assertThat(run("trim", "--survey", DEMO, "--credential", "book-deployer")
                        .out())
                .contains("arn:aws:iam::210987654321:user/book-deployer");
        Path site = Files.writeString(
                folder.resolve("warden.yaml"),
                "sites:\n  - {name: one, hosts: [timetables.heronferry.example]}\n  - {name: timetables.two, hosts: [a.example]}\n");
        Run several = run("audit", "--survey", DEMO, "-c", site.toString(), "--site", "timetables");
        assertThat(several.code()).isEqualTo(2);
        assertThat(several.err()).contains("may be one, timetables.two; name one of them whole");
    }

    @Test
    void completionKnowsChecksFormatsAndTheSitesOfTheSurvey() throws IOException, InterruptedException {
        String script = run("completion").out();
        assertThat(script).contains("open-around-cdn", "sarif=", "critical", "--allow-unknown", "completion --sites");
        Path file = Files.writeString(folder.resolve("completion.bash"), script);
        Path program = folder.resolve("gentle-warden");
        Files.writeString(
                program, "#!/bin/sh\n[ \"$*\" = 'completion --sites' ] && echo timetables.heronferry.example\n");
        assertThat(program.toFile().setExecutable(true)).isTrue();
        assertThat(completed(file, "gentle-warden audit --site time")).contains("timetables.heronferry.example");
        assertThat(completed(file, "gentle-warden audit --only open-around-")).contains("open-around-cdn");
        assertThat(completed(file, "gentle-warden audit --gate cri")).contains("critical");
        assertThat(completed(file, "gentle-warden checks key-o")).contains("key-old");
        assertThat(completed(file, "gentle-warden audi")).contains("audit");
    }

    private String completed(Path script, String line) throws IOException, InterruptedException {
        String[] words = line.split(" ");
        StringBuilder array = new StringBuilder();
        for (String word : words) {
            array.append('\'').append(word).append("' ");
        }
        String code = "PATH=" + folder + ":$PATH; . " + script + "; COMP_WORDS=(" + array + "); COMP_CWORD="
                + (words.length - 1) + "; f=$(complete -p gentle-warden | sed 's/.*-F \\([^ ]*\\).*/\\1/'); $f; "
                + "printf '%s\\n' \"${COMPREPLY[@]}\"";
        Process bash =
                new ProcessBuilder("bash", "-c", code).redirectErrorStream(true).start();
        String out = new String(bash.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        bash.waitFor();
        return out;
    }
}
