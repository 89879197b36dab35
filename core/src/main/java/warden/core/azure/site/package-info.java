/**
 * The sites of the second provider's subscriptions: how web containers, edges and hosts belong together. Who may enter: traces, publishing,
 * checks, the adapter. It enters accounts, edges, zones and access.
 */
@NullMarked
package warden.core.azure.site;

import org.jspecify.annotations.NullMarked;
