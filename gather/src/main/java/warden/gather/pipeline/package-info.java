/**
 * Reads pipeline files and delivery pipelines into deployment steps with their places. Nothing that a file says is run, fetched or
 * followed. Who may enter: the command line. It enters the core only.
 */
@NullMarked
package warden.gather.pipeline;

import org.jspecify.annotations.NullMarked;
