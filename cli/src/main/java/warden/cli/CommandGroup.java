package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/**
 * A command that runs in a process group of its own, with the program's standard streams, so that what it leaves behind can be ended with it. Where the
 * system has no way to make a group, its descendants stand for it.
 */
final class CommandGroup {
    private static final int SIGNALS = 128;
    private static final int HIGHEST_SIGNAL = 31;

    private static final int PATIENCE_SECONDS = 5;

    private final Process process;
    private final boolean isGroup;

    private CommandGroup(Process process, boolean isGroup) {
        this.process = process;
        this.isGroup = isGroup;
    }

    /**
     * Starts a command.
     *
     * @param environment all of it
     * @throws InputException when it cannot be started
     */
    static CommandGroup start(List<String> command, Map<String, String> environment) {
        Optional<String> maker = found("setsid", environment.getOrDefault("PATH", ""));
        String program = command.get(0);
        if (!program.contains("/")) {
            program = found(program, environment.getOrDefault("PATH", ""))
                    .orElseThrow(() -> cannotStart(command.get(0), "no folder of PATH has it"));
        } else if (!Files.isExecutable(Path.of(program)) || Files.isDirectory(Path.of(program))) {
            throw cannotStart(program, Files.exists(Path.of(program)) ? "it may not be run" : "there is no such file");
        }
        List<String> whole = new ArrayList<>();
        maker.ifPresent(whole::add);
        whole.add(program);
        whole.addAll(command.subList(1, command.size()));
        ProcessBuilder builder = new ProcessBuilder(whole).inheritIO();
        builder.environment().clear();
        builder.environment().putAll(environment);
        try {
            return new CommandGroup(builder.start(), maker.isPresent());
        } catch (IOException failed) {
            throw cannotStart(command.get(0), String.valueOf(failed.getMessage()));
        }
    }

    private static InputException cannotStart(String command, String why) {
        return new InputException(
                ExitCode.WRONG_COMMAND, command + ": cannot be started (" + why + "); check the command behind --");
    }

    private static Optional<String> found(String program, String path) {
        return Stream.of(path.split(":"))
                .filter(folder -> !folder.isEmpty())
                .map(folder -> Path.of(folder, program))
                .filter(file -> Files.isExecutable(file) && !Files.isDirectory(file))
                .map(Path::toString)
                .findFirst();
    }

    /** True for exit codes that say that a signal ended a command; programs that end with a code of their own use higher ones. */
    static boolean isSignal(int code) {
        return code > SIGNALS && code <= SIGNALS + HIGHEST_SIGNAL;
    }

    /** Waits for the command and returns its exit code, see {@link #isSignal}. */
    int await() throws InterruptedException {
        return process.waitFor();
    }

    /** Ends what is left of the group. */
    void endRest() {
        if (isGroup) {
            signal("KILL");
        }
        process.descendants().forEach(ProcessHandle::destroyForcibly);
    }

    /** Passes an interruption on, and ends the group where the command does not end by itself. */
    void interrupt() {
        if (!process.isAlive()) {
            endRest();
            return;
        }
        if (isGroup) {
            signal("INT");
        } else {
            process.destroy();
        }
        try {
            if (!process.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS)) {
                process.descendants().forEach(ProcessHandle::destroyForcibly);
                process.destroyForcibly();
            }
        } catch (InterruptedException again) {
            process.destroyForcibly();
            Thread.currentThread().interrupt();
        }
        endRest();
    }

    private void signal(String name) {
        try {
            new ProcessBuilder("kill", "-" + name, "--", "-" + process.pid())
                    .redirectErrorStream(true)
                    .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                    .start()
                    .waitFor();
        } catch (IOException nobodyLeft) {
            // Without the system's command for it, the descendants are ended one by one.
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
        }
    }
}
