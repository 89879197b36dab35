/**
 * Checks about what publishing credentials may do. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.credential;

import org.jspecify.annotations.NullMarked;
