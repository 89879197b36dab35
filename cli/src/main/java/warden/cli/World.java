package warden.cli;

import java.io.InputStream;
import java.time.Clock;
import warden.report.Style;

/**
 * What the program is given from outside.
 *
 * @param isTerminal whether standard output is a terminal
 * @param columns how many columns it has; of no account where it is none
 * @param noColor whether the environment asks for no colours (NO_COLOR)
 */
record World(InputStream standardInput, Clock clock, boolean isTerminal, int columns, boolean noColor) {
    /** Makes a world whose terminal, if there is one, is of the usual width. */
    World(InputStream standardInput, Clock clock, boolean isTerminal, boolean noColor) {
        this(standardInput, clock, isTerminal, Style.USUAL, noColor);
    }
}
