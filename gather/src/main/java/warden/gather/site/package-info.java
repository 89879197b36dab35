/**
 * Reads site files. Who may enter: the command line. It enters the core's sites.
 */
@NullMarked
package warden.gather.site;

import org.jspecify.annotations.NullMarked;
