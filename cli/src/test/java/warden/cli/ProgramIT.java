package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;

/** Drives the built program as a process of its own. */
class ProgramIT {
    private static final Path HOME = Path.of("..").toAbsolutePath().normalize();

    private static int run(String... arguments) throws IOException, InterruptedException {
        java.util.List<String> command = new java.util.ArrayList<>();
        String classpath = HOME.resolve("cli/target/classes") + ":" + HOME.resolve("cli/target/lib") + "/*";
        command.addAll(java.util.List.of(
                ProcessHandle.current().info().command().orElse("java"), "-cp", classpath, "warden.cli.Main"));
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
    }
}
