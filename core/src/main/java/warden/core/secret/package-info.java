/**
 * Recognises secrets in texts, by form and by entropy, and masks them. Who may enter: every room that shows or judges texts from outside. It
 * enters no other room.
 */
@NullMarked
package warden.core.secret;

import org.jspecify.annotations.NullMarked;
