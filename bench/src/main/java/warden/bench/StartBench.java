package warden.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/** Commands from start to finish, each against a bare start of the JVM. */
final class StartBench {
    private static final String DEMO = "demo/heron-sound-ferries.ndjson";
    private static final int RUNS = 5;
    private static final int ON_END = 4;

    private StartBench() {}

    /** Runs all in turns, so that what else the machine does strikes each of them alike. */
    static void run() throws Exception {
        List<String> bare = List.of("java", "-XX:TieredStopAtLevel=1", "-version");
        Map<List<String>, Double> bounds = new LinkedHashMap<>();
        bounds.put(List.of("--version"), 1.2);
        bounds.put(List.of("checks"), 5.0);
        bounds.put(List.of("trace", "--survey", DEMO, "http://www.heronferry.example/"), 5.0);
        bounds.put(List.of("trace", "--survey", DEMO, "--all"), 5.0);
        bounds.put(List.of("reach", "--survey", DEMO), 5.0);
        bounds.put(List.of("audit", "--survey", DEMO), 7.0);
        bounds.put(List.of("demo", "--quiet"), 0.0);
        awaitArchive();
        List<Spent> starts = new ArrayList<>();
        Map<List<String>, List<Spent>> all = new LinkedHashMap<>();
        for (int run = 0; run < RUNS; run++) {
            starts.add(Spent.by(ON_END, bare));
            for (List<String> command : bounds.keySet()) {
                all.computeIfAbsent(command, key -> new ArrayList<>()).add(Spent.by(ON_END, program(command)));
            }
        }
        Spent start = Spent.median(starts);
        Bench.print("a bare JVM: %s", start);
        all.forEach((command, spent) -> Bench.print(
                "%s: %s, %s",
                String.join(" ", command),
                Spent.median(spent),
                Spent.median(spent).against(start, bounds.get(command))));
    }

    /** The first command makes the archive, behind itself. */
    static void awaitArchive() throws IOException, InterruptedException {
        Spent.by(program(List.of("checks")));
        boolean isMaking = true;
        while (isMaking) {
            Thread.sleep(1_000);
            try (Stream<Path> files = Files.list(Path.of("cli/target"))) {
                isMaking = files.anyMatch(file -> file.toString().endsWith(".making"));
            }
        }
    }

    private static List<String> program(List<String> arguments) {
        List<String> command = new ArrayList<>(List.of("./gentle-warden"));
        command.addAll(arguments);
        return command;
    }
}
