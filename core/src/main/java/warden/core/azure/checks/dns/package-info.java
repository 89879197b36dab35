/**
 * The second provider's checks of dns. Who may enter: the list of its checks. It enters the kinds of things that checks ask of.
 */
@NullMarked
package warden.core.azure.checks.dns;

import org.jspecify.annotations.NullMarked;
