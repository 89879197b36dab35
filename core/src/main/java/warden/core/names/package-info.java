/**
 * Zones and records as the survey shows them. Judges nothing. Who may enter: sites, checks. It enters survey,
 * documents and storage.
 */
@NullMarked
package warden.core.names;

import org.jspecify.annotations.NullMarked;
