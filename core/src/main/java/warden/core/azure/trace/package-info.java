/**
 * A visitor's request through the second provider's edges and storage. Who may enter: the adapter and checks. It enters sites, edges and
 * accounts, and the neutral words for steps and outcomes.
 */
@NullMarked
package warden.core.azure.trace;

import org.jspecify.annotations.NullMarked;
