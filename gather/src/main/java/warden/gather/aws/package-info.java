/**
 * Takes a survey of a live account of the first provider, by read-only calls through its own client library, and says how its command line
 * prints answers. Who may enter: the command line. It enters the core's survey, the writing of live surveys and the reading of saved answers.
 */
@NullMarked
package warden.gather.aws;

import org.jspecify.annotations.NullMarked;
