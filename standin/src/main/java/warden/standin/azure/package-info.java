/**
 * The simulated subscription of the second provider: as the first's account, in its own protocols. Who may enter: the command line. It enters the
 * core and what the simulated clouds share.
 */
@NullMarked
package warden.standin.azure;

import org.jspecify.annotations.NullMarked;
