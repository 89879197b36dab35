/**
 * Checks about the policy documents themselves. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.policy;

import org.jspecify.annotations.NullMarked;
