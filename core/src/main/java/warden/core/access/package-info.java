/**
 * Access as every provider's rules come down to it: what is certain, what is not known, who may do what, and questions about it as lines of
 * JSON. Who may enter: every room that asks about access. It enters the room survey.
 */
@NullMarked
package warden.core.access;

import org.jspecify.annotations.NullMarked;
