/**
 * The checks of the first provider's sites; each area has a room below. Who may enter: its adapter. It enters the rooms below, which enter
 * the provider's rooms.
 */
@NullMarked
package warden.core.aws.checks;

import org.jspecify.annotations.NullMarked;
