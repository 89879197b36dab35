/**
 * What a user or role can do anywhere in its account, as sets of actions and resources, and the known ways of giving oneself more. Who may
 * enter: checks and trim. It enters account, identity, decision, policy, catalogue, site and algebra.
 */
@NullMarked
package warden.core.aws.permission;

import org.jspecify.annotations.NullMarked;
