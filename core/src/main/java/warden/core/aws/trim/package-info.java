/**
 * The policy that would do for a user or role of the first provider, and its proof. Who may enter: the command line and reports. It enters
 * permissions, publishing and decisions.
 */
@NullMarked
package warden.core.aws.trim;

import org.jspecify.annotations.NullMarked;
