/**
 * Changes that answer findings, and the proof that each of them, in its order, does no harm. Who may enter: each provider's adapter, which
 * says what to change and by which calls; reports and the command line. It enters the rooms access, audit, cloud, document, pipeline, site, survey,
 * trace.
 */
@NullMarked
package warden.core.mend;

import org.jspecify.annotations.NullMarked;
