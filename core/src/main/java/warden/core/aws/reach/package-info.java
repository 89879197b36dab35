/**
 * Everything that an actor may do with a bucket, as sets of requests; and from them the matrix of actors and abilities. Every
 * claim that something is possible carries a witness that the decision engine confirmed. Who may enter: checks, reports,
 * the command line.
 */
@NullMarked
package warden.core.aws.reach;

import org.jspecify.annotations.NullMarked;
