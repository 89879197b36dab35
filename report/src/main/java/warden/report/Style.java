package warden.report;

import warden.core.audit.Severity;

/**
 * How text is laid out: its colours, and the width of its lines. Nothing is told by colour alone.
 *
 * @param colored whether to use escape sequences at all
 * @param width the most columns of a line that has blanks to break it at; {@link #UNBROKEN} for lines that are never broken
 */
public record Style(boolean colored, int width) {
    /** For what is piped into another program, or into a file: a sentence is a line. */
    public static final int UNBROKEN = Integer.MAX_VALUE;
    /** Where nothing tells how wide a terminal is. */
    public static final int USUAL = 100;

    private static final int NARROWEST = 60;
    private static final String RESET = "\u001b[0m";

    public Style {
        width = Math.max(width, NARROWEST);
    }

    /** Returns a style of the usual width. */
    public Style(boolean colored) {
        this(colored, USUAL);
    }

    /** Returns {@code text} marked as the worst there is: white on red. */
    String alarm(String text) {
        return wrap("1;37;41", text);
    }

    String warning(String text) {
        return wrap("1;31", text);
    }

    String notice(String text) {
        return wrap("33", text);
    }

    /** Returns {@code text} in the colour of a severity. */
    String marked(Severity severity, String text) {
        return switch (severity) {
            case CRITICAL -> alarm(text);
            case HIGH -> warning(text);
            case MEDIUM -> notice(text);
            case LOW -> text;
        };
    }

    String strong(String text) {
        return wrap("1", text);
    }

    String faint(String text) {
        return wrap("2", text);
    }

    String good(String text) {
        return wrap("32", text);
    }

    private String wrap(String code, String text) {
        return colored ? "\u001b[" + code + "m" + text + RESET : text;
    }
}
