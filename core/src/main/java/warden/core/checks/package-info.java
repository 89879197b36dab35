/**
 * The catalogue entries of questions that are put to the sites of every provider: one fact, one identifier, whoever answers it. Who may
 * enter: the checks of each provider. It enters the room audit.
 */
@NullMarked
package warden.core.checks;

import org.jspecify.annotations.NullMarked;
