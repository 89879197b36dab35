package warden.cli;

import java.io.InputStream;
import java.time.Clock;

/**
 * What the program is given from outside.
 *
 * @param isTerminal whether standard output is a terminal
 * @param noColor whether the environment asks for no colours (NO_COLOR)
 */
record World(InputStream standardInput, Clock clock, boolean isTerminal, boolean noColor) {}
