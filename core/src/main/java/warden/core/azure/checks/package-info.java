/**
 * The checks of the second provider's sites; each area has a room below. Who may enter: its adapter. It enters the rooms below.
 */
@NullMarked
package warden.core.azure.checks;

import org.jspecify.annotations.NullMarked;
