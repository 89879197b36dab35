/**
 * The second provider's zones, brought into the form in which names are followed. Who may enter: sites, checks, the adapter. It enters
 * names, accounts and edges.
 */
@NullMarked
package warden.core.azure.names;

import org.jspecify.annotations.NullMarked;
