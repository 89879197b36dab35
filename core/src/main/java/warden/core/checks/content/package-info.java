/**
 * Checks about what is, or will be, published, of whichever provider's sites. Who may enter: the list of checks of each provider. It enters the
 * audit, the seam and what is known of published folders.
 */
@NullMarked
package warden.core.checks.content;

import org.jspecify.annotations.NullMarked;
