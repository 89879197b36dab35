package warden.report;

/**
 * Colours for terminals. Nothing is told by colour alone.
 *
 * @param colored whether to use escape sequences at all
 */
public record Style(boolean colored) {
    private static final String RESET = "\u001b[0m";

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
