package warden.cli;

import java.io.Console;
import warden.report.Style;

/** What standard output leads to, as the launcher tells it: a JVM can see neither how wide a terminal is nor, before JDK 22, whether it is one. */
final class Terminal {
    /** Set by the launcher: the number of columns of the terminal, 0 where it is one of unknown width, "none" where there is none. */
    private static final String COLUMNS = "warden.columns";

    private Terminal() {}

    /** True when a person reads standard output. */
    static boolean isThere() {
        String told = System.getProperty(COLUMNS, "");
        if (!told.isEmpty()) {
            return !told.equals("none");
        }
        // Since JDK 22 there is a console where there is no terminal, too.
        Console console = System.console();
        return console != null && Runtime.version().feature() < 22;
    }

    /** Returns how many columns a line may have. */
    static int columns() {
        String told = System.getProperty(COLUMNS, "");
        int columns = isNumber(told) ? Integer.parseInt(told) : 0;
        return columns == 0 ? Style.USUAL : columns;
    }

    /** True for up to four digits; by hand, since every start asks, and the first pattern of a JVM takes longer than all the rest of it. */
    private static boolean isNumber(String told) {
        for (int i = 0; i < told.length(); i++) {
            if (told.charAt(i) < '0' || told.charAt(i) > '9') {
                return false;
            }
        }
        return !told.isEmpty() && told.length() <= 4;
    }
}
