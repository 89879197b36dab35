/**
 * What to change about findings in subscriptions of the second provider. Who may enter: the provider's adapter. It enters the provider's own
 * rooms, and the neutral words for changes and proposals.
 */
@NullMarked
package warden.core.azure.mend;

import org.jspecify.annotations.NullMarked;
