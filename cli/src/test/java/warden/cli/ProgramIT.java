package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
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
        Files.deleteIfExists(HOME.resolve("cli/target/classes.jsa"));
        Files.writeString(HOME.resolve("cli/target/.built"), "");
    }

    private static int run(String... arguments) throws IOException, InterruptedException {
        java.util.List<String> command = new java.util.ArrayList<>();
        command.add(HOME.resolve("gentle-warden").toString());
        command.addAll(java.util.List.of(arguments));
        Process process = new ProcessBuilder(command)
                .directory(HOME.toFile())
                .redirectErrorStream(true)
                .start();
        String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(out).doesNotContain("Exception");
        return process.waitFor();
    }

    @Test
    void exitCodesReachTheShell() throws Exception {
        assertThat(run("demo")).isZero();
        assertThat(run("--version")).isZero();
        assertThat(run("audit", "--survey", "demo/heron-sound-ferries.ndjson", "--at", "2026-11-24"))
                .isEqualTo(1);
        assertThat(run("audit", "--bogus")).isEqualTo(2);
        assertThat(run("audit", "--survey", "nowhere.ndjson")).isEqualTo(3);
        assertThat(run("survey", "--endpoint", "http://127.0.0.1:1", "-o", "/tmp/never-written.ndjson"))
                .isEqualTo(4);
        Path partly = Files.writeString(
                folder.resolve("partly.ndjson"),
                "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\",\"takenAt\":\"2026-11-02T08:00:00Z\",\"takenBy\":\"x\"}\n");
        assertThat(run("audit", "--survey", partly.toString())).isZero();
        assertThat(run("audit", "--survey", partly.toString(), "--strict")).isEqualTo(5);
        assertThat(run("trim", "--survey", "demo/heron-sound-ferries.ndjson")).isZero();
    }
}
