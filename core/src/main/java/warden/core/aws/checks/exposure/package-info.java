/**
 * Checks about who can reach the storage. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.exposure;

import org.jspecify.annotations.NullMarked;
