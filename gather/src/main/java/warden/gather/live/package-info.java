/**
 * Writes what live surveys read, line by line, and goes on with those that were interrupted. Who may enter: the live surveys of the providers, and the
 * command line. It enters the core's survey.
 */
@NullMarked
package warden.gather.live;

import org.jspecify.annotations.NullMarked;
