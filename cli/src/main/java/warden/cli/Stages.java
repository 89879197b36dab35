package warden.cli;

import java.util.function.Consumer;
import warden.core.document.DisplayText;

/** Shows on a terminal what is being done, once it lasts longer than a second; nothing elsewhere, and nothing is left when it is over. */
final class Stages implements AutoCloseable {
    private static final long PATIENCE_MILLIS = 1_000;
    private static final long EVERY_MILLIS = 200;
    private static final int WIDTH = 79;

    private final Consumer<String> draw;
    private final long start = System.nanoTime();
    private String label = "";
    private int done;
    private int due;
    private boolean drawn;
    private boolean over;

    /**
     * Makes ready.
     *
     * @param draw puts text on the terminal as it is
     * @param isTerminal whether there is one
     */
    Stages(Consumer<String> draw, boolean isTerminal) {
        this.draw = draw;
        if (isTerminal) {
            Thread clock = new Thread(this::watch, "stages");
            clock.setDaemon(true);
            clock.start();
        }
    }

    private void watch() {
        try {
            Thread.sleep(PATIENCE_MILLIS);
            while (show((System.nanoTime() - start) / 1_000_000_000)) {
                Thread.sleep(EVERY_MILLIS);
            }
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }

    /** Begins a stage, such as {@code reading the survey}. */
    synchronized void at(String stage) {
        at(stage, 0);
    }

    /** Begins a stage of so many steps. */
    synchronized void at(String stage, int steps) {
        label = DisplayText.name(stage);
        done = 0;
        due = steps;
    }

    /** Counts a step of the stage. */
    synchronized void step() {
        done++;
    }

    /** Draws the stage; returns false when all is over. */
    synchronized boolean show(long seconds) {
        if (over) {
            return false;
        }
        String text = label + (due > 0 ? ", " + done + " of " + due : "") + " (" + seconds + " s)";
        String fitted = text.length() > WIDTH ? text.substring(0, WIDTH) : text;
        draw.accept("\r" + fitted + " ".repeat(WIDTH - fitted.length()));
        drawn = true;
        return true;
    }

    /** Wipes away what was drawn. */
    @Override
    public synchronized void close() {
        over = true;
        if (drawn) {
            draw.accept("\r" + " ".repeat(WIDTH) + "\r");
            drawn = false;
        }
    }
}
