/**
 * Takes a survey of a live account of the first provider, by read-only calls through its own client library. Who may enter: the command line. It enters
 * the core's survey and the writing of live surveys.
 */
@NullMarked
package warden.gather.aws;

import org.jspecify.annotations.NullMarked;
