package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Which JVM the launcher starts for which work, seen by a Java that only says what it was given. */
class LauncherTest {
    private static final Path START =
            Path.of("src/main/dist/lib/start.sh").toAbsolutePath().normalize();

    @TempDir
    private Path folder;

    @TempDir
    private static Path pages;

    @BeforeAll
    static void pages() throws IOException {
        Path below = Files.createDirectories(pages.resolve("below"));
        for (int i = 0; i < 2_000; i++) {
            Files.createFile(below.resolve(i + ".html"));
        }
    }

    /** No archive can be made there, so that none is. */
    private String archives = "/dev/null/none";

    @BeforeEach
    void files() throws IOException {
        Files.writeString(folder.resolve("java"), "#!/bin/sh\nprintf '%s\\n' \"$@\"\n");
        assertThat(folder.resolve("java").toFile().setExecutable(true)).isTrue();
        Files.writeString(folder.resolve("small.ndjson"), "{}\n");
        Files.write(folder.resolve("large.ndjson"), new byte[3 * 1024 * 1024]);
        Files.createSymbolicLink(folder.resolve("link.ndjson"), folder.resolve("large.ndjson"));
        Files.createDirectories(folder.resolve("surveys"));
        Files.createDirectories(folder.resolve("page"));
        Files.writeString(folder.resolve("page/index.html"), "<p>Ferry</p>");
        Files.createSymbolicLink(folder.resolve("pages"), pages);
    }

    /** Who clears the folder away is not to wonder where the link leads. */
    @AfterEach
    void unlink() throws IOException {
        Files.delete(folder.resolve("pages"));
    }

    /** Returns what Java is given by the command line. */
    private List<String> given(String... arguments) throws IOException, InterruptedException {
        Path script = folder.resolve("launch");
        Files.writeString(
                script,
                "set -eu\njava=" + folder.resolve("java") + "\ncli=" + folder + "/cli-0.1.0.jar\njars=" + folder
                        + "\nlibraries=$jars/lib\narchives=" + archives + "\n. " + START + "\n");
        List<String> command = new ArrayList<>(List.of("sh", script.toString()));
        command.addAll(List.of(arguments));
        Process process = new ProcessBuilder(command)
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .start();
        List<String> lines = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8)
                .lines()
                .toList();
        assertThat(process.waitFor()).as(lines.toString()).isZero();
        assertThat(lines).endsWith(arguments);
        return lines;
    }

    @ParameterizedTest
    @CsvSource({
        "audit -s small.ndjson,              Serial,   1",
        "audit -s large.ndjson,              Parallel, 1",
        "audit --survey large.ndjson,        Parallel, 1",
        "audit --survey=large.ndjson,        Parallel, 1",
        "audit --survey=small.ndjson,        Serial,   1",
        "trim -s link.ndjson,                Parallel, 1",
        "reach -s surveys,                   Parallel, 1",
        "audit -s missing.ndjson,            Serial,   1",
        "audit -s -,                         Serial,   1",
        "audit -s,                           Serial,   1",
        "audit --publish page,               Serial,   1",
        "audit --publish pages,              Parallel, 4",
        "audit --publish=pages,              Parallel, 4",
        "audit --publish -q,                 Serial,   1",
        "reach --questions q.ndjson,         Serial,   4",
        "trim --activity logs,               Parallel, 4",
        "survey --template site.yaml,        Parallel, 1",
        "survey --inventory manifest.json,   Serial,   4",
        "checks,                             Serial,   1"
    })
    void startsTheJvmThatTheWorkIsBestDoneBy(String arguments, String collector, int tier) throws Exception {
        assertThat(given(arguments.strip().split(" ")))
                .contains("-XX:+Use" + collector + "GC", "-XX:TieredStopAtLevel=" + tier);
    }

    @Test
    void looksAtTheSurveyThatLiesHereToo() throws Exception {
        assertThat(given("audit")).contains("-XX:+UseSerialGC");
        Files.move(folder.resolve("large.ndjson"), folder.resolve("survey.ndjson"));
        assertThat(given("audit")).contains("-XX:+UseParallelGC");
        assertThat(given("audit", "-s", "small.ndjson")).contains("-XX:+UseSerialGC");
    }

    @Test
    void movesOnceWhatALargeSurveyKeeps() throws Exception {
        assertThat(given("audit", "-s", "large.ndjson")).contains("-XX:MaxTenuringThreshold=0");
        assertThat(given("audit", "-s", "small.ndjson")).doesNotContain("-XX:MaxTenuringThreshold=0");
        assertThat(given("survey", "--template", "large.ndjson")).doesNotContain("-XX:MaxTenuringThreshold=0");
    }

    @Test
    void compilesLittleWhereLittleIsDone() throws Exception {
        assertThat(given("checks")).contains("-XX:Tier3InvocationThreshold=2000");
        assertThat(given("trace", "-s", "small.ndjson", "https://www.heronferry.example/"))
                .contains("-XX:Tier3InvocationThreshold=2000");
        for (String much : List.of("audit checks", "trace --all -s small.ndjson", "trace -s large.ndjson x.example")) {
            assertThat(given(much.split(" "))).noneMatch(each -> each.startsWith("-XX:Tier3"));
        }
    }

    @Test
    void handsEveryArgumentOnAsItIs() throws Exception {
        assertThat(given("trace", "https://www.heronferry.example/a b?c=*", "", "$(id)", "--survey=a'b\"c"))
                .contains("-Dwarden.columns=none", "warden.cli.Main");
    }

    /** Returns the archives that are there when none is made any more. */
    private List<String> archivesMadeBy(String java) throws IOException, InterruptedException {
        Path made = Files.createDirectories(folder.resolve("archives"));
        archives = made.toString();
        Files.writeString(folder.resolve("cli-0.1.0.jar"), "as it was");
        Files.writeString(folder.resolve("java"), java);
        given("checks");
        for (int i = 0; i < 200; i++) {
            try (Stream<Path> files = Files.list(made)) {
                List<String> names =
                        files.map(file -> file.getFileName().toString()).toList();
                if (i > 5 && names.stream().noneMatch(name -> name.endsWith(".making"))) {
                    return names;
                }
            }
            Thread.sleep(50);
        }
        throw new AssertionError("the archive is made for ever");
    }

    /** A Java that makes an archive of nothing, and takes as long over it as other work does. */
    private static String making(String otherWork) {
        return """
                #!/bin/sh
                for each; do
                    case $each in
                        -XX:DumpLoadedClassList=*) sleep 0.1; echo classes >"${each#*=}"; exit ;;
                        -XX:SharedArchiveFile=*/archive) %s; echo archive >"${each#*=}"; exit ;;
                    esac
                done
                printf '%%s\\n' "$@"
                """.formatted(otherWork);
    }

    @Test
    void keepsTheArchiveThatItMade() throws Exception {
        assertThat(archivesMadeBy(making("true"))).singleElement().asString().endsWith(".jsa");
    }

    /** Its classes are the older ones: no JVM would take it, and it would look new for ever. */
    @Test
    void keepsNoArchiveWhoseJarWasReplacedMeanwhile() throws Exception {
        assertThat(archivesMadeBy(making("sleep 0.1; echo new >" + folder.resolve("cli-0.1.0.jar"))))
                .isEmpty();
    }
}
