/**
 * Takes a survey of a live subscription of the second provider, by plain GETs, and says how its command line prints answers. Who
 * may enter: the command line. It enters the core's table of calls, the writing of live surveys and the reading of saved answers.
 */
@NullMarked
package warden.gather.azure;

import org.jspecify.annotations.NullMarked;
