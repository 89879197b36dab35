/**
 * The second provider's principals: service principals, managed identities, people and groups, with the secrets and federated credentials by
 * which they sign in. Who may enter: every room of the provider that speaks of credentials. It enters roles, accounts and surveys.
 */
@NullMarked
package warden.core.azure.principal;

import org.jspecify.annotations.NullMarked;
