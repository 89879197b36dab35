/**
 * Checks about index, error and redirect settings of buckets. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.hosting;

import org.jspecify.annotations.NullMarked;
