package warden.cli;

import java.io.ByteArrayInputStream;
import java.io.PrintWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.List;

/**
 * Runs the commands that people wait for, on the demo's survey and without a word, so that the JVM sees which classes they need: the launcher
 * makes an archive of those.
 */
public final class WarmUp {
    private static final List<List<String>> COMMANDS = List.of(
            List.of("audit", "-s", "-", "--gate", "never"),
            List.of("audit", "-s", "-", "--gate", "high", "--full"),
            List.of("audit", "-s", "-", "--gate", "never", "--format", "json"),
            List.of("audit", "-s", "-", "--gate", "never", "--show", "1"),
            List.of("audit", "-s", "-", "--gate", "never", "--only", "dns"),
            List.of("trace", "-s", "-", "--all"),
            List.of("trace", "-s", "-", "http://www.heronferry.example/"),
            List.of("reach", "-s", "-"),
            List.of("trim", "-s", "-"),
            List.of("checks"),
            List.of("checks", "open-around-cdn"),
            List.of("audit", "--help"),
            List.of("--help"),
            List.of("audit", "--no-such-option"),
            List.of("demo", "-q"));

    private WarmUp() {}

    /** Runs all commands; how they end does not matter. */
    public static void main(String[] arguments) {
        Main.setUp();
        // What a start needs before any command is known.
        Terminal.isThere();
        Terminal.columns();
        StandardOutput.ofProcess();
        byte[] survey = DemoSurvey.text().getBytes(StandardCharsets.UTF_8);
        for (boolean isTerminal : new boolean[] {false, true}) {
            for (List<String> command : COMMANDS) {
                World world = new World(new ByteArrayInputStream(survey), Clock.systemUTC(), isTerminal, false);
                PrintWriter unheard = new PrintWriter(Writer.nullWriter());
                Main.run(world, unheard, unheard, command.toArray(String[]::new));
            }
        }
        // The library of live surveys keeps threads of its own.
        System.exit(ExitCode.DONE.number());
    }
}
