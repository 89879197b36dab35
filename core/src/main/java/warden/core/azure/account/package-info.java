/**
 * The second provider's subscriptions, storage accounts, containers and blobs, as a survey shows them. Who may enter: every room of the
 * provider. It enters surveys and documents.
 */
@NullMarked
package warden.core.azure.account;

import org.jspecify.annotations.NullMarked;
