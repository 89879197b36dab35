/**
 * The second provider's edges: classic CDN endpoints and Front Door endpoints brought into one form, with their rules. Who may enter: sites,
 * traces, checks, the adapter. It enters accounts and surveys.
 */
@NullMarked
package warden.core.azure.edge;

import org.jspecify.annotations.NullMarked;
