/**
 * The second provider's checks of cdn. Who may enter: the list of its checks. It enters the kinds of things that checks ask of.
 */
@NullMarked
package warden.core.azure.checks.cdn;

import org.jspecify.annotations.NullMarked;
