/**
 * The two roles that would do for a publisher of the second provider, and their proof. Who may enter: the adapter. It enters publishing,
 * roles and access.
 */
@NullMarked
package warden.core.azure.trim;

import org.jspecify.annotations.NullMarked;
