/**
 * Reads a live account into a survey, by read-only calls through the provider's own client library. Who may enter: the command line.
 * It enters the core's survey.
 */
@NullMarked
package warden.gather.live;

import org.jspecify.annotations.NullMarked;
