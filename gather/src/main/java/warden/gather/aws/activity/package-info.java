/**
 * Reads the first provider's activity logs and sums them up, event by event, without holding them. Who may enter: the command line. It enters the
 * core only.
 */
@NullMarked
package warden.gather.aws.activity;

import org.jspecify.annotations.NullMarked;
