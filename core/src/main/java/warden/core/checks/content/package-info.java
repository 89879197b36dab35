/**
 * Checks about what is, or will be, published. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.checks.content;

import org.jspecify.annotations.NullMarked;
