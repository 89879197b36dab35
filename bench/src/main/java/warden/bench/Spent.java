package warden.bench;

import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.ToDoubleFunction;

/**
 * What some work took.
 *
 * @param wall seconds from beginning to end
 * @param processor seconds of all processors together
 */
record Spent(double wall, double processor) {
    /** Fewer runs would say more about the machine's other work than about the program. */
    private static final int RUNS = 5;

    /** Work that may fail. */
    interface Work {
        void run() throws Exception;
    }

    /** Work that is timed by itself. */
    interface Timed {
        Spent run() throws Exception;
    }

    /** Does work in this process. */
    static Spent on(Work work) throws Exception {
        long start = System.nanoTime();
        long processor = processorNanos();
        work.run();
        return new Spent((System.nanoTime() - start) / 1e9, (processorNanos() - processor) / 1e9);
    }

    private static long processorNanos() {
        return ((com.sun.management.OperatingSystemMXBean) ManagementFactory.getOperatingSystemMXBean())
                .getProcessCpuTime();
    }

    /**
     * Runs a command, whose output goes nowhere; the shell counts what it and its children take.
     *
     * @throws IOException when it ends with another code than 0 or 1
     */
    static Spent by(List<String> command) throws IOException, InterruptedException {
        return by(1, command);
    }

    /** As above, for a command that is run several times on end and takes so little that the shell's clock could not tell one of them. */
    static Spent by(int times, List<String> command) throws IOException, InterruptedException {
        String script = "code=0; for i in $(seq " + times
                + "); do \"$@\" >/dev/null 2>&1 || code=$?; done; times; [ $code -le 1 ]";
        List<String> shell = new ArrayList<>(List.of("sh", "-c", script, "sh"));
        shell.addAll(command);
        long start = System.nanoTime();
        Process process = new ProcessBuilder(shell).start();
        String clock = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        int code = process.waitFor();
        double wall = (System.nanoTime() - start) / 1e9;
        if (code != 0) {
            throw new IOException(String.join(" ", command) + " failed");
        }
        double processor = Arrays.stream(clock.strip().split("\\s+"))
                .mapToDouble(Spent::seconds)
                .sum();
        return new Spent(wall / times, processor / times);
    }

    /** Reads what the shell's {@code times} prints: {@code 0m0.12s}. */
    private static double seconds(String spelled) {
        int minutes = spelled.indexOf('m');
        return 60 * Double.parseDouble(spelled.substring(0, minutes))
                + Double.parseDouble(spelled.substring(minutes + 1, spelled.length() - 1));
    }

    static Spent median(List<Spent> all) {
        return new Spent(median(all, Spent::wall), median(all, Spent::processor));
    }

    private static double median(List<Spent> all, ToDoubleFunction<Spent> value) {
        double[] sorted = all.stream().mapToDouble(value).sorted().toArray();
        return sorted[sorted.length / 2];
    }

    /** Does work five times, after the given number of times that do not count, and returns the median. */
    static Spent median(int warmUps, Timed work) throws Exception {
        List<Spent> all = new ArrayList<>();
        for (int run = -warmUps; run < RUNS; run++) {
            Spent spent = work.run();
            if (run >= 0) {
                all.add(spent);
            }
        }
        return median(all);
    }

    /** Does two things in turns, and prints what they take and the ratio of the medians. */
    static void compare(String first, Timed one, String second, Timed other, int warmUps, double bound)
            throws Exception {
        List<Spent> ones = new ArrayList<>();
        List<Spent> others = new ArrayList<>();
        for (int run = -warmUps; run < RUNS; run++) {
            Spent alone = one.run();
            Spent spent = other.run();
            if (run >= 0) {
                ones.add(alone);
                others.add(spent);
            }
        }
        Spent alone = median(ones);
        Bench.print("%s: %s", first, alone);
        Bench.print("%s: %s, %s", second, median(others), median(others).against(alone, bound));
    }

    /** Says the ratio to something else. */
    String against(Spent other, double bound) {
        return Bench.spelled(
                "ratio %.2f of wall, %.2f of processor time (bound %s)",
                wall / other.wall, processor / other.processor, bound == 0 ? "none" : Double.toString(bound));
    }

    @Override
    public String toString() {
        return Bench.spelled("%.2f s, processor %.2f s", wall, processor);
    }
}
