/**
 * Checks about what nobody uses any more. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.leftovers;

import org.jspecify.annotations.NullMarked;
