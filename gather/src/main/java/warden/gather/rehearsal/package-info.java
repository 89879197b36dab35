/**
 * Reads records of rehearsals, line by line, without holding them. Who may enter: the command line. It enters the core's rehearsals.
 */
@NullMarked
package warden.gather.rehearsal;

import org.jspecify.annotations.NullMarked;
