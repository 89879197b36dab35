/**
 * Sites: which hosts, edges, buckets and credentials belong together, which pattern they follow, and what their owner
 * says they are meant to be. Who may enter: checks, reports, the command line.
 */
@NullMarked
package warden.core.site;

import org.jspecify.annotations.NullMarked;
