/**
 * Zones, records and where hosts lead, whoever hosts the zone. Who may enter: every room that follows names. It enters surveys.
 */
@NullMarked
package warden.core.names;

import org.jspecify.annotations.NullMarked;
