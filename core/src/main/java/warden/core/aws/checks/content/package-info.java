/**
 * Checks about what is, or will be, published. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.content;

import org.jspecify.annotations.NullMarked;
