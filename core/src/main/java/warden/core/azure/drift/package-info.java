/**
 * What changed between two states of subscriptions of the second provider: who can do what, principals and whom they trust, names. Who may enter: the
 * provider's adapter.
 */
@NullMarked
package warden.core.azure.drift;

import org.jspecify.annotations.NullMarked;
