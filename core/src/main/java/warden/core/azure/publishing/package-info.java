/**
 * Who publishes the second provider's sites, and what that takes. Who may enter: checks, trim, the adapter. It enters sites, principals and
 * access.
 */
@NullMarked
package warden.core.azure.publishing;

import org.jspecify.annotations.NullMarked;
