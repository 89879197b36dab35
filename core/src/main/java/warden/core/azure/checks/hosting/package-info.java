/**
 * The second provider's checks of hosting. Who may enter: the list of its checks. It enters the kinds of things that checks ask of.
 */
@NullMarked
package warden.core.azure.checks.hosting;

import org.jspecify.annotations.NullMarked;
