/**
 * Recognises secrets in texts, by form and by entropy, and masks them. Who may enter: every room that shows or judges texts from outside. It
 * enters the room document.
 */
@NullMarked
package warden.core.secret;

import org.jspecify.annotations.NullMarked;
