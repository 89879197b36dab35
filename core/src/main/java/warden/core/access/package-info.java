/**
 * Access as every provider's rules come down to it: what is certain, what is not known, and who may do what. Who may enter: every room
 * that asks about access. It enters the survey's readings.
 */
@NullMarked
package warden.core.access;

import org.jspecify.annotations.NullMarked;
