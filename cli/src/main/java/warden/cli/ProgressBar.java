package warden.cli;

import java.util.Locale;

/** A bar on a terminal with counts and the time left, drawn ten times a second at most; nothing elsewhere. Safe for use by several threads. */
final class ProgressBar {
    private static final int LENGTH = 30;
    /** As long as any line that is drawn. */
    private static final int WIDTH = LENGTH + 60;

    private static final long EVERY_NANOS = 100_000_000L;

    private final OutputOptions options;
    private final boolean shows;
    private final long start = System.nanoTime();
    private long last;
    private boolean drawn;

    ProgressBar(OutputOptions options, boolean isTerminal) {
        this.options = options;
        this.shows = isTerminal;
    }

    /**
     * Draws it.
     *
     * @param what what is counted, and whatever else is told, such as {@code readings}
     */
    synchronized void draw(int done, int due, String what) {
        long now = System.nanoTime();
        if (!shows || now - last < EVERY_NANOS) {
            return;
        }
        last = now;
        drawn = true;
        int full = due == 0 ? 0 : LENGTH * done / due;
        double seconds = (now - start) / 1e9;
        String left = done == 0 ? "" : String.format(Locale.ROOT, ", about %.0f s left", seconds / done * (due - done));
        options.draw("\r[" + "#".repeat(full) + ".".repeat(LENGTH - full) + "] " + done + " of " + due + " " + what
                + left + "   ");
    }

    /** Wipes it away. */
    synchronized void end() {
        if (drawn) {
            options.draw("\r" + " ".repeat(WIDTH) + "\r");
            drawn = false;
        }
    }
}
