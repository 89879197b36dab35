/**
 * Follows one visitor's request through name, edge, origin and bucket to the answer, by what the survey shows. Where something
 * needed is not known, every answer that it could be is kept. Who may enter: checks, reports, the stand-in, the command line.
 */
@NullMarked
package warden.core.trace;

import org.jspecify.annotations.NullMarked;
