/**
 * Zones and records as the survey shows them. Judges nothing. Who may enter: sites, checks. It enters survey,
 * documents and storage.
 */
@NullMarked
package warden.core.dns;

import org.jspecify.annotations.NullMarked;
