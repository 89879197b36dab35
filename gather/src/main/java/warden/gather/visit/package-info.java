/**
 * Sends one plain request to a site and notes the answer: no credentials, no redirects followed, no body kept. Who may enter: the
 * command line. It enters the core's trace for addresses.
 */
@NullMarked
package warden.gather.visit;

import org.jspecify.annotations.NullMarked;
