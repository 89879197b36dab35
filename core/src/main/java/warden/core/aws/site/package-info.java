/**
 * The sites of the first provider's accounts: how buckets, edges and hosts belong together, and who publishes them. Who may enter: every room
 * of the provider that speaks of sites. It enters its accounts, reach, storage and edges.
 */
@NullMarked
package warden.core.aws.site;

import org.jspecify.annotations.NullMarked;
