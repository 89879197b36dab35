/**
 * What changed in meaning between two states of the same accounts. Who may enter: reports, the command line; each provider's adapter, for what
 * is alike everywhere. It enters the rooms access, audit, cloud, names, site, survey, trace.
 */
@NullMarked
package warden.core.drift;

import org.jspecify.annotations.NullMarked;
