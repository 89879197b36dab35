package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Drives the built program as a process of its own, through its launcher. */
class ProgramIT {
    @TempDir
    private Path folder;

    private static final Path HOME = Path.of("..").toAbsolutePath().normalize();

    /** The program has just been built; without this mark the launcher would build it again below the running tests. */
    @BeforeAll
    static void isBuilt() throws IOException {
        Files.writeString(HOME.resolve("cli/target/.built"), "");
    }

    /** What is made behind a command must not find its folder gone. */
    @AfterEach
    void nothingIsMadeAnyMore() throws Exception {
        assertThat(isSoon(() -> names(folder.resolve("cache/gentle-warden")).stream()
                        .noneMatch(name -> name.endsWith(".making"))))
                .isTrue();
    }

    private static int run(String... arguments) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>();
        command.add(HOME.resolve("gentle-warden").toString());
        command.addAll(List.of(arguments));
        Process process = new ProcessBuilder(command)
                .directory(HOME.toFile())
                .redirectErrorStream(true)
                .start();
        String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(out).doesNotContain("Exception");
        return process.waitFor();
    }

    /** The table of exit codes, each by a command line that ends so. */
    @Test
    void exitCodesReachTheShell() throws Exception {
        String survey = "--survey=demo/heron-sound-ferries.ndjson";
        String at = "--at=2026-11-24";
        String partly = Files.writeString(
                        folder.resolve("partly.ndjson"),
                        "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\",\"takenAt\":\"2026-11-02T08:00:00Z\",\"takenBy\":\"x\"}\n")
                .toString();
        Path report = folder.resolve("report.json");
        assertThat(run("demo")).isZero();
        assertThat(run("--version")).isZero();
        assertThat(run("trim", survey)).isZero();
        assertThat(run("audit", survey, at, "--site", "www.heronferry.example", "--gate", "low", "--strict"))
                .isZero();
        assertThat(run("audit", survey, at, "--report", "json=" + report)).isEqualTo(1);
        assertThat(run("audit", survey, at, "--since", report.toString())).isZero();
        assertThat(run("trace", "http://notices.heronferry.example/", survey, "--expect", "403"))
                .isZero();
        assertThat(run("trace", "http://notices.heronferry.example/", survey, "--expect", "200"))
                .isEqualTo(1);
        assertThat(run("audit", "--bogus")).isEqualTo(2);
        assertThat(run("adit")).isEqualTo(2);
        assertThat(run("audit", survey, "-o", "demo/heron-sound-ferries.ndjson"))
                .isEqualTo(2);
        assertThat(run("survey", "--endpoint", "http://127.0.0.1:1", "-o", partly))
                .isEqualTo(2);
        assertThat(run("audit", "--survey", "nowhere.ndjson")).isEqualTo(3);
        assertThat(run("survey", "--endpoint", "http://127.0.0.1:1", "-o", folder + "/never-written.ndjson"))
                .isEqualTo(4);
        assertThat(run("audit", "--survey", partly)).isEqualTo(5);
        assertThat(run("audit", "--survey", partly, "--gate", "never", "--strict"))
                .isEqualTo(5);
        assertThat(run("audit", "--survey", partly, "--allow-unknown")).isZero();
        assertThat(run("audit", "--survey", partly, "--gate", "never")).isZero();
        try (Stream<Path> left = Files.list(folder)) {
            assertThat(left.map(Path::getFileName).map(Path::toString))
                    .containsExactlyInAnyOrder("partly.ndjson", "report.json");
        }
    }

    /** What the zip says of itself is true of what it holds. */
    @Test
    void theZipHoldsWhatItsReadmeNames() throws Exception {
        Path home = unpacked().resolve("gentle-warden-" + Main.VERSION);
        String readme = Files.readString(home.resolve("README.md"));
        List<String> commands = readme.lines()
                .filter(line -> line.startsWith("    ./gentle-warden "))
                .map(String::strip)
                .toList();
        assertThat(commands).hasSizeGreaterThan(6);
        for (String command : commands) {
            assertThat(shell(home, command)).as(command).isIn(0, 1);
        }
        String path = readme.lines()
                .filter(line -> line.contains("ln -sf"))
                .findFirst()
                .orElseThrow()
                .strip();
        assertThat(shell(
                        home,
                        "HOME=" + folder + "; " + path + " && cd / && " + folder
                                + "/.local/bin/gentle-warden checks >/dev/null"))
                .isZero();
        Matcher links = Pattern.compile("]\\(([A-Za-z/.-]+)\\)").matcher(readme);
        while (links.find()) {
            assertThat(home.resolve(links.group(1))).exists();
        }
        for (String page : List.of("guide", "surveys", "tracing", "publishing", "glossary")) {
            Matcher pages = Pattern.compile("]\\(([a-z-]+\\.(md|png))\\)")
                    .matcher(Files.readString(home.resolve("docs/" + page + ".md")));
            while (pages.find()) {
                assertThat(home.resolve("docs").resolve(pages.group(1))).exists();
            }
        }
        // The demo's last lines tell what to type next, from the same folder.
        assertThat(home.resolve("demo/heron-sound-ferries.ndjson")).exists();
    }

    /** The command that was typed runs first; what makes the next ones quick is made behind it, and leaves nothing else. */
    @Test
    void theArchiveIsMadeBehindTheFirstCommand() throws Exception {
        Path home = unpacked().resolve("gentle-warden-" + Main.VERSION);
        Path cache = folder.resolve("cache/gentle-warden");
        // Who reads the first command's output has it before the archive is made.
        assertThat(shell(home, "./gentle-warden checks | cat")).isZero();
        assertThat(names(cache)).noneMatch(name -> name.matches(".*\\.(jsa|aot)"));
        // A command that comes while the archive is in the making says nothing of it.
        assertThat(shell(home, "[ -z \"$(./gentle-warden checks 2>&1 >/dev/null)\" ]"))
                .isZero();
        assertThat(isSoon(() -> names(cache).stream().anyMatch(name -> name.matches(".*\\.(jsa|aot)"))))
                .isTrue();
        assertThat(isSoon(() -> names(cache).size() == 1)).isTrue();
        Path archive = cache.resolve(names(cache).get(0));
        FileTime made = Files.getLastModifiedTime(archive);
        assertThat(shell(home, "./gentle-warden checks")).isZero();
        assertThat(Files.getLastModifiedTime(archive)).isEqualTo(made);
    }

    @Test
    void anInterruptedArchiveLeavesNothingBehind() throws Exception {
        Path home = unpacked().resolve("gentle-warden-" + Main.VERSION);
        Path cache = folder.resolve("cache/gentle-warden");
        Process process = shellProcess(home, "exec ./gentle-warden demo");
        assertThat(isSoon(() -> names(cache).stream().anyMatch(name -> name.endsWith(".making"))))
                .isTrue();
        List<ProcessHandle> makers = process.descendants().toList();
        assertThat(makers).isNotEmpty();
        makers.forEach(ProcessHandle::destroy);
        assertThat(process.waitFor()).isZero();
        assertThat(isSoon(() -> names(cache).isEmpty())).isTrue();
    }

    /** Also where no Java works, so that it can be said which version does not. */
    @Test
    void theVersionNeedsNoJvm() throws Exception {
        Path home = unpacked().resolve("gentle-warden-" + Main.VERSION);
        Path java = Files.createDirectories(folder.resolve("broken/bin")).resolve("java");
        Files.writeString(java, "#!/bin/sh\nexit 9\n");
        assertThat(java.toFile().setExecutable(true)).isTrue();
        // With nowhere to keep it, no archive is begun that could outlast the test.
        String broken = "XDG_CACHE_HOME=/dev/null JAVA_HOME=" + folder.resolve("broken") + " ./gentle-warden ";
        assertThat(shell(home, "[ \"$(" + broken + "--version)\" = 'gentle-warden " + Main.VERSION + "' ]"))
                .isZero();
        assertThat(shell(home, broken + "-V")).isZero();
        assertThat(shell(home, broken + "checks")).isEqualTo(9);
    }

    private interface Seen {
        boolean now() throws IOException;
    }

    private static boolean isSoon(Seen seen) throws Exception {
        for (int tenths = 0; tenths < 4_000; tenths++) {
            if (seen.now()) {
                return true;
            }
            Thread.sleep(100);
        }
        return false;
    }

    private static List<String> names(Path folder) throws IOException {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(folder)) {
            return files.map(file -> file.getFileName().toString()).toList();
        }
    }

    private int shell(Path home, String command) throws IOException, InterruptedException {
        return shellProcess(home, command).waitFor();
    }

    private Process shellProcess(Path home, String command) throws IOException {
        ProcessBuilder builder = new ProcessBuilder("sh", "-c", command);
        builder.environment().put("XDG_CACHE_HOME", folder.resolve("cache").toString());
        return builder.directory(home.toFile())
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
    }

    private Path unpacked() throws IOException {
        Path zip = HOME.resolve("cli/target/gentle-warden-" + Main.VERSION + "-bin.zip");
        try (ZipInputStream in = new ZipInputStream(Files.newInputStream(zip))) {
            for (ZipEntry entry = in.getNextEntry(); entry != null; entry = in.getNextEntry()) {
                Path file = folder.resolve(entry.getName());
                if (entry.isDirectory()) {
                    Files.createDirectories(file);
                } else {
                    Files.createDirectories(file.getParent());
                    Files.copy(in, file);
                    assertThat(!file.endsWith("gentle-warden") || file.toFile().setExecutable(true))
                            .isTrue();
                }
            }
        }
        return folder;
    }
}
