/**
 * Zones, records and where hosts lead, whoever hosts the zone. Who may enter: every room that follows names. It enters the rooms document, survey.
 */
@NullMarked
package warden.core.names;

import org.jspecify.annotations.NullMarked;
