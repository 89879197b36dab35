/**
 * Checks about the edge in front of the storage. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.cdn;

import org.jspecify.annotations.NullMarked;
