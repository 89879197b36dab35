package warden.cli;

import java.util.Locale;
import warden.gather.live.ReadingLog;

/** Shows how far a survey is: a bar on a terminal, nothing elsewhere. */
final class Progress implements ReadingLog.Progress {
    private static final int BAR = 30;
    private static final long EVERY_NANOS = 100_000_000L;
    private final OutputOptions options;
    private final boolean shows;
    private final long start = System.nanoTime();
    private long last;
    private boolean drawn;

    Progress(OutputOptions options, boolean isTerminal) {
        this.options = options;
        this.shows = isTerminal;
    }

    @Override
    public synchronized void at(int done, int due) {
        long now = System.nanoTime();
        if (!shows || now - last < EVERY_NANOS) {
            return;
        }
        last = now;
        drawn = true;
        int total = Math.max(due, done);
        int full = total == 0 ? 0 : BAR * done / total;
        double seconds = (now - start) / 1e9;
        String left =
                done == 0 ? "" : String.format(Locale.ROOT, ", about %.0f s left", seconds / done * (total - done));
        options.draw("\r[" + "#".repeat(full) + ".".repeat(BAR - full) + "] " + done + " of " + total + " readings"
                + left + "   ");
    }

    /** Wipes the bar away. */
    synchronized void end() {
        if (drawn) {
            options.draw("\r" + " ".repeat(BAR + 50) + "\r");
            drawn = false;
        }
    }
}
